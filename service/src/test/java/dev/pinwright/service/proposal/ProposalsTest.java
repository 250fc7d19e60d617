package dev.pinwright.service.proposal;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.ProposalState;
import dev.pinwright.service.Node;
import dev.pinwright.service.acting.DispatchOrder;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** From so many devices on, a change is made when somebody else has seen what it would do. */
class ProposalsTest {
  private static final Caller BO = new Caller("bo-id", "bo", Role.OPERATOR);

  private Node node;
  private String code;
  private Profiles.Detail profile;

  @BeforeEach
  void start() {
    node = new Node();
    code = node.kiosks(20);
    node.join(code, "AR10-0001");
    node.join(code, "AR10-0002");
    profile =
        node.draft(
            "{\"name\":\"Gallery\",\"settings\":{\"passcode.min-length\":6},"
                + "\"targets\":[{\"kind\":\"tag\",\"ref\":\"gallery\"}]}");
    node.sql("insert into thresholds (version, number, second) values (1, 1, 2)");
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Proposals proposals() {
    return node.pinwright.proposals();
  }

  private Proposals.Detail propose(String intent) {
    return proposals()
        .propose(
            OWNER,
            new Proposals.Draft(
                Json.request(intent, Intent.class), Optional.of("for the new rooms")));
  }

  private Proposals.Detail publication() {
    return propose("{\"publish\":{\"id\":\"" + profile.id() + "\"}}");
  }

  private boolean published() {
    return node.pinwright.profiles().get(OWNER, profile.id()).publishedVersion().isPresent();
  }

  private Profiles.Detail draft(String settings) {
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    return node.pinwright
        .profiles()
        .change(
            OWNER,
            now.id(),
            now.version(),
            Json.request("{\"settings\":" + settings + "}", Profiles.Draft.class));
  }

  @Test
  void whatNeedsASecondPersonIsNotDoneByOne() {
    assertThatThrownBy(() -> node.publish(profile))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("This changes 2 devices; somebody else has to agree first");
    assertThat(published()).isFalse();
    Proposals.Detail d = publication();
    assertThat(d.proposal().title()).isEqualTo("Publish Gallery");
    assertThat(d.rehearsal().orElseThrow().settings().orElseThrow().gain()).isEqualTo(2);
    assertThat(d.mine()).isTrue();
    assertThat(node.pinwright.notices().page(OWNER, FIRST).items())
        .singleElement()
        .satisfies(n -> assertThat(n.title()).contains("owner asks", "Publish Gallery"))
        .satisfies(n -> assertThat(n.detail()).contains("2 devices are", "for the new rooms"));
    assertThatThrownBy(() -> proposals().agree(OWNER, d.proposal().id(), d.seen()))
        .hasMessageContaining("somebody else has to agree");
    assertThat(published()).isFalse();
  }

  @Test
  void aPublicationMayBeProposedWaveByWave() {
    Proposals.Detail d =
        propose(
            "{\"publish\":{\"id\":\"%s\",\"waves\":{\"steps\":[{\"devices\":1},{\"share\":25}]}}}"
                .formatted(profile.id()));
    assertThat(d.proposal().title())
        .isEqualTo("Publish Gallery, in waves: about 1, 25 %, everybody");
    String id = d.proposal().id();
    proposals().agree(BO, id, proposals().get(BO, id).seen());
    assertThat(published()).isTrue();
    assertThat(node.pinwright.waves().get(OWNER, profile.id()).orElseThrow().waves()).hasSize(3);
  }

  @Test
  void whoeverAgreesToWhatTheySawDoesIt() {
    String id = publication().proposal().id();
    Proposals.Detail seen = proposals().get(BO, id);
    Proposals.Detail done = proposals().agree(BO, id, seen.seen());
    assertThat(done.proposal().state()).isEqualTo(ProposalState.DONE);
    assertThat(published()).isTrue();
    Changes.Change change =
        node.pinwright.changes().get(OWNER, done.proposal().changeId().orElseThrow());
    assertThat(change.actor()).isEqualTo("owner");
    assertThat(change.agreedBy()).contains("bo");
    assertThat(change.reason()).contains("for the new rooms");
    assertThat(node.pinwright.notices().page(OWNER, FIRST).items()).isEmpty();
    assertThatThrownBy(() -> proposals().agree(BO, id, seen.seen()))
        .hasMessageContaining("decided: done by bo");
  }

  @Test
  void whatChangedInBetweenIsSaidAndHasToBeLookedAtAgain() {
    String id = publication().proposal().id();
    String seen = proposals().get(BO, id).seen();
    node.join(code, "AR10-0003");
    assertThatThrownBy(() -> proposals().agree(BO, id, seen))
        .hasMessageContaining("look at it again");
    assertThat(published()).isFalse();
    assertThat(proposals().get(BO, id).since())
        .contains(
            "It was 2, now 3 devices are concerned.", "It was 2, now 3 devices gain settings.");
    draft("{\"passcode.min-length\":9}");
    Proposals.Detail again = proposals().get(BO, id);
    assertThat(again.since()).contains("What is to be done was changed after it was proposed.");
    proposals().agree(BO, id, again.seen());
    assertThat(node.pinwright.profiles().get(OWNER, profile.id()).draftChanged()).isFalse();
  }

  @Test
  void oneThatANodeWasKilledOverIsOpenAgainAfterAWhile() {
    String id = publication().proposal().id();
    String seen = proposals().get(BO, id).seen();
    node.sql(
        "update proposal set state = 'agreed', decided_by = 'bo', decided_at = '"
            + node.clock.instant()
            + "' where id = '"
            + id
            + "'");
    assertThat(proposals().get(BO, id).rehearsal()).isEmpty();
    assertThatThrownBy(() -> proposals().agree(BO, id, seen)).hasMessageContaining("decided");
    node.clock.pass(Duration.ofMinutes(6));
    assertThat(proposals().get(BO, id).rehearsal()).isPresent();
    proposals().agree(BO, id, seen);
    assertThat(published()).isTrue();
  }

  @Test
  void itIsRefusedWithAReasonOrWithdrawn() {
    String refused = publication().proposal().id();
    assertThatThrownBy(() -> proposals().refuse(BO, refused, " ")).hasMessageContaining("Say why");
    assertThat(proposals().refuse(BO, refused, "not on a Friday").proposal())
        .satisfies(p -> assertThat(p.state()).isEqualTo(ProposalState.REFUSED))
        .satisfies(p -> assertThat(p.reason()).contains("not on a Friday"));
    String withdrawn = publication().proposal().id();
    assertThatThrownBy(() -> proposals().withdraw(BO, withdrawn))
        .hasMessageContaining("alone can withdraw");
    proposals().withdraw(OWNER, withdrawn);
    assertThat(proposals().page(OWNER, "waiting", FIRST).items()).isEmpty();
    assertThat(proposals().page(OWNER, "", FIRST).items()).hasSize(2);
    assertThat(published()).isFalse();
  }

  @Test
  void whatCannotBeDoneAnyMoreSaysSo() {
    String id = publication().proposal().id();
    Profiles.Detail now = node.pinwright.profiles().get(OWNER, profile.id());
    node.pinwright.publishing().delete(OWNER, now.id(), now.version(), Confirmation.NONE);
    Proposals.Detail d = proposals().get(BO, id);
    assertThat(d.objection().orElseThrow()).contains("There is no profile");
    assertThat(d.rehearsal()).isEmpty();
    assertThatThrownBy(() -> proposals().agree(BO, id, d.seen())).isInstanceOf(Problem.class);
    assertThat(proposals().get(BO, id).proposal().state()).isEqualTo(ProposalState.WAITING);
  }

  @Test
  void editsGroupsUnitsAndTakingBackGoTheSameWay() {
    String edit = "{\"edit\":{\"matching\":{\"tag\":\"gallery\"},\"addTags\":[\"quay\"]}}";
    assertThatThrownBy(
            () ->
                node.pinwright
                    .deviceEdits()
                    .edit(
                        OWNER,
                        Json.request(
                            "{\"matching\":{\"tag\":\"gallery\"},\"addTags\":[\"quay\"]}",
                            DeviceEdits.Edit.class)))
        .hasMessageContaining("somebody else has to agree");
    agreeTo(propose(edit));
    String change = node.pinwright.changes().page(OWNER, FIRST).items().get(0).id();
    agreeTo(propose("{\"takeBack\":{\"id\":\"" + change + "\"}}"));
    String group =
        node.pinwright
            .groups()
            .add(OWNER, Json.request("{\"name\":\"Quay\"}", Groups.Draft.class))
            .id();
    agreeTo(publication());
    Profiles.Detail other =
        node.draft(
            "{\"name\":\"Other\",\"settings\":{\"passcode.min-length\":8},"
                + "\"targets\":[{\"kind\":\"group\",\"ref\":\""
                + group
                + "\"}]}");
    node.publish(other);
    String member =
        node.pinwright
            .deviceList()
            .page(OWNER, DeviceFilter.ALL, "name", FIRST)
            .items()
            .get(0)
            .id();
    node.sql("update thresholds set second = 1");
    String members = "{\"id\":\"%s\",\"members\":{\"add\":[\"%s\"]}}".formatted(group, member);
    assertThatThrownBy(
            () ->
                node.pinwright
                    .groups()
                    .members(OWNER, group, Groups.Members.of(List.of(member), List.of())))
        .hasMessageContaining("somebody else has to agree");
    agreeTo(propose("{\"members\":" + members + "}"));
    assertThat(node.pinwright.groups().get(OWNER, group).devices()).isEqualTo(1);
    agreeTo(
        propose(
            "{\"group\":{\"id\":\"%s\",\"draft\":{\"name\":\"Quay\",\"rule\":\"tag has gallery\"}}}"
                .formatted(group)));
    assertThat(node.pinwright.groups().get(OWNER, group).devices()).isEqualTo(2);
    agreeTo(propose("{\"deleteProfile\":{\"id\":\"" + other.id() + "\"}}"));
    assertThatThrownBy(() -> propose("{}")).hasMessageContaining("Propose one thing");
    assertThatThrownBy(
            () -> proposals().propose(OWNER, new Proposals.Draft(null, Optional.empty())))
        .isInstanceOf(Problem.class);
    for (String without :
        List.of("publish", "deleteProfile", "takeBack", "group", "unit", "members")) {
      assertThatThrownBy(() -> propose("{\"" + without + "\":{}}"))
          .as(without)
          .hasMessageContaining("has to say " + without + "/id");
    }
    assertThatThrownBy(() -> propose("{\"edit\":{\"ids\":[],\"addTags\":[\"x\"]}}"))
        .hasMessageContaining("no device");
  }

  private void agreeTo(Proposals.Detail d) {
    String id = d.proposal().id();
    proposals().agree(BO, id, proposals().get(BO, id).seen());
    assertThat(proposals().get(BO, id).proposal().state()).isEqualTo(ProposalState.DONE);
  }

  @Test
  void theOwnerSetsWhatIsAskedAndOnlyWhereSomebodyElseCanAgree() {
    HouseThresholds house = node.pinwright.thresholds();
    assertThat(house.get(OWNER))
        .isEqualTo(
            new HouseThresholds.Shown(
                1, 1, Optional.empty(), Optional.of(2L), Optional.empty(), 10));
    HouseThresholds.Draft wanted =
        new HouseThresholds.Draft(Optional.of(25L), Optional.of(100L), Optional.of(500L));
    assertThatThrownBy(() -> house.set(OWNER, 1, wanted)).hasMessageContaining("nobody else");
    HouseThresholds.Draft alone =
        new HouseThresholds.Draft(Optional.of(25L), Optional.of(1L), Optional.empty());
    assertThat(house.set(OWNER, 1, alone).version()).isEqualTo(2);
    assertThatThrownBy(() -> house.set(OWNER, 1, alone)).hasMessageContaining("after you opened");
    assertThatThrownBy(() -> node.publish(profile)).hasMessageContaining("give a reason");
    assertThat(
            node.pinwright
                .publishing()
                .publish(
                    OWNER,
                    profile.id(),
                    profile.version(),
                    new Confirmation(Optional.empty(), Optional.of("new rooms"), Optional.empty()))
                .change()
                .reason())
        .contains("new rooms");
  }

  @Test
  void anOrderIsAgreedToWithinADayAndDoneOnceHoweverOftenItIsTaken() {
    DispatchOrder wipe =
        Json.request(
            "{\"command\":\"wipe\",\"reason\":\"sold\",\"targets\":[{\"kind\":\"everyone\"}]}",
            DispatchOrder.class);
    Proposals.Detail d =
        proposals().propose(OWNER, new Proposals.Draft(intent(wipe), Optional.of("sold")));
    assertThat(d.rehearsal().orElseThrow().told())
        .as("whoever agrees reads which devices, and what is lost")
        .anyMatch(t -> t.contains("no backup"));
    String id = d.proposal().id();
    node.clock.pass(Duration.ofHours(25));
    assertThatThrownBy(() -> proposals().agree(BO, id, d.seen())).hasMessageContaining("lapsed");
    proposals().lapse();
    assertThat(proposals().get(BO, id).proposal().state()).isEqualTo(ProposalState.LAPSED);

    String again =
        proposals()
            .propose(OWNER, new Proposals.Draft(intent(wipe), Optional.empty()))
            .proposal()
            .id();
    proposals().agree(BO, again, proposals().get(BO, again).seen());
    assertThat(wipes()).isEqualTo(1);
    // a node killed before it noted that it was done: it is open again, and done again
    node.sql("update proposal set state = 'waiting', lapses_at = now() + interval '9 years'");
    proposals().agree(BO, again, proposals().get(BO, again).seen());
    assertThat(wipes()).isEqualTo(1);
  }

  private long wipes() {
    return node.sql(
        tx ->
            tx.value("select count(*) from dispatch where command = 'wipe'", Long.class, Map.of()));
  }

  private static Intent intent(DispatchOrder order) {
    Optional<Intent.OfProfile> none = Optional.empty();
    return new Intent(
        Optional.empty(),
        none,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        none,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.of(order));
  }
}
