package dev.pinwright.service;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.service.device.Groups;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.work.Json;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class SearchTest {
  private Node node;
  private String device;

  @BeforeEach
  void start() {
    node = new Node();
    device =
        node.join(
            node.invite(
                "{\"name\":\"Quay kiosks\",\"mode\":\"supervised\",\"tags\":[\"quayside\"]}", 2),
            "AR10-0042-7731");
    node.pinwright.devices().rename(OWNER, device, node.version(device), "Quay door");
    node.pinwright.units().add(OWNER, new Units.Draft("VM-QUAY", "Harbour quay", null));
    node.pinwright
        .sites()
        .add(
            OWNER,
            new Sites.Draft(
                "Norhaven", "2 Quay Street", null, null, Optional.empty(), Optional.empty()));
    node.pinwright.people().add(OWNER, new People.Draft("Ines Quayle", null, null, null, null));
    node.pinwright.groups().add(OWNER, Groups.Draft.picked("All of the quay"));
    node.draft("{\"name\":\"Quay rules\"}");
    node.pinwright
        .roster()
        .add(OWNER, Json.request("{\"serial\":\"AR10-QUAY-9\"}", Roster.Draft.class));
  }

  @AfterEach
  void stop() {
    node.close();
  }

  private List<String> found(String words) {
    return node.pinwright.search().find(READER, words, "", false).stream()
        .map(f -> f.kind() + ": " + f.name() + (f.detail().isEmpty() ? "" : ", " + f.detail()))
        .toList();
  }

  @Test
  void everyKindIsFoundByAnyPartOfItsNameInTheSameOrder() {
    assertThat(found("quay"))
        .containsExactly(
            "device: Quay door, T10, AR10-0042-7731",
            "unit: VM-QUAY Harbour quay",
            "site: Norhaven, 2 Quay Street",
            "person: Ines Quayle",
            "roster: AR10-QUAY-9, expected",
            "profile: Quay rules",
            "enrollment-profile: Quay kiosks, corporate, supervised",
            "group: All of the quay",
            "tag: quayside, 1 device");
  }

  @Test
  void aDeviceIsFoundByItsNumberAndARetiredOneToo() {
    assertThat(found("0042-77")).singleElement().asString().startsWith("device: Quay door");
    node.pinwright.devices().retire(OWNER, device, "fell into Lake Orre");
    assertThat(found("0042-77")).containsExactly("device: Quay door, T10, AR10-0042-7731, retired");
  }

  @Test
  void whatWasDeletedIsNotFoundAndSignsOfPatternsAreLetters() {
    node.pinwright
        .invitations()
        .page(READER, new Invitations.Filter("", ""), FIRST)
        .items()
        .forEach(i -> node.pinwright.invitations().withdraw(OWNER, i.id()));
    String kiosks = node.pinwright.enrollmentProfiles().page(READER, FIRST).items().get(0).id();
    node.pinwright.enrollmentProfiles().delete(OWNER, kiosks, 0);
    assertThat(found("kiosks")).isEmpty();
    assertThat(found("%")).isEmpty();
    assertThat(found("q_ay")).isEmpty();
    assertThat(found(" ")).isEmpty();
  }
}
