package dev.pinwright.service.device;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.device.Standing;
import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.core.organisation.Fate;
import dev.pinwright.service.Node;
import dev.pinwright.service.device.Leaving.Becomes;
import dev.pinwright.service.device.Leaving.Plan;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.work.Json;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Somebody leaves. */
class LeavingTest {
  private Node node;
  private People people;
  private Leaving leaving;
  private String ines;
  private String bo;
  private final List<String> devices = new ArrayList<>();

  @BeforeEach
  void start() {
    node = new Node();
    people = node.pinwright.people();
    leaving = node.pinwright.leaving();
    ines =
        people.add(OWNER, new People.Draft("Ines Orrin", "ines", "i@v.example", null, null)).id();
    bo = people.add(OWNER, new People.Draft("Bo Skarnes", "bo", null, null, null)).id();
    String code = node.kiosks(9);
    for (String serial : List.of("AR10-0001", "AR10-0002", "AR10-0003")) {
      String device = node.join(code, serial);
      node.pinwright
          .devices()
          .place(OWNER, device, node.version(device), new Devices.Placement(null, null, ines));
      devices.add(device);
    }
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private Plan plan(boolean takeOut) {
    return new Plan(
        List.of(
            new Becomes(devices.get(0), Fate.HANDED_OVER, Optional.of(bo)),
            new Becomes(devices.get(1), Fate.KEPT, Optional.empty()),
            new Becomes(devices.get(2), Fate.RETIRED, Optional.empty())),
        takeOut);
  }

  private Optional<String> holder(String device) {
    return node.pinwright.devices().get(READER, device).device().person();
  }

  private void invite() {
    String profile =
        node.pinwright
            .enrollmentProfiles()
            .add(OWNER, Json.request("{\"name\":\"Staff\"}", EnrollmentForm.class))
            .id();
    node.pinwright
        .invitations()
        .add(
            OWNER,
            Json.request(
                "{\"profileId\":\"" + profile + "\",\"personId\":\"" + ines + "\"}",
                Invitations.Draft.class));
  }

  @Test
  void eachDeviceGoesItsWayInOneStepAndWhatWasOpenEnds() {
    invite();
    Leaving.Left left = leaving.look(READER, ines);
    assertThat(left.devices()).hasSize(3);
    assertThat(left.invitations()).isEqualTo(1);

    Leaving.Done would = leaving.rehearse(OWNER, ines, plan(true));
    assertThat(List.of(would.handedOver(), would.kept(), would.retired(), would.invitations()))
        .containsExactly(1, 1, 1, 1);
    assertThat(holder(devices.get(0))).hasValue("Ines Orrin");

    Leaving.Done done = leaving.leave(OWNER, ines, plan(true));
    assertThat(done.invitations()).isEqualTo(1);
    assertThat(holder(devices.get(0))).hasValue("Bo Skarnes");
    assertThat(holder(devices.get(1))).isEmpty();
    assertThat(node.pinwright.devices().get(READER, devices.get(2)).device().standing())
        .isEqualTo(Standing.RETIRED);
    assertThatThrownBy(() -> people.get(READER, ines)).hasMessageContaining("no person");
    assertThat(people.page(READER, "orrin", "", false, List.of(), FIRST).items()).isEmpty();
  }

  @Test
  void whatTheyHeldStaysToldByNameAloneAndTheirLoginIsFree() {
    leaving.leave(OWNER, ines, plan(true));
    assertThat(people.holders(READER, devices.get(0)))
        .extracting(h -> h.person() + (h.until().isPresent() ? " held it" : " holds it"))
        .containsExactly("Bo Skarnes holds it", "Ines Orrin held it");
    assertThat(people.holders(READER, devices.get(2)))
        .singleElement()
        .satisfies(h -> assertThat(h.until()).isPresent());
    assertThat(
            node.<Long>sql(
                tx ->
                    tx.value(
                        "select count(*) from person where name = 'Ines Orrin'"
                            + " and coalesce(login, mail, unit_id, site_id) is null",
                        Long.class,
                        Map.of())))
        .isEqualTo(1);
    String again = people.add(OWNER, new People.Draft("Ines Orrin", "ines", null, null, null)).id();
    assertThat(people.holdings(READER, again)).isEmpty();
    assertThatThrownBy(
            () ->
                node.pinwright
                    .devices()
                    .place(
                        OWNER,
                        devices.get(1),
                        node.version(devices.get(1)),
                        new Devices.Placement(null, null, ines)))
        .hasMessageContaining("no person");
  }

  @Test
  void aPlanThatForgetsADeviceOrNamesAnotherDoesNothing() {
    Plan half = new Plan(plan(true).devices().subList(0, 2), true);
    assertThatThrownBy(() -> leaving.leave(OWNER, ines, half))
        .hasMessageContaining("1 device of theirs the plan says nothing of");
    assertThatThrownBy(() -> leaving.leave(OWNER, bo, plan(false)))
        .hasMessageContaining("do not hold device");
    Plan toThemselves =
        new Plan(List.of(new Becomes(devices.get(0), Fate.HANDED_OVER, Optional.of(ines))), false);
    assertThatThrownBy(() -> leaving.leave(OWNER, ines, toThemselves))
        .hasMessageContaining("cannot be handed a device");
    Plan toNobody =
        new Plan(List.of(new Becomes(devices.get(0), Fate.HANDED_OVER, Optional.empty())), false);
    assertThatThrownBy(() -> leaving.leave(OWNER, ines, toNobody))
        .hasMessageContaining("who a device is handed to");
    assertThat(holder(devices.get(0))).hasValue("Ines Orrin");
  }

  @Test
  void whatWasHandedOverCanBeTakenBack() {
    Leaving.Done done = leaving.leave(OWNER, ines, plan(false));
    assertThat(people.get(READER, ines).devices()).isZero();
    node.pinwright.deviceEdits().undo(OWNER, done.change().orElseThrow().id(), Confirmation.NONE);
    assertThat(holder(devices.get(0))).hasValue("Ines Orrin");
    assertThat(people.holdings(READER, ines)).filteredOn(h -> h.until().isEmpty()).hasSize(2);
  }
}
