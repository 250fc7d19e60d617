package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.HouseMap;
import dev.pinwright.client.model.HouseMapDraft;
import dev.pinwright.client.model.MapCluster;
import dev.pinwright.client.model.MapKind;
import dev.pinwright.client.model.MapSeen;
import dev.pinwright.client.model.Placement;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.core.device.Position;
import dev.pinwright.sandbox.device.Agent;
import java.math.BigDecimal;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The map: what it is drawn on, who is where, who came and left, and who looked. */
class MapTest {
  private static Rig rig;
  private static Desk desk;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static BigDecimal n(double d) {
    return BigDecimal.valueOf(d);
  }

  private static MapSeen island(PinwrightClient by, int zoom) throws ApiException {
    return by.acting().lookAtMap(n(47.1), n(-20.8), n(47.3), n(-20.1), n(zoom));
  }

  private static List<List<BigDecimal>> square(double lat, double lon, double half) {
    return List.of(
        List.of(n(lon - half), n(lat - half)),
        List.of(n(lon + half), n(lat - half)),
        List.of(n(lon + half), n(lat + half)),
        List.of(n(lon - half), n(lat + half)));
  }

  private static void locate(Agent tablet, String id, double lat, double lon) throws Exception {
    tablet
        .device()
        .be(new Position(Instant.now(), lat, lon, Optional.of(12.0), Position.Source.WIFI));
    String dispatch =
        desk.order(
                new DispatchOrder()
                    .command(CommandKey.LOCATE)
                    .reason("stock-taking")
                    .targets(List.of(Desk.device(id))),
                UUID.randomUUID().toString())
            .getId();
    Rig.eventually(() -> desk.dispatch(dispatch).getEnded(), Boolean.TRUE::equals);
  }

  private static List<String> activity(String id) throws ApiException {
    return rig.client.devices().getDeviceActivity(id, null, 50).getItems().stream()
        .map(a -> a.getText())
        .toList();
  }

  @Test
  void devicesComeToASiteAndLeaveItAndAreOnTheMapWhereTheyWereLast() throws Exception {
    Site quay =
        rig.client
            .organisation()
            .addSite(
                new SiteDraft()
                    .name("Norhaven quay")
                    .latitude(n(47.2335))
                    .longitude(n(-20.357))
                    .outline(square(47.2335, -20.357, 0.003)));
    assertThat(quay.getOutline()).hasSize(4);
    assertThatThrownBy(
            () ->
                rig.client
                    .organisation()
                    .addSite(
                        new SiteDraft()
                            .name("Line")
                            .outline(square(47.2, -20.4, 0.01).subList(0, 2))))
        .hasMessageContaining("3 to 200 corners");
    Agent a = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 5).getLink());
    Agent b = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("More", 5).getLink());
    String one = desk.devices(a.screen().serial(), 1).get(0).getId();
    String two = desk.devices(b.screen().serial(), 1).get(0).getId();
    for (String id : List.of(one, two)) {
      rig.client
          .devices()
          .placeDevice(
              id, Desk.onVersion(desk.card(id).getVersion()), new Placement().siteId(quay.getId()));
    }
    locate(a, one, 47.2336, -20.3571);
    assertThat(activity(one)).contains("It came to Norhaven quay");
    locate(b, two, 47.2334, -20.3569);
    assertThat(rig.client.acting().listAway().getItems())
        .as("both are where they belong")
        .isEmpty();
    MapSeen far = island(rig.client, 8);
    assertThat(far.getDevices()).isEqualTo(2);
    assertThat(far.getItems()).singleElement().extracting(MapCluster::getDevices).isEqualTo(2L);
    locate(a, one, 47.1890, -20.4480);
    assertThat(activity(one)).contains("It left Norhaven quay");
    assertThat(rig.client.acting().listAway().getItems())
        .singleElement()
        .satisfies(
            away -> {
              assertThat(away.getDeviceId()).isEqualTo(one);
              assertThat(away.getSite()).isEqualTo("Norhaven quay");
              assertThat(away.getNow()).isNull();
              assertThat(away.getHomeAt()).as("when it was last there").isBefore(away.getAt());
            });
    MapSeen near = island(rig.client, 13);
    assertThat(near.getItems())
        .extracting(MapCluster::getDeviceId)
        .containsExactlyInAnyOrder(one, two);
    assertThat(near.getItems())
        .filteredOn(c -> one.equals(c.getDeviceId()))
        .singleElement()
        .satisfies(c -> assertThat(c.getAccuracy()).isEqualByComparingTo("12"));
    assertThatThrownBy(
            () -> rig.client.acting().lookAtMap(n(47.3), n(-20.8), n(47.1), n(-20.1), n(8)))
        .hasMessageContaining("in degrees");

    // the outline stays where a site is written without one, and goes where it is taken away
    Site kept =
        rig.client
            .organisation()
            .changeSite(
                quay.getId(),
                Desk.onVersion(quay.getVersion()),
                new SiteDraft().name("The quay").latitude(n(47.2335)).longitude(n(-20.357)));
    assertThat(kept.getOutline()).hasSize(4);
    Site bare =
        rig.client
            .organisation()
            .changeSite(
                quay.getId(),
                Desk.onVersion(kept.getVersion()),
                new SiteDraft().name("The quay").outline(List.of()));
    assertThat(bare.getOutline()).isEmpty();

    // as files, the earliest first
    String gpx = Files.readString(rig.client.devices().getTrailGpx(one, null, null).toPath());
    DocumentBuilderFactory xml = DocumentBuilderFactory.newInstance();
    xml.setNamespaceAware(true);
    var points =
        xml.newDocumentBuilder()
            .parse(new java.io.ByteArrayInputStream(gpx.getBytes()))
            .getElementsByTagNameNS("http://www.topografix.com/GPX/1/1", "trkpt");
    assertThat(points.getLength()).isEqualTo(2);
    assertThat(points.item(0).getAttributes().getNamedItem("lat").getTextContent())
        .isEqualTo("47.2336000");
    JsonNode json =
        new ObjectMapper().readTree(rig.client.devices().getTrailGeojson(one, null, null));
    assertThat(json.path("type").asText()).isEqualTo("FeatureCollection");
    assertThat(json.path("features")).hasSize(2);
  }

  @Test
  void whoLooksIsToldInTheJournalOnceAnHourAndWhoMayNotDoesNot() throws Exception {
    PinwrightClient bo = rig.another("bo", "operator");
    island(bo, 8);
    island(bo, 9);
    assertThat(rig.client.records().listJournal("site:map", null, null, 50).getItems())
        .filteredOn(e -> e.getActor().equals("bo"))
        .singleElement()
        .satisfies(e -> assertThat(e.getSummary()).isEqualTo("Looked at where devices are"));
    PinwrightClient tova = rig.another("tova", "helpdesk");
    assertThatThrownBy(() -> island(tova, 8)).hasMessageContaining("role operator");
    assertThatThrownBy(() -> tova.acting().listAway()).hasMessageContaining("role operator");
    assertThatThrownBy(() -> tova.devices().getTrailGpx("x", null, null))
        .hasMessageContaining("role operator");
  }

  @Test
  void theMapIsChosenAndItsPicturesAloneMayBeLoaded() throws Exception {
    HouseMap none = rig.client.acting().getMap();
    String version = Desk.onVersion(none.getVersion());
    assertThatThrownBy(
            () ->
                rig.client
                    .acting()
                    .chooseMap(
                        version,
                        new HouseMapDraft().kind(MapKind.XYZ).address("https://tiles.example/x")))
        .hasMessageContaining("{x}, {y} and {z}");
    assertThatThrownBy(
            () ->
                rig.client
                    .acting()
                    .chooseMap(
                        version,
                        new HouseMapDraft()
                            .kind(MapKind.XYZ)
                            .address("javascript:alert(1)//{x}{y}{z}")))
        .hasMessageContaining("https://");
    HouseMap drawing =
        rig.client
            .acting()
            .chooseMap(
                version,
                new HouseMapDraft()
                    .kind(MapKind.DRAWING)
                    .attribution("Drawn by us")
                    .drawing(Map.of("type", "FeatureCollection", "features", List.of())));
    assertThat(drawing.getDrawing()).containsEntry("type", "FeatureCollection");
    rig.client
        .acting()
        .chooseMap(
            Desk.onVersion(drawing.getVersion()),
            new HouseMapDraft()
                .kind(MapKind.XYZ)
                .address("https://tiles.vellmar.example/{z}/{x}/{y}.png"));
    HttpClient http = HttpClient.newHttpClient();
    HttpRequest page = HttpRequest.newBuilder(URI.create(rig.consoleUrl() + "/")).build();
    Rig.eventually(
        () -> policy(http, page),
        p -> p.contains("img-src 'self' data: blob: https://tiles.vellmar.example;"));
  }

  private static String policy(HttpClient http, HttpRequest page) {
    try {
      return http.send(page, BodyHandlers.discarding())
          .headers()
          .firstValue("Content-Security-Policy")
          .orElse("");
    } catch (java.io.IOException | InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }
}
