package dev.pinwright.core.policy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.pinwright.core.app.InstallOptions;
import dev.pinwright.core.app.Presence;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.catalog.SettingValue.Flag;
import dev.pinwright.core.catalog.SettingValue.Items;
import dev.pinwright.core.catalog.SettingValue.Text;
import dev.pinwright.core.catalog.SettingValue.Whole;
import dev.pinwright.core.device.DeviceTraits;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.OsVersion;
import dev.pinwright.core.policy.Effective.Resolved;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import org.junit.jupiter.api.Test;

class ResolverTest {
  private final Resolver resolver = new Resolver(Samples.CATALOG);

  private static Layer layer(
      String id, int nearness, long publication, Map<String, SettingValue> values) {
    return new Layer(new Layer.Source(id, "Profile " + id, 1), nearness, publication, values);
  }

  private Resolved resolve(String key, SettingValue... said) {
    List<Layer> layers = new ArrayList<>();
    for (int i = 0; i < said.length; i++) {
      layers.add(layer("p" + i, 1, i, Map.of(key, said[i])));
    }
    return resolver.resolve(layers, Samples.TABLET).settings().get(0);
  }

  @Test
  void theSmallerNumberWinsWhereLeastIsStricter() {
    Resolved r = resolve("s.lock-after", new Whole(10), new Whole(2), new Whole(5));
    assertThat(r.value()).isEqualTo(new Whole(2));
    assertThat(r.losers()).hasSize(2);
    assertThat(r.losers().get(0).reason()).isEqualTo("a lower value is stricter and wins");
  }

  @Test
  void theChoiceListedLastWinsWhereGreatestIsStricter() {
    assertThat(resolve("s.kind", new Text("letters"), new Text("digits")).value())
        .isEqualTo(new Text("letters"));
  }

  @Test
  void flagsAreOnIfAnyOrOnlyIfAll() {
    assertThat(resolve("s.camera-off", new Flag(false), new Flag(true)).value())
        .isEqualTo(new Flag(true));
    assertThat(resolve("s.roaming", new Flag(false), new Flag(true)).value())
        .isEqualTo(new Flag(false));
  }

  @Test
  void listsAreJoinedOrCutDown() {
    Items ab = new Items(List.of("a", "b"));
    Items bc = new Items(List.of("b", "c"));
    assertThat(resolve("s.blocked", ab, bc).value()).isEqualTo(new Items(List.of("a", "b", "c")));
    assertThat(resolve("s.allowed", ab, bc).value()).isEqualTo(new Items(List.of("b")));
  }

  @Test
  void theNearerAssignmentWinsOverTheLaterPublication() {
    Effective e =
        resolver.resolve(
            List.of(
                layer("far", 1, 9, Map.of("s.text", new Text("far"))),
                layer("near", 5, 1, Map.of("s.text", new Text("near")))),
            Samples.TABLET);
    Resolved r = e.settings().get(0);
    assertThat(r.value()).isEqualTo(new Text("near"));
    assertThat(r.conflict()).isFalse();
    assertThat(r.losers().get(0).reason()).isEqualTo("a nearer assignment wins");
  }

  @Test
  void theEntriesOfACollectionStandBesideEachOther() {
    Effective e =
        resolver.resolve(
            List.of(
                layer("far", 1, 1, Map.of("n[staff].name", new Text("Staff"))),
                layer("near", 5, 2, Map.of("n[guests].name", new Text("Guests")))),
            Samples.TABLET);
    assertThat(e.settings())
        .extracting(r -> r.setting().path(), Resolved::value)
        .containsExactly(
            tuple("./Vendor/Pinwright/Policy/n/guests/name", new Text("Guests")),
            tuple("./Vendor/Pinwright/Policy/n/staff/name", new Text("Staff")));
  }

  @Test
  void anEntryIsTheNearestProfilesAloneAndNothingIsMixedIn() {
    Effective e =
        resolver.resolve(
            List.of(
                layer(
                    "far",
                    1,
                    9,
                    Map.of("n[a].name", new Text("Old"), "n[a].secret", new Text("far secret"))),
                layer("near", 5, 1, Map.of("n[a].name", new Text("New")))),
            Samples.TABLET);
    assertThat(e.settings()).singleElement().extracting(Resolved::value).isEqualTo(new Text("New"));
    assertThat(e.settings().get(0).losers().get(0).reason())
        .isEqualTo("a nearer assignment wins, with all of the entry");
  }

  @Test
  void whereAChoiceDecidesItDoesSoBeforeNearnessAndItsSettingsAreApartFromThePolicy() {
    Effective e =
        resolver.resolve(
            List.of(
                layer("far", 1, 1, Map.of("apps[rota].presence", new Text("forbidden"))),
                layer(
                    "near",
                    5,
                    2,
                    Map.of(
                        "apps[rota].presence",
                        new Text("required"),
                        "apps[rota].wifi-only",
                        new Flag(true))),
                layer("text", 5, 2, Map.of("s.text", new Text("hello")))),
            Samples.TABLET);
    assertThat(WantedApp.among(e))
        .singleElement()
        .satisfies(
            app -> {
              assertThat(app.presence()).isEqualTo(Presence.FORBIDDEN);
              assertThat(app.options()).isEqualTo(InstallOptions.PLAIN);
            });
    assertThat(e.apart().get(0).losers().get(0).reason())
        .isEqualTo("what is stricter wins, however near, with all of the entry");
    assertThat(e.apart().get(0).conflict()).isFalse();
    assertThat(e.compile().leaves()).hasSize(1);
    assertThat(e.wanted().leaves()).hasSize(1);
  }

  @Test
  void whereTheChoiceIsTheSameTheNearerWins() {
    Effective e =
        resolver.resolve(
            List.of(
                layer(
                    "far",
                    1,
                    9,
                    Map.of(
                        "apps[rota].presence",
                        new Text("required"),
                        "apps[rota].version",
                        new Text("1.0 (1)"))),
                layer(
                    "near",
                    5,
                    1,
                    Map.of(
                        "apps[rota].presence",
                        new Text("required"),
                        "apps[rota].version",
                        new Text("1.1 (2)")))),
            Samples.TABLET);
    assertThat(WantedApp.among(e).get(0).release()).contains(2L);
    assertThat(WantedApp.among(e).get(0).version()).isEqualTo("1.1");
  }

  @Test
  void equallyNearEntriesThatDisagreeAreAConflictTheLaterOneWins() {
    Resolved r = resolve("n[a].name", new Text("first"), new Text("second"));
    assertThat(r.value()).isEqualTo(new Text("second"));
    assertThat(r.conflict()).isTrue();
  }

  @Test
  void anEntryADeviceCannotTakeWholeIsNotTakenInPart() {
    Effective e =
        resolver.resolve(
            List.of(
                layer(
                    "p",
                    1,
                    1,
                    Map.of(
                        "n[a].name", new Text("Staff"),
                        "n[a].fast", new Flag(true),
                        "n[b].name", new Text("Guests")))),
            Samples.TABLET);
    assertThat(e.settings()).extracting(r -> r.setting().key()).containsExactly("n[b].name");
    assertThat(e.unsupported())
        .extracting(u -> u.setting().key(), Effective.Unsupported::reason)
        .containsExactly(
            tuple("n[a].fast", "needs tarn 8.0 or later"),
            tuple("n[a].name", "needs tarn 8.0 or later"));
  }

  @Test
  void equallyNearProfilesThatDisagreeAreAConflictTheLaterOneWins() {
    Resolved r = resolve("s.text", new Text("first"), new Text("second"));
    assertThat(r.value()).isEqualTo(new Text("second"));
    assertThat(r.conflict()).isTrue();
    assertThat(resolve("s.text", new Text("same"), new Text("same")).conflict()).isFalse();
  }

  @Test
  void whatADeviceCannotTakeIsLeftOutAndSaid() {
    Effective e =
        resolver.resolve(
            List.of(layer("p", 1, 1, Map.of("s.length", new Whole(8)))),
            new DeviceTraits("tarn", Mode.STANDARD, OsVersion.parse("7.2")));
    assertThat(e.settings()).isEmpty();
    assertThat(e.unsupported().get(0).reason()).isEqualTo("works on tarn only when supervised");
  }

  @Provide
  Arbitrary<List<Layer>> layers() {
    Arbitrary<Map<String, SettingValue>> values =
        Combinators.combine(
                Arbitraries.integers().between(1, 60).optional(),
                Arbitraries.integers().between(4, 16).optional(),
                Arbitraries.of(true, false).optional(),
                Arbitraries.of(true, false).optional(),
                Arbitraries.of("a", "b", "c").list().uniqueElements().optional(),
                Arbitraries.of("a", "b", "c").list().uniqueElements().optional(),
                Arbitraries.of("x", "y").optional())
            .as(
                (lock, length, camera, roaming, blocked, allowed, text) -> {
                  Map<String, SettingValue> m = new HashMap<>();
                  lock.ifPresent(v -> m.put("s.lock-after", new Whole(v)));
                  length.ifPresent(v -> m.put("s.length", new Whole(v)));
                  camera.ifPresent(v -> m.put("s.camera-off", new Flag(v)));
                  roaming.ifPresent(v -> m.put("s.roaming", new Flag(v)));
                  blocked.ifPresent(v -> m.put("s.blocked", new Items(v)));
                  allowed.ifPresent(v -> m.put("s.allowed", new Items(v)));
                  text.ifPresent(v -> m.put("s.text", new Text(v)));
                  return m;
                });
    return Combinators.combine(values, Arbitraries.of(1, 3, 5), Arbitraries.longs().between(1, 4))
        .as((v, near, at) -> layer("", near, at, v))
        .list()
        .ofMaxSize(6)
        .map(
            list -> {
              List<Layer> named = new ArrayList<>();
              for (Layer l : list) {
                named.add(layer("p" + named.size(), l.nearness(), l.publication(), l.values()));
              }
              return named;
            });
  }

  @Property
  void resolvingDoesNotDependOnOrder(@ForAll("layers") List<Layer> layers, @ForAll long seed) {
    List<Layer> shuffled = new ArrayList<>(layers);
    Collections.shuffle(shuffled, new Random(seed));
    assertThat(resolver.resolve(shuffled, Samples.TABLET))
        .isEqualTo(resolver.resolve(layers, Samples.TABLET));
  }

  @Property
  void theStricterNeverLoosens(@ForAll("layers") List<Layer> layers) {
    for (Resolved r : resolver.resolve(layers, Samples.TABLET).settings()) {
      for (Layer l : layers) {
        SettingValue said = l.values().get(r.setting().key());
        if (said == null) {
          continue;
        }
        switch (r.setting().merge()) {
          case LEAST -> assertThat(whole(r.value())).isLessThanOrEqualTo(whole(said));
          case GREATEST -> assertThat(whole(r.value())).isGreaterThanOrEqualTo(whole(said));
          case ANY -> assertThat(on(r.value()) || !on(said)).isTrue();
          case ALL -> assertThat(!on(r.value()) || on(said)).isTrue();
          case UNION -> assertThat(items(r.value())).containsAll(items(said));
          case INTERSECTION -> assertThat(items(said)).containsAll(items(r.value()));
          case NEAREST -> {
            // nearness decides, not strictness
          }
        }
      }
    }
  }

  @Property
  void addingAProfileNeverTakesASettingAway(@ForAll("layers") List<Layer> layers) {
    for (int i = 0; i < layers.size(); i++) {
      List<Layer> fewer = new ArrayList<>(layers);
      fewer.remove(i);
      assertThat(resolver.resolve(layers, Samples.TABLET).compile().leaves().keySet())
          .containsAll(resolver.resolve(fewer, Samples.TABLET).compile().leaves().keySet());
    }
  }

  private static long whole(SettingValue v) {
    return ((Whole) v).number();
  }

  private static boolean on(SettingValue v) {
    return ((Flag) v).on();
  }

  private static List<String> items(SettingValue v) {
    return ((Items) v).items();
  }
}
