package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.JournalEntry;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.Ownership;
import dev.pinwright.client.model.Position;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.SiteDraft;
import dev.pinwright.client.model.TrailWanted;
import dev.pinwright.protocol.dm.Positions;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.sandbox.device.Agent;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** Where a device of the organisation was, while a profile asks for it; of a personal one never. */
class TrailTest {
  private static dev.pinwright.core.device.Position at(Instant when, double latitude) {
    return new dev.pinwright.core.device.Position(
        when,
        latitude,
        -20.589,
        Optional.of(8.0),
        dev.pinwright.core.device.Position.Source.SATELLITE);
  }

  private static long points(Rig rig, String id) {
    try {
      return rig.client.devices().getTrail(id).getPoints();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  @Test
  void isKeptWhileAProfileAsksForItAndLookedAtByThoseWhoSaySo() throws Exception {
    try (Rig rig = new Rig();
        Browser b = new Browser()) {
      Desk desk = new Desk(rig);
      Shell shell = new Shell(rig);
      shell.type(Rig.PASSWORD + "\n", "signin", "--login", "owner", "--password-stdin");
      Agent tablet = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 3).getLink());
      String id = desk.devices(tablet.screen().serial(), 1).get(0).getId();
      Instant now = Instant.now();
      Profile trail =
          desk.profile(
              "At the dig", Map.of("location.trail", true, "location.days", 2), Desk.device(id));
      desk.publish(trail);
      Rig.eventually(() -> tablet.screen().noticed().get("trail"), "true"::equals);
      // the first is too young for another to be noted by itself, the last older than is kept
      tablet.device().be(at(now.minus(Duration.ofMinutes(10)), 47.1985));
      tablet.device().be(at(now.minus(Duration.ofHours(2)), 47.19));
      tablet.device().be(at(now.minus(Duration.ofDays(3)), 47.18));
      tablet.checkIn(false);
      Rig.eventually(() -> points(rig, id), Long.valueOf(2)::equals);

      rig.client
          .organisation()
          .addSite(
              new SiteDraft()
                  .name("Lake Orre")
                  .latitude(new BigDecimal("47.1985"))
                  .longitude(new BigDecimal("-20.5890")));
      assertThat(rig.client.devices().lookAtTrail(id, new TrailWanted()).getItems())
          .extracting(Position::getLatitude)
          .as("the latest first, and nothing from before the days it is kept for")
          .containsExactly(47.1985, 47.19);
      assertThat(
              rig.client
                  .devices()
                  .lookAtTrail(
                      id,
                      new TrailWanted()
                          .to(now.minus(Duration.ofMinutes(90)).atOffset(ZoneOffset.UTC)))
                  .getItems())
          .hasSize(1);
      assertThat(shell.ok("device", "trail", tablet.screen().serial()))
          .contains("47.19850", "8 m", "satellite");
      Path gpx = rig.home.resolve("trail.gpx");
      shell.ok("device", "trail", tablet.screen().serial(), "--out", gpx.toString());
      assertThat(Files.readString(gpx)).containsSubsequence("47.1900000", "47.1985000");
      assertThat(shell.run("device", "trail", tablet.screen().serial(), "--out", "trail.txt").err())
          .contains("Name the file .gpx or .geojson");
      assertThat(rig.client.records().listJournal("device:" + id, null, null, 50).getItems())
          .extracting(JournalEntry::getSummary)
          .filteredOn(s -> s.startsWith("Trail of "))
          .hasSize(4)
          .noneMatch(s -> s.contains("-20.589"));

      b.open(rig.consoleUrl());
      b.type("Login", "owner");
      b.type("Password", Rig.PASSWORD);
      b.press("Sign in");
      b.read("Today");
      b.open(rig.consoleUrl() + "/devices/" + id);
      b.press("Look at the trail");
      b.read("Lake Orre");
      b.see(By.cssSelector("[role=region][aria-label^='Way of'] path"));

      desk.publish(desk.change(trail, Map.of("location.trail", false)));
      Rig.eventually(() -> tablet.screen().noticed().get("trail"), t -> !"true".equals(t));
      tablet.device().be(at(now, 47.3));
      tablet.checkIn(false);
      Rig.eventually(() -> desk.card(id).getUpToDate(), Boolean.TRUE::equals);
      assertThat(points(rig, id)).isEqualTo(2);
    }
  }

  @Test
  void aLongTrailComesAtOnceAndNoFileLeavesAnyOfItOut() throws Exception {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      Agent tablet = rig.join(rig.unpackAutomatic("T10"), desk.kiosks("Kiosks", 3).getLink());
      String id = desk.devices(tablet.screen().serial(), 1).get(0).getId();
      Sql.run(rig, points(id, 1, 8_640));
      TrailWanted month = new TrailWanted().limit(10_000);
      assertThat(rig.client.devices().lookAtTrail(id, month))
          .satisfies(
              page -> {
                assertThat(page.getItems()).hasSize(8_640);
                assertThat(page.getNext()).isNull();
              });
      assertThatThrownBy(() -> rig.client.devices().lookAtTrail(id, month.limit(10_001)))
          .hasMessageContaining("limit has to be from 1 to 10000");
      assertThat(rig.client.devices().lookAtTrail(id, new TrailWanted()).getItems()).hasSize(200);

      Sql.run(rig, points(id, 8_641, 50_001));
      assertThatThrownBy(() -> rig.client.devices().getTrailGpx(id, null, null))
          .hasMessageContaining("more than 50000 points");
      OffsetDateTime from =
          OffsetDateTime.parse(
              Sql.text(
                  rig,
                  "select to_char(at at time zone 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS.MS\"Z\"')"
                      + " from device_position order by at desc offset 49999 limit 1"));
      assertThat(Files.readString(rig.client.devices().getTrailGpx(id, from, null).toPath()))
          .satisfies(gpx -> assertThat(gpx.split("<trkpt ")).hasSize(50_001));
    }
  }

  /** So many points, one every five minutes, back from now; the first and the last as numbers. */
  static String points(String id, int first, int last) {
    return "insert into device_position select '%s', date_trunc('second', now()) - n * interval '5 minutes', 47.2 + sin(n / 60.0) / 20, -20.5 + cos(n / 47.0) / 10, 8, 'satellite', now() + interval '1 day' from generate_series(%d, %d) n"
        .formatted(id, first, last);
  }

  @Test
  void ofAPersonalDeviceNothingIsKeptWhoeverSendsIt() throws Exception {
    try (Rig rig = new Rig()) {
      Desk desk = new Desk(rig);
      EnrollmentProfile own =
          desk.enrollment(
              new EnrollmentProfileDraft()
                  .name("Own")
                  .ownership(Ownership.PERSONAL)
                  .mode(Mode.WORK_PROFILE));
      var open =
          rig.client.intake().addInvitation(new InvitationDraft().profileId(own.getId()).uses(3));
      X509Certificate root =
          Pki.certificate(rig.client.intake().getJoinFile(open.getId()).getRoot());
      Wire stranger = new Wire(rig.deviceUrl(), root, null, null);
      Wire.Joined personal = stranger.joined(open.getCode(), "OWN-0001", root);
      desk.publish(desk.profile("All", Map.of("location.trail", true), Desk.everyone()));
      tell(personal);
      assertThat(points(rig, personal.id())).isZero();
      assertThat(rig.client.devices().getTrail(personal.id()).getPersonal()).isTrue();
      assertThatThrownBy(() -> rig.client.devices().lookAtTrail(personal.id(), new TrailWanted()))
          .hasMessageContaining("is its holder's own");

      Wire.Joined ours = stranger.joined(desk.kiosks("Kiosks", 3).getCode(), "OUR-0001", root);
      tell(ours);
      assertThat(points(rig, ours.id())).as("a device of ours, which is asked").isEqualTo(1);
    }
  }

  private static void tell(Wire.Joined device) {
    Instant now = Instant.now();
    String told =
        Positions.write(
            List.of(
                at(now.minus(Duration.ofMinutes(5)), 47.1),
                at(now.plus(Duration.ofDays(1)), 47.1)));
    String body =
        "<Alert><CmdID>1</CmdID><Data>1201</Data></Alert>"
            + "<Alert><CmdID>2</CmdID><Data>1226</Data><Item><Meta><Type"
            + " xmlns=\"syncml:metinf\">urn:pinwright:at:position:1</Type></Meta><Data>"
            + told.replace("\"", "&quot;")
            + "</Data></Item></Alert>";
    assertThat(device.wire().dm(Wire.message("1", 1, body)).status()).isEqualTo(200);
  }
}
