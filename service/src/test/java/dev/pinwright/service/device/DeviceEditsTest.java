package dev.pinwright.service.device;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.access.Role;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.organisation.Person;
import dev.pinwright.core.organisation.Unit;
import dev.pinwright.service.Node;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.change.EditStore;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Many devices edited at once, rehearsed, as one change that can be taken back. */
class DeviceEditsTest {
  private static final Caller OWNER = Node.OWNER;
  private static final Caller READER = new Caller("2", "reader", Role.READER);
  private static final String ALL = "\"matching\":{}";
  private Node node;
  private DeviceEdits edits;
  private final List<String> ids = new ArrayList<>();
  private Unit harbour;
  private Person ines;

  @BeforeEach
  void start() {
    node = new Node();
    edits = node.pinwright.deviceEdits();
    String code = node.kiosks(4);
    for (int i = 1; i <= 3; i++) {
      ids.add(node.join(code, "AR10-000" + i));
    }
    harbour = node.pinwright.units().add(OWNER, new Units.Draft("VM-HAR", "Harbour", null));
    ines =
        node.pinwright
            .people()
            .add(OWNER, new People.Draft("Ines Orrin", "ines", null, null, null));
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private static DeviceEdits.Edit edit(String json) {
    return Json.request("{" + json + "}", DeviceEdits.Edit.class);
  }

  private String named(int... which) {
    List<String> some = new ArrayList<>();
    for (int i : which) {
      some.add("\"" + ids.get(i) + "\"");
    }
    return "\"ids\":[" + String.join(",", some) + "]";
  }

  private Devices.Detail device(int i) {
    return node.pinwright.devices().get(READER, ids.get(i));
  }

  private List<String> names() {
    return ids.stream()
        .map(id -> node.pinwright.devices().get(READER, id).device().name())
        .toList();
  }

  private Profiles.Detail assigned(String kind, String ref) {
    Profiles.Detail draft =
        node.draft(
            "{\"name\":\"Quay\",\"settings\":{\"passcode.min-length\":6},\"targets\":[{\"kind\":\"%s\",\"ref\":\"%s\"}]}"
                .formatted(kind, ref));
    node.publish(draft);
    return draft;
  }

  @Test
  void aPlaceIsRehearsedWithWhatItMeansForSettingsAndStoresNothing() {
    assigned("unit", harbour.id());
    DeviceEdits.Rehearsed r =
        edits.rehearse(
            OWNER,
            edit(
                named(0, 1)
                    + ",\"unitId\":\"%s\",\"personId\":\"%s\"".formatted(harbour.id(), ines.id())));
    assertThat(r.devices()).isEqualTo(2);
    assertThat(r.changing()).isEqualTo(2);
    assertThat(r.settings()).hasValueSatisfying(s -> assertThat(s.gain()).isEqualTo(2));
    assertThat(r.examples())
        .extracting(EditStore.Example::before, EditStore.Example::after)
        .containsOnly(
            org.assertj.core.groups.Tuple.tuple(
                "no unit, no site, held by nobody", "VM-HAR, no site, Ines Orrin"));
    assertThat(r.confirmDevices()).isEmpty();
    assertThat(device(0).unitId()).isEmpty();
    assertThat(node.pinwright.changes().page(READER, new Page.Request("", 10)).items()).hasSize(1);
  }

  @Test
  void aRuleInWordsSaysWhich() {
    edits.edit(OWNER, edit(named(0) + ",\"unitId\":\"" + harbour.id() + "\""));
    String rule =
        "unit in vm-har and not person is \\\"ines orrin\\\" and joined within 2 days and has serial";
    Changes.Change done =
        edits.edit(OWNER, edit("\"matching\":{\"rule\":\"" + rule + "\"},\"addTags\":[\"quay\"]"));
    assertThat(done.devices()).isEqualTo(1);
    assertThat(device(0).device().tags()).contains("quay");
    assertThat(counted("tag has quay or unit is VM-HAR")).isEqualTo(1);
    assertThat(counted("not (tag has quay)")).isEqualTo(ids.size() - 1L);
    node.clock.pass(Duration.ofDays(3));
    assertThat(counted("joined within 2 days")).as("it counts from now").isZero();
    assertThatThrownBy(() -> counted("unit in VM-HAR and colour is red"))
        .isInstanceOfSatisfying(
            Problem.class,
            p -> {
              assertThat(p.status()).isEqualTo(400);
              assertThat(p.body()).containsEntry("column", 20).containsEntry("pointer", "/rule");
            })
        .hasMessageContaining("Column 20: expected a condition");
  }

  private long counted(String rule) {
    DeviceFilter filter =
        new DeviceFilter("", "", "", "", "", "", "", "", "", "", "", List.of(), rule, 0, false);
    return node.pinwright.deviceList().count(READER, filter);
  }

  @Test
  void itIsOneChangeThatCanBeTakenBackOnce() {
    assigned("unit", harbour.id());
    Changes.Change done = edits.edit(OWNER, edit(ALL + ",\"unitId\":\"" + harbour.id() + "\""));
    assertThat(done.title()).isEqualTo("Place 3 devices");
    assertThat(done.devices()).isEqualTo(3);
    assertThat(done.total()).isEqualTo(3);
    assertThat(done.undoable()).isTrue();
    assertThat(device(1).unitId()).contains(harbour.id());
    assertThat(edits.rehearseUndo(OWNER, done.id()).changing()).isEqualTo(3);
    Changes.Change back = edits.undo(OWNER, done.id(), Confirmation.NONE);
    assertThat(back.title()).isEqualTo("Take back: Place 3 devices");
    assertThat(back.total()).as("settings go with the place").isEqualTo(3);
    assertThat(device(1).unitId()).isEmpty();
    assertThatThrownBy(() -> edits.undo(OWNER, done.id(), Confirmation.NONE))
        .hasMessageContaining("already");
    assertThat(node.pinwright.changes().get(READER, done.id()).undoable()).isFalse();
    edits.undo(OWNER, back.id(), Confirmation.NONE);
    assertThat(device(1).unitId()).as("even that can be taken back").contains(harbour.id());
  }

  @Test
  void whatWasChangedSinceStaysAsItIs() {
    Changes.Change done =
        edits.edit(
            OWNER, edit(ALL + ",\"unitId\":\"" + harbour.id() + "\",\"addTags\":[\"quay\"]"));
    node.pinwright
        .devices()
        .place(
            OWNER,
            ids.get(0),
            node.version(ids.get(0)),
            new Devices.Placement(null, null, ines.id()));
    node.pinwright.devices().tag(OWNER, ids.get(2), node.version(ids.get(2)), List.of("other"));
    edits.undo(OWNER, done.id(), Confirmation.NONE);
    assertThat(device(0).unitId()).as("placed elsewhere since").isEmpty();
    assertThat(device(0).personId()).contains(ines.id());
    assertThat(device(1).unitId()).isEmpty();
    assertThat(device(1).device().tags()).containsExactly("gallery");
    assertThat(device(2).device().tags()).containsExactly("other");
  }

  @Test
  void tagsAreAddedAndTakenAwayAndSettingsFollow() {
    assigned("tag", "quay");
    edits.edit(OWNER, edit(ALL + ",\"addTags\":[\"quay\"],\"removeTags\":[\"gallery\"]"));
    assertThat(device(0).device().tags()).containsExactly("quay");
    assertThat(node.pinwright.devices().settings(READER, ids.get(0)).inEffect()).hasSize(1);
    DeviceEdits.Rehearsed again = edits.rehearse(OWNER, edit(ALL + ",\"addTags\":[\"quay\"]"));
    assertThat(again.changing()).as("they have it already").isZero();
  }

  @Test
  void devicesAreNamedByAPatternInTheOrderOfTheirNames() {
    edits.edit(OWNER, edit(ALL + ",\"namePattern\":\"Kiosk {seq:3}\""));
    assertThat(names()).containsExactly("Kiosk 001", "Kiosk 002", "Kiosk 003");
    edits.edit(OWNER, edit(named(1, 2) + ",\"namePattern\":\"Kiosk {seq:2}\""));
    assertThat(names())
        .as("they keep their numbers")
        .containsExactly("Kiosk 001", "Kiosk 02", "Kiosk 03");
    Changes.Change doors = edits.edit(OWNER, edit(named(0, 1) + ",\"namePattern\":\"Door\""));
    assertThat(names()).containsExactly("Door", "Door (2)", "Kiosk 03");
    edits.undo(OWNER, doors.id(), Confirmation.NONE);
    assertThat(names()).containsExactly("Kiosk 001", "Kiosk 02", "Kiosk 03");
  }

  @Test
  void theRehearsalOfANameReservesNoNumber() {
    DeviceEdits.Edit kiosks = edit(ALL + ",\"namePattern\":\"Kiosk {seq:3}\"");
    assertThat(edits.rehearse(OWNER, kiosks).examples())
        .extracting(EditStore.Example::after)
        .containsExactly("Kiosk 001", "Kiosk 002", "Kiosk 003");
    assertThat(edits.rehearse(OWNER, kiosks).examples())
        .extracting(EditStore.Example::after)
        .contains("Kiosk 001");
  }

  @Test
  void retiringSeveralAsksForTheirNumberAndCannotBeTakenBack() {
    DeviceEdits.Edit some = edit(named(0, 1) + ",\"retire\":\"sold\"");
    assertThat(edits.rehearse(OWNER, some).confirmDevices()).contains(2L);
    assertThatThrownBy(() -> edits.edit(OWNER, some)).hasMessageContaining("repeat that number");
    Changes.Change gone =
        edits.edit(OWNER, edit(named(0, 1) + ",\"retire\":\"sold\",\"confirmDevices\":2"));
    assertThat(gone.title()).isEqualTo("Retire 2 devices");
    assertThat(gone.undoable()).isFalse();
    assertThat(device(0).device().retired()).isPresent();
    assertThat(device(2).device().retired()).isEmpty();
    assertThat(
            node.<Long>sql(
                tx ->
                    tx.value(
                        "select count(*) from device_certificate where state <> 'revoked'"
                            + " and device_id = any(cast(:ids as text[]))",
                        Long.class,
                        java.util.Map.of("ids", ids.subList(0, 2).toArray(String[]::new)))))
        .isZero();
    assertThatThrownBy(() -> edits.undo(OWNER, gone.id(), Confirmation.NONE))
        .hasMessageContaining("put back");
  }

  @Test
  void whatCannotBeIsSaid() {
    refused("\"unitId\":\"x\"", "which devices");
    refused(ALL, "Say what to do");
    refused(ALL + ",\"unitId\":\"nowhere\"", "no unit nowhere");
    refused(ALL + ",\"addTags\":[\"a;b\"]", "letters");
    refused(ALL + ",\"retire\":\"sold\",\"addTags\":[\"x\"]", "by themselves");
    refused(ALL + ",\"retire\":\" \"", "Say why");
    refused(ALL + ",\"namePattern\":\"{colour}\"", "not {colour}");
    refused("\"matching\":{\"tag\":\"nothing\"},\"addTags\":[\"x\"]", "no device");
  }

  private void refused(String json, String words) {
    assertThatThrownBy(() -> edits.edit(OWNER, edit(json)))
        .isInstanceOf(Problem.class)
        .hasMessageContaining(words);
  }
}
