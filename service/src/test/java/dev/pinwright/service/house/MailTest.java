package dev.pinwright.service.house;

import static dev.pinwright.service.Node.FIRST;
import static dev.pinwright.service.Node.OWNER;
import static dev.pinwright.service.Node.READER;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import dev.pinwright.core.gateway.Linked;
import dev.pinwright.service.Node;
import dev.pinwright.service.UseCasesOn;
import dev.pinwright.service.arrival.Arrivals;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.invitation.BulkInvitations;
import dev.pinwright.service.invitation.InvitationMail;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.house.NoticeStore;
import jakarta.mail.internet.MimeMessage;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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
            node.pinwright.connections().mail(READER).version(),
            new Connections.MailDraft(
                "127.0.0.1",
                port,
                null,
                null,
                null,
                "it@vellmar.example",
                null,
                "Jory in the office, extension 12"));
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
    assertThat(connect(post.getSmtp().getPort()).state()).isEqualTo(Linked.CONNECTED);
    assertThat(post.getReceivedMessages()[0].getSubject()).isEqualTo("Mail from Pinwright works");
    int port = post.getSmtp().getPort();
    post.stop();
    assertThatThrownBy(() -> connect(port))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.type()).isEqualTo("mail-failed"));
    assertThat(node.pinwright.mailer().send(new Mailer.Letter("a@vellmar.example", "s", "t")))
        .isPresent();
    assertThat(node.pinwright.connections().mail(READER).state()).isEqualTo(Linked.FAILING);
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
    assertThatThrownBy(() -> node.pinwright.mailer().connect(OWNER, 0, draft))
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
    assertThat(post.waitForIncomingEmail(15_000, 3)).isTrue();
    List<String> letters = new ArrayList<>();
    for (MimeMessage letter : post.getReceivedMessages()) {
      letters.add(letter.getSubject() + "\n" + GreenMailUtil.getBody(letter));
    }
    assertThat(letters.subList(1, 3))
        .allSatisfy(l -> assertThat(l).contains("Questions? Ask Jory in the office, extension 12"));
    assertThat(letters.get(1)).startsWith("Your device and").doesNotContain("We wrote to you");
    assertThat(letters.get(2))
        .startsWith("Reminder: your device and")
        .contains("has not been used yet");
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
  void anInvitationIsExtendedAndItsCodeStays() {
    Invitations invitations = node.pinwright.invitations();
    Invitations.Shown made =
        invitations.add(OWNER, new Invitations.Draft(profile(), null, null, null, null, null));
    node.clock.pass(Duration.ofDays(8));
    assertThat(invitations.get(OWNER, made.id()).state()).isEqualTo("lapsed");
    Invitations.Shown longer = invitations.extend(OWNER, made.id(), 60L * 24 * 14);
    assertThat(longer.state()).isEqualTo("open");
    assertThat(longer.expiresAt()).isEqualTo(node.clock.instant().plus(Duration.ofDays(14)));
    assertThat(invitations.get(OWNER, made.id()).code()).isEqualTo(made.code());
    assertThatThrownBy(() -> invitations.extend(OWNER, made.id(), 0L))
        .hasMessageContaining("1 minute to 365 days");
    assertThat(invitations.sheet(READER, ANY).lines().toList())
        .hasSize(3)
        .first()
        .isEqualTo(
            "code ends,profile,state,uses,uses allowed,made,made by,expires,person,mail,mailed,"
                + "mailed times,note");
    assertThat(invitations.sheet(READER, ANY))
        .contains(made.codeEnds() + ",Kiosks,open,0,1,")
        .doesNotContain(made.code().orElseThrow());
    invitations.withdraw(OWNER, made.id());
    assertThatThrownBy(() -> invitations.extend(OWNER, made.id(), null))
        .hasMessageContaining("make a new one");
  }

  private List<String> notices() {
    node.pinwright.notices().lookAround();
    node.pinwright.notices().lookAtRoster();
    return node.pinwright.notices().page(READER, FIRST).items().stream()
        .map(NoticeStore.Given::title)
        .toList();
  }

  @Test
  void whatWaitsAndWhatFailsIsSaidOnceADayAndOverWhenItIs() {
    String code = node.invite("{\"name\":\"Dig\",\"approval\":true}", 1);
    node.pinwright.joining().join(new Joining.Asking(code, "127.0.0.1"), Node.tablet("AR10-0001"));
    node.pinwright
        .roster()
        .add(OWNER, Json.request("{\"serial\":\"AR10-0002\"}", Roster.Draft.class));
    connect(post.getSmtp().getPort());
    assertThat(notices()).as("nobody waits for long").isEmpty();
    node.clock.pass(Duration.ofHours(2));
    node.pinwright.connections().worked("mail", Optional.of("The mail server does not answer."));
    assertThat(notices())
        .as("what works again soon is no news")
        .containsExactly("A device waits for somebody to let it in");
    node.clock.pass(Duration.ofMinutes(11));
    assertThat(notices())
        .containsExactlyInAnyOrder(
            "A device waits for somebody to let it in", "Mail cannot be sent");
    assertThat(node.pinwright.notices().page(READER, FIRST).items())
        .extracting(NoticeStore.Given::detail)
        .contains("The mail server does not answer. Invitations and notices wait until it can.");
    assertThat(notices()).as("said once").hasSize(2);
    node.pinwright.connections().worked("mail", Optional.empty());
    String waiting =
        node.pinwright
            .arrivals()
            .page(READER, new Arrivals.Filter("waiting", "", Instant.EPOCH), FIRST)
            .items()
            .get(0)
            .id();
    node.pinwright.arrivals().approve(OWNER, waiting);
    assertThat(notices()).as("over").isEmpty();
    node.clock.pass(Duration.ofDays(31));
    assertThat(notices()).containsExactly("A device on the roster has not come in 30 days");
    assertThat(
            node.pinwright
                .roster()
                .page(READER, new Roster.Filter("", "", "expected", 30), FIRST)
                .items())
        .hasSize(1);
    assertThat(
            node.pinwright
                .roster()
                .page(READER, new Roster.Filter("", "", "expected", 32), FIRST)
                .items())
        .isEmpty();
    node.clock.pass(Duration.ofDays(1));
    assertThat(notices()).as("and again the next day").hasSize(1);
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
