package dev.pinwright.service.house;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import dev.pinwright.service.Node;
import dev.pinwright.service.UseCasesOn;
import dev.pinwright.service.invitation.BulkInvitations;
import dev.pinwright.service.invitation.InvitationMail;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.time.Duration;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class MailTest {
  private static final Invitations.Filter ANY = new Invitations.Filter("", "");
  private Node node;
  private GreenMail post;

  @BeforeEach
  void start() {
    node = new Node();
    post = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    post.start();
  }

  @AfterEach
  void stop() {
    post.stop();
    node.close();
  }

  private Connections.Shown<Connections.Mail> connect(int port) {
    return node.pinwright
        .mailer()
        .connect(
            OWNER,
            new Connections.MailDraft(
                "127.0.0.1", port, null, null, null, "it@vellmar.example", null));
  }

  private String person(String name, String mail) {
    return node.pinwright.people().add(OWNER, new People.Draft(name, null, mail, null, null)).id();
  }

  private String profile() {
    node.kiosks(1);
    return node.pinwright.enrollmentProfiles().page(READER, FIRST).items().get(0).id();
  }

  private BulkInvitations.Report invite(String json) {
    return node.pinwright
        .bulkInvitations()
        .invite(OWNER, Json.request(json, BulkInvitations.Draft.class));
  }

  @Test
  void aServerIsTriedBeforeItIsKept() throws Exception {
    assertThat(connect(post.getSmtp().getPort()).state()).isEqualTo("connected");
    assertThat(post.getReceivedMessages()[0].getSubject()).isEqualTo("Mail from Pinwright works");
    int port = post.getSmtp().getPort();
    post.stop();
    assertThatThrownBy(() -> connect(port))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.type()).isEqualTo("mail-failed"));
    assertThat(node.pinwright.mailer().send(new Mailer.Letter("a@vellmar.example", "s", "t")))
        .isPresent();
    assertThat(node.pinwright.connections().mail(READER).state()).isEqualTo("failing");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{}|Name the mail server",
        "{\"host\":\"mail\",\"port\":0}|1 to 65535",
        "{\"host\":\"mail\",\"security\":\"rot13\"}|none, starttls, tls",
        "{\"host\":\"mail\",\"from\":\"nobody\"}|mail address"
      })
  void whatCannotBeIsNamed(String json, String words) {
    Connections.MailDraft draft = Json.request(json, Connections.MailDraft.class);
    assertThatThrownBy(() -> node.pinwright.mailer().connect(OWNER, draft))
        .hasMessageContaining(words);
  }

  @Test
  void anInvitationForAPersonIsMailedAndMailedAgain() throws Exception {
    String profile = profile();
    String ines = person("Ines Orrin", "ines@vellmar.example");
    Invitations invitations = node.pinwright.invitations();
    Invitations.Shown made =
        invitations.add(OWNER, new Invitations.Draft(profile, null, null, null, ines, true));
    assertThat(made.mailState()).as("there is no mail server yet").isEqualTo("due");
    connect(post.getSmtp().getPort());
    assertThat(post.waitForIncomingEmail(15_000, 2)).isTrue();
    Invitations.Shown sent = waitFor(made.id(), 1);
    assertThat(sent.mailState()).isEqualTo("sent");
    node.clock.pass(Duration.ofDays(9));
    assertThat(invitations.get(READER, made.id()).state()).isEqualTo("lapsed");
    assertThat(invitations.remind(OWNER, made.id()).state()).as("a week more").isEqualTo("open");
    assertThat(waitFor(made.id(), 2).mailedTimes()).isEqualTo(2);
    invitations.withdraw(OWNER, made.id());
    assertThatThrownBy(() -> invitations.remind(OWNER, made.id()))
        .hasMessageContaining("make a new one");
    assertThat(invitations.page(READER, new Invitations.Filter("withdrawn", "ines"), FIRST).items())
        .hasSize(1);
    assertThatThrownBy(() -> invitations.page(READER, new Invitations.Filter("lost", ""), FIRST))
        .hasMessageContaining("open, spent, lapsed, withdrawn");
  }

  private Invitations.Shown waitFor(String id, int times) {
    return Awaitility.await()
        .atMost(Duration.ofSeconds(60))
        .until(() -> node.pinwright.invitations().get(READER, id), i -> i.mailedTimes() >= times);
  }

  @Test
  void manyAreInvitedOnceEach() {
    String profile = profile();
    String ines = person("Ines Orrin", "ines@vellmar.example");
    String bo = person("Bo Skarnes", null);
    String all = "{\"profileId\":\"%s\",\"personIds\":[\"%s\",\"%s\",\"nobody\"],\"mail\":true%s}";
    BulkInvitations.Report trial = invite(all.formatted(profile, ines, bo, ",\"save\":false"));
    assertThat(trial.invited()).isEqualTo(1);
    assertThat(trial.rows())
        .extracting(r -> r.fault().orElse(""))
        .containsExactly("", "has no mail address", "there is no such person");
    assertThat(node.pinwright.invitations().page(READER, ANY, FIRST).items())
        .as("a trial leaves nothing")
        .hasSize(1);
    assertThat(invite(all.formatted(profile, ines, bo, "")).saved()).isTrue();
    assertThat(invite(all.formatted(profile, ines, bo, "")).rows().get(0).fault())
        .hasValueSatisfying(f -> assertThat(f).contains("open invitation to Kiosks already"));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{\"profileId\":\"p\"}|one of personIds, group, unitId, sheet",
        "{\"profileId\":\"p\",\"unitId\":\"u\",\"sheet\":\"x\"}|one of personIds",
        "{\"profileId\":\"p\",\"group\":\"office\"}|no staff directory"
      })
  void whomToInviteHasToBeSaid(String json, String words) {
    assertThatThrownBy(() -> invite(json)).hasMessageContaining(words);
  }

  @Test
  void aSheetWithoutUsableColumnsOrRowsIsRefused() {
    String profile = profile();
    String draft = "{\"profileId\":\"" + profile + "\",\"sheet\":\"%s\"}";
    assertThatThrownBy(() -> invite(draft.formatted("colour\\nred")))
        .hasMessageContaining("login or mail has to be among them");
    assertThatThrownBy(() -> invite(draft.formatted("mail")))
        .hasMessageContaining("nobody to invite");
  }

  @Test
  void whoDoesNotComeIsAskedOnceMoreBeforeTheInvitationLapses() throws Exception {
    connect(post.getSmtp().getPort());
    String ines = person("Ines Orrin", "ines@vellmar.example");
    String id =
        node.pinwright
            .invitations()
            .add(OWNER, new Invitations.Draft(profile(), null, null, null, ines, true))
            .id();
    assertThat(waitFor(id, 1).mailState()).isEqualTo("sent");
    InvitationMail letters =
        new InvitationMail(
            UseCasesOn.database(node.database(), node.clock),
            node.pinwright.catalogue(),
            node.pinwright.invitations(),
            node.pinwright.mailer(),
            node.pinwright.authority(),
            "Vellmar Museums");
    assertThat(letters.remindLapsing()).as("not yet").isZero();
    node.clock.pass(Duration.ofDays(6).plusHours(1));
    assertThat(letters.remindLapsing()).isEqualTo(1);
    assertThat(waitFor(id, 2).mailedTimes()).isEqualTo(2);
    assertThat(letters.remindLapsing()).as("once").isZero();
  }
}
