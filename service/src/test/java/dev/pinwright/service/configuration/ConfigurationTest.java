package dev.pinwright.service.configuration;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.Words;
import dev.pinwright.core.configuration.Step;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.Node;
import dev.pinwright.service.proposal.HouseThresholds;
import dev.pinwright.service.proposal.Proposals;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The whole of rules, intake and organisation as files. */
class ConfigurationTest {
  private static final Map<String, Map<String, Map<String, String>>> SECRETS =
      Map.of(
          "profile", Map.of("Galleries", Map.of("wifi[staff].passphrase", "lantern over the quay")),
          "enrollment-profile", Map.of("Own phones", Map.of("passphrase", "a quiet word")));

  /** A small house, as the service itself writes it: the files of {@code house}. */
  private static final Map<String, String> HOUSE = house(Path.of("src/test/resources/house"));

  private Node node;
  private Configurations configurations;

  @BeforeEach
  void start() {
    node = new Node();
    configurations = node.pinwright.configurations();
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private static Configurations.Load load(Map<String, String> texts, boolean delete) {
    return new Configurations.Load(
        texts, Map.of(), SECRETS, Optional.of(delete), Optional.empty(), Optional.empty());
  }

  private static Configurations.Load plain(Map<String, String> texts, boolean delete) {
    return new Configurations.Load(
        texts, Map.of(), Map.of(), Optional.of(delete), Optional.empty(), Optional.empty());
  }

  private static Map<String, String> with(String path, String text) {
    Map<String, String> texts = new TreeMap<>(HOUSE);
    texts.put(path, text);
    return texts;
  }

  private static Map<String, String> house(Path folder) {
    try (Stream<Path> files = Files.walk(folder)) {
      Map<String, String> texts = new TreeMap<>();
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        texts.put(folder.relativize(file).toString(), Files.readString(file));
      }
      return texts;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private Map<String, String> written() {
    return configurations.write(READER).texts();
  }

  private void house() {
    configurations.load(OWNER, load(HOUSE, false));
  }

  private static String told(List<Step> steps) {
    return steps.stream()
        .map(
            s ->
                Words.of(s.verb())
                    + " "
                    + Words.of(s.part())
                    + " "
                    + s.name()
                    + s.differences().stream()
                        .map(
                            d ->
                                " "
                                    + d.where()
                                    + " "
                                    + d.before().orElse("-")
                                    + ">"
                                    + d.after().orElse("-"))
                        .collect(Collectors.joining(",")))
        .collect(Collectors.joining("; "));
  }

  @Test
  void whatIsLoadedIsWrittenOutAgainToTheLetter() {
    house();
    assertThat(written()).containsExactlyInAnyOrderEntriesOf(HOUSE);
    assertThat(configurations.rehearse(OWNER, plain(HOUSE, true)).steps())
        .as("and the same again changes nothing")
        .isEmpty();
  }

  @Test
  void rehearsingStoresNothing() {
    var r = configurations.rehearse(OWNER, load(HOUSE, false));
    assertThat(r.steps()).hasSize(19).allMatch(s -> s.verb() == Step.Verb.ADD);
    assertThat(r.steps()).extracting(Step::file).contains("rules/kits/gallery-kit.yaml");
    assertThat(written()).hasSize(8).containsEntry("rules/groups.yaml", "[]\n");
    assertThat(node.pinwright.journal().page(OWNER, "", "", FIRST).items())
        .extracting(e -> e.entry().action())
        .doesNotContain("configuration.loaded");
  }

  @Test
  void whatIsWrongIsNamedWithItsFileAndNothingIsWritten() {
    Map<String, String> before = written();
    assertThatThrownBy(
            () ->
                configurations.load(
                    OWNER, load(with("rules/groups.yaml", "- name: A\n  rul: x\n"), false)))
        .hasMessageStartingWith("rules/groups.yaml, number 1, rul: There is no field 'rul' here");
    assertThatThrownBy(
            () ->
                configurations.load(OWNER, load(with("rules/groups.yaml", "- name: [A\n"), false)))
        .hasMessageStartingWith("rules/groups.yaml, line 1: this is no YAML: ");
    assertThatThrownBy(
            () ->
                configurations.load(
                    OWNER,
                    load(
                        with(
                            "rules/checks.yaml",
                            "- {name: A, advice: B, rule: os is older than the hills}\n"),
                        false)))
        .hasMessageStartingWith("rules/checks.yaml, rule: ");
    assertThatThrownBy(
            () ->
                configurations.load(
                    OWNER,
                    load(
                        with(
                            "rules/profiles/later.yaml",
                            "name: Later\nstate: draft\nsettings: {passcode.min-lenght: 6}\n"),
                        false)))
        .hasMessageStartingWith(
            "rules/profiles/later.yaml: There is no setting passcode.min-lenght");
    assertThatThrownBy(() -> configurations.load(OWNER, load(Map.of(), false)))
        .hasMessage("There is no pinwright.yaml, so this is no configuration.");
    assertThatThrownBy(() -> configurations.load(OWNER, load(with("rules/more.yaml", "[]"), false)))
        .hasMessageStartingWith("rules/more.yaml is no file of a configuration");
    assertThat(written()).isEqualTo(before);
  }

  @Test
  void secretsAreInNoFileAndAreGivenApartWhereTheyAreNotHere() {
    assertThatThrownBy(() -> configurations.load(OWNER, plain(HOUSE, false)))
        .hasMessage(
            "Secrets are in no file and 2 are not here either, such as passphrase of Own phones;"
                + " give them apart.")
        .satisfies(
            p ->
                assertThat(Json.write(((Problem) p).extras()))
                    .contains("\"part\":\"profile\"", "\"key\":\"wifi[staff].passphrase\""));
    house();
    assertThat(String.join("", written().values())).doesNotContain("lantern", "quiet word");
    Map<String, String> dim = with("rules/profiles/galleries.yaml", dimmed(30));
    configurations.load(OWNER, plain(dim, false));
    assertThat(secret()).as("stays").isEqualTo("lantern over the quay");
    assertThat(
            told(
                configurations
                    .load(
                        OWNER,
                        new Configurations.Load(
                            dim,
                            Map.of(),
                            Map.of(
                                "profile",
                                Map.of(
                                    "Galleries", Map.of("wifi[staff].passphrase", "harbour bell"))),
                            Optional.empty(),
                            Optional.empty(),
                            Optional.empty()))
                    .steps()))
        .isEqualTo("change profile Galleries secrets given anew ->wifi[staff].passphrase");
    assertThat(secret()).isEqualTo("harbour bell");
  }

  private static String dimmed(int brightness) {
    return HOUSE
        .get("rules/profiles/galleries.yaml")
        .replace("brightness: 20", "brightness: " + brightness);
  }

  private String secret() {
    return node.sql(
        tx ->
            ProfileContent.load(
                    tx.value(
                        "select cast(v.content as text) from profile_version v join profile p"
                            + " on p.id = v.profile_id and p.published_version = v.number"
                            + " where p.name = 'Galleries'",
                        String.class,
                        Map.of()),
                    node.vault())
                .settings()
                .get("wifi[staff].passphrase")
                .text());
  }

  @Test
  void devicesFollowAsOneChangeWhichIsRehearsed() {
    house();
    String code = node.invite("{\"name\":\"Own kiosks\",\"mode\":\"supervised\"}", 9);
    String device = node.join(code, "AR10-0001");
    node.join(code, "AR10-0002");
    Map<String, String> texts = new HashMap<>(with("rules/profiles/galleries.yaml", dimmed(35)));
    texts.put(
        "rules/profiles/later.yaml",
        "name: Later\nstate: published\nsettings: {passcode.min-length: 6}\n");
    texts.remove("intake/enrollment-profiles/kiosks.yaml");
    texts.remove("intake/enrollment-profiles/own-phones.yaml");
    var r = configurations.rehearse(OWNER, plain(texts, true));
    assertThat(told(r.steps()))
        .isEqualTo(
            "change profile Galleries settings appearance.brightness 20>35;"
                + " change profile Later state draft>published");
    assertThat(r.settings().orElseThrow().changing()).isEqualTo(2);
    assertThat(r.settings().get().effects().get(0).steps())
        .extracting(s -> s.setting() + " " + s.to().map(v -> v.text()).orElse("-"))
        .containsExactlyInAnyOrder("appearance.brightness 35", "passcode.min-length 6");
    node.pinwright
        .thresholds()
        .set(
            OWNER,
            node.pinwright.thresholds().get(OWNER).version(),
            new HouseThresholds.Draft(Optional.of(2L), Optional.empty(), Optional.empty()));
    assertThatThrownBy(() -> configurations.load(OWNER, plain(texts, true)))
        .hasMessageContaining("This changes 2 devices; repeat that number to load it.");
    assertThat(written()).containsEntry("rules/profiles/galleries.yaml", dimmed(20));
    var done =
        configurations.load(
            OWNER,
            new Configurations.Load(
                texts, null, null, Optional.of(true), Optional.of(2L), Optional.empty()));
    assertThat(done.change().orElseThrow().total()).isEqualTo(2);
    assertThat(done.change().get().title()).isEqualTo("Load a configuration");
    assertThat(node.pinwright.devices().settings(READER, device).inEffect())
        .extracting(s -> s.setting())
        .contains("passcode.min-length");
  }

  @Test
  void whatIsInNoFileStaysUntilDeletingIsAskedFor() {
    house();
    Map<String, String> less =
        new TreeMap<>(
            Map.of(
                "pinwright.yaml", HOUSE.get("pinwright.yaml"),
                "organisation/attributes.yaml", "[]",
                "organisation/units.yaml", "- {code: VM, name: Vellmar}",
                "organisation/sites.yaml", "[]",
                "organisation/people.yaml", "[]",
                "rules/groups.yaml", "[]",
                "rules/checks.yaml", "[]",
                "rules/profiles/later.yaml", HOUSE.get("rules/profiles/later.yaml"),
                "rules/kits/other.yaml", "{name: Other, state: draft}",
                "intake/enrollment-profiles/own-phones.yaml",
                    HOUSE.get("intake/enrollment-profiles/own-phones.yaml")));
    assertThat(configurations.rehearse(OWNER, plain(less, false)).steps())
        .filteredOn(s -> s.verb() == Step.Verb.STAY)
        .hasSize(15);
    configurations.load(OWNER, plain(less, true));
    assertThat(written())
        .hasSize(11)
        .containsEntry("rules/groups.yaml", "[]\n")
        .containsEntry("organisation/units.yaml", "- code: VM\n  name: Vellmar\n")
        .as("terms were spoken of by no file")
        .containsEntry("intake/terms.yaml", HOUSE.get("intake/terms.yaml"));
    house();
    assertThat(written()).as("and back").containsAllEntriesOf(HOUSE);
  }

  @Test
  void whatIsStillNeededIsNotDeletedAndNothingElseIsEither() {
    house();
    node.join(
        node.invite(
            "{\"name\":\"More\",\"mode\":\"supervised\",\"unitId\":\"%s\"}"
                .formatted(
                    node.pinwright.units().all(OWNER).stream()
                        .filter(u -> u.code().equals("VM-GLA"))
                        .findFirst()
                        .orElseThrow()
                        .id()),
            1),
        "AR10-0001");
    Map<String, String> texts =
        Map.of(
            "pinwright.yaml", HOUSE.get("pinwright.yaml"),
            "organisation/sites.yaml", "- {name: Pier}",
            "organisation/units.yaml", "- {code: VM, name: Vellmar}");
    for (Exec exec :
        List.<Exec>of(
            () -> configurations.rehearse(OWNER, plain(texts, true)),
            () -> configurations.load(OWNER, plain(texts, true)))) {
      assertThatThrownBy(exec::run)
          .hasMessageStartingWith("VM-GLA: VM-GLA Glasshouse is still used by ");
    }
    assertThat(written()).containsAllEntriesOf(HOUSE);
  }

  @Test
  void whoeverPublishesMeanwhileWaitsOrIsToldAndNothingHangs() throws Exception {
    house();
    String id =
        node.pinwright
            .profiles()
            .page(OWNER, ProfileKind.PROFILE, "gall", FIRST)
            .items()
            .get(0)
            .id();
    ExecutorService two = Executors.newFixedThreadPool(2);
    Future<?> loading =
        two.submit(
            () -> {
              for (int i = 0; i < 12; i++) {
                try {
                  configurations.load(
                      OWNER,
                      plain(with("rules/profiles/galleries.yaml", dimmed(30 + i % 2)), false));
                } catch (Problem p) {
                  // whoever published meanwhile took the network and its passphrase out
                  assertThat(p).hasMessageContaining("Secrets are in no file");
                }
              }
            });
    Future<Integer> publishing =
        two.submit(
            () -> {
              int told = 0;
              for (int i = 0; i < 12; i++) {
                try {
                  var now = node.pinwright.profiles().get(OWNER, id);
                  node.publish(
                      node.pinwright
                          .profiles()
                          .change(
                              OWNER,
                              id,
                              now.version(),
                              Json.request(
                                  "{\"settings\":{\"appearance.brightness\":%d}}".formatted(50 + i),
                                  Profiles.Draft.class)));
                } catch (Problem p) {
                  told++;
                }
              }
              return told;
            });
    loading.get(60, TimeUnit.SECONDS);
    assertThat(publishing.get(60, TimeUnit.SECONDS)).isLessThanOrEqualTo(12);
    two.shutdown();
  }

  @Test
  void whatIsNoHonestYamlIsRefused() {
    String bomb =
        "- &a {name: A, inside: [x, x]}\n- &b {name: B, inside: *a}\n- {name: C, inside: [*a, *b]}\n";
    for (String text :
        List.of(
            bomb,
            "- name: A\n  name: B\n",
            "[".repeat(200),
            "- {name: A}\n--- \n- {name: B}\n",
            "{}",
            "name: A")) {
      assertThatThrownBy(
              () -> configurations.load(OWNER, plain(with("rules/groups.yaml", text), false)))
          .as(text)
          .isInstanceOf(Problem.class)
          .hasMessageStartingWith("rules/groups.yaml");
    }
  }

  private interface Exec {
    void run();
  }

  @Test
  void whatNamesEachOtherTheOtherWayRoundIsLoadedToo() {
    Map<String, String> texts =
        new HashMap<>(
            Map.of(
                "pinwright.yaml",
                HOUSE.get("pinwright.yaml"),
                "organisation/units.yaml",
                "- {code: A, name: A}\n- {code: A-B, name: B, within: A}\n",
                "rules/groups.yaml",
                "- {name: One, inside: [Two]}\n- {name: Two}\n- {name: Zed, rule: group has One}\n"));
    configurations.load(OWNER, plain(texts, true));
    texts.put(
        "organisation/units.yaml", "- {code: A-B, name: B}\n- {code: A, name: A, within: A-B}\n");
    texts.put("rules/groups.yaml", "- {name: One}\n- {name: Two, inside: [One]}\n");
    var done = configurations.load(OWNER, plain(texts, true));
    assertThat(told(done.steps()))
        .isEqualTo(
            "change unit A-B within A>-; change unit A within ->A-B;"
                + " change group One inside Two>-; change group Two inside ->One;"
                + " delete group Zed");
    assertThat(configurations.rehearse(OWNER, plain(texts, true)).steps()).isEmpty();
    texts.put("rules/groups.yaml", "- {name: One, inside: [Two]}\n- {name: Two, inside: [One]}\n");
    assertThatThrownBy(() -> configurations.load(OWNER, plain(texts, true)))
        .hasMessageContaining("A group cannot follow from itself");
  }

  @Test
  void whatNobodyPublishedStaysUnlessItsProfileIsLoadedAnew() {
    house();
    var galleries =
        node.pinwright.profiles().page(OWNER, ProfileKind.PROFILE, "gall", FIRST).items().get(0);
    var detail = node.pinwright.profiles().get(OWNER, galleries.id());
    node.pinwright
        .profiles()
        .change(
            OWNER,
            detail.id(),
            detail.version(),
            Json.request("{\"settings\":{\"appearance.brightness\":99}}", Profiles.Draft.class));
    assertThat(configurations.rehearse(OWNER, plain(HOUSE, true)).steps()).isEmpty();
    String described = HOUSE.get("rules/profiles/galleries.yaml").replace("In the", "For the");
    configurations.load(OWNER, plain(with("rules/profiles/galleries.yaml", described), true));
    var after = node.pinwright.profiles().get(OWNER, galleries.id());
    assertThat(after.publishedVersion()).as("words alone are not published").contains(1);
    assertThat(after.settings().get("appearance.brightness").asInt()).isEqualTo(99);
    var done =
        configurations.load(OWNER, plain(with("rules/profiles/galleries.yaml", dimmed(40)), true));
    assertThat(done.leftOut())
        .containsExactly("The draft of Galleries that nobody published is replaced.");
    assertThat(node.pinwright.profiles().get(OWNER, galleries.id()).publishedVersion()).contains(2);
    assertThatThrownBy(
            () ->
                configurations.load(
                    OWNER,
                    plain(
                        with(
                            "rules/profiles/galleries.yaml",
                            dimmed(40).replace("state: published", "state: draft")),
                        true)))
        .hasMessageContaining("It is published and cannot be a draft again");
  }

  @Test
  void whatIsNotSaidIsAsUsual() {
    Map<String, String> texts =
        Map.of(
            "pinwright.yaml",
            HOUSE.get("pinwright.yaml"),
            "intake/enrollment-profiles/phones.yaml",
            "{name: Phones, mode: standard, platforms: [tarn], kinds: [phone],"
                + " namePattern: \"{model} {serial}\"}",
            "rules/checks.yaml",
            "- {name: Old, advice: Update it., rule: os < 7.1}");
    configurations.load(OWNER, plain(texts, false));
    assertThat(written().get("intake/enrollment-profiles/phones.yaml"))
        .contains("comesBack: true", "removable: false", "ownership: corporate");
    assertThat(written().get("rules/checks.yaml")).contains("grace: 72");
    assertThat(configurations.rehearse(OWNER, plain(texts, true)).steps()).isEmpty();
    for (Map.Entry<String, String> wrong :
        Map.of(
                "{name: Quiet}", "A state is published or draft.",
                "{name: Quiet, state: draft, settings: {\"wifi[a].passphrase\": lantern}}",
                    "wifi[a].passphrase is a secret and does not belong in a file",
                "{name: Quiet, state: draft, settings: {passcode.min-length: 99999999999999999999}}",
                    "A value is true, false, a whole number, a text or a list of texts.",
                "{name: Quiet, state: draft, targets: [nobody]}", "'nobody' is not one of",
                "{name: Quiet, state: draft, targets: [group Nobody]}", "There is no group Nobody.")
            .entrySet()) {
      assertThatThrownBy(
              () ->
                  configurations.load(
                      OWNER,
                      plain(
                          Map.of(
                              "pinwright.yaml", HOUSE.get("pinwright.yaml"),
                              "rules/profiles/later.yaml", wrong.getKey()),
                          false)))
          .as(wrong.getKey())
          .isInstanceOf(Problem.class)
          .hasMessageStartingWith("rules/profiles/later.yaml")
          .hasMessageContaining(wrong.getValue());
    }
  }

  @Test
  void termsAreAddedAndNeverChange() {
    house();
    assertThatThrownBy(
            () ->
                configurations.load(
                    OWNER,
                    plain(
                        with(
                            "intake/terms.yaml",
                            HOUSE.get("intake/terms.yaml").replace("kind", "quick")),
                        true)))
        .hasMessageContaining("Version 1 of the terms was accepted as it is");
    String second = "- version: 2\n  language: en\n  title: Terms\n  text: Be kinder.\n";
    Map<String, String> texts = with("intake/terms.yaml", HOUSE.get("intake/terms.yaml") + second);
    configurations.load(OWNER, plain(texts, true));
    assertThat(written()).containsAllEntriesOf(texts);
  }

  @Test
  void aProfileForADeviceNamesItsSerialNumber() {
    String device = node.join(node.kiosks(1), "AR10-0001");
    node.publish(
        node.draft(
            "{\"name\":\"One\",\"settings\":{\"appearance.brightness\":20},\"targets\":"
                + "[{\"kind\":\"device\",\"ref\":\"%s\"}]}".formatted(device)));
    Map<String, String> texts = written();
    assertThat(texts.get("rules/profiles/one.yaml")).contains("- device AR10-0001");
    try (Node other = new Node()) {
      var r = other.pinwright.configurations().rehearse(OWNER, plain(texts, false));
      assertThat(r.leftOut())
          .containsExactly(
              "One goes to the device AR10-0001, which is not here; that is left out.");
      other.pinwright.configurations().load(OWNER, plain(texts, false));
      assertThat(
              other.pinwright.configurations().write(OWNER).texts().get("rules/profiles/one.yaml"))
          .contains("state: published")
          .doesNotContain("device");
    }
  }

  @Test
  void aProposalToLoadIsAgreedToBySomebodyElseAndHoldsNoSecrets() {
    house();
    node.join(node.invite("{\"name\":\"More\",\"mode\":\"supervised\"}", 1), "AR10-0001");
    Map<String, String> texts =
        Map.of(
            "pinwright.yaml",
            HOUSE.get("pinwright.yaml"),
            "rules/profiles/later.yaml",
            "name: Later\nstate: published\nsettings: {passcode.min-length: 6}\n"
                + "targets: [everyone]\n");
    assertThatThrownBy(() -> propose(load(texts, false)))
        .hasMessageStartingWith("A proposal holds no secrets");
    var proposal = propose(plain(texts, false));
    assertThat(proposal.proposal().title()).isEqualTo("Load a configuration");
    assertThat(proposal.rehearsal().orElseThrow().changing()).isEqualTo(1);
    node.pinwright.proposals().agree(Node.READER, proposal.proposal().id(), proposal.seen());
    assertThat(written().get("rules/profiles/later.yaml")).contains("state: published");
  }

  private Proposals.Detail propose(Configurations.Load load) {
    return node.pinwright
        .proposals()
        .propose(
            OWNER,
            Json.request(
                "{\"intent\":{\"load\":%s}}".formatted(Json.write(load)), Proposals.Draft.class));
  }
}
