package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.MessageTemplate;
import dev.pinwright.client.model.MessageTemplateDraft;
import dev.pinwright.sandbox.device.Agent;
import dev.pinwright.sandbox.device.Screen;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Questions to holders and their answers; messages and that they were read. */
class AskTest {
  private static Rig rig;
  private static Desk desk;
  private static Agent one;
  private static Agent two;

  @BeforeAll
  static void start() throws Exception {
    rig = new Rig();
    desk = new Desk(rig);
    one = rig.join(rig.unpack("T10"), desk.kiosks("Kiosks", 5).getLink());
    two = rig.join(rig.unpack("T10"), desk.kiosks("More", 5).getLink());
    for (Agent a : List.of(one, two)) {
      Rig.firstRun(a);
      Rig.eventually(a::screen, s -> s.screen().equals("home"));
    }
  }

  @AfterAll
  static void stop() {
    rig.close();
  }

  private static Dispatch order(CommandKey command, Map<String, String> fields)
      throws ApiException {
    return desk.order(
        new DispatchOrder()
            .command(command)
            .fields(fields)
            .serials(List.of(one.screen().serial(), two.screen().serial())),
        UUID.randomUUID().toString());
  }

  private static List<Command> commands(Dispatch d) throws ApiException {
    return rig.client.acting().getDispatchCommands(d.getId(), null, null, 10).getItems();
  }

  private static void asked(Agent a, String question) {
    Rig.eventually(a::screen, s -> s.question().filter(question::equals).isPresent());
  }

  @Test
  void noIsAnAnswerAndEachIsSummedUp() throws Exception {
    Dispatch d = order(CommandKey.ASK, Map.of("text", "Is the case in your room?"));
    asked(one, "Is the case in your room?");
    asked(two, "Is the case in your room?");
    assertThat(desk.dispatch(d.getId()).getAnswers()).isEmpty();
    one.device().say(true);
    one.checkIn(false);
    two.device().say(false);
    two.checkIn(false);
    Dispatch ended = Rig.eventually(() -> desk.dispatch(d.getId()), Dispatch::getEnded);
    assertThat(ended.getAnswers()).isEqualTo(Map.of("yes", 1L, "no", 1L));
    assertThat(commands(d)).extracting(Command::getState).containsOnly(CommandState.DONE);
  }

  @Test
  void aChoiceIsTakenOnTheDevice() throws Exception {
    assertThatThrownBy(
            () -> order(CommandKey.ASK, Map.of("text", "When?", "choices", "Monday\n Monday")))
        .hasMessageContaining("2 to 6 choices");
    Dispatch d =
        order(CommandKey.ASK, Map.of("text", "When?", "choices", "Monday\nThursday\nNever"));
    asked(one, "When?");
    assertThat(one.screen().choices()).containsExactly("Monday", "Thursday", "Never");
    one.device().take(2);
    one.checkIn(false);
    Dispatch told = Rig.eventually(() -> desk.dispatch(d.getId()), x -> !x.getAnswers().isEmpty());
    assertThat(told.getAnswers()).isEqualTo(Map.of("Thursday", 1L));
    assertThat(told.getEnded()).as("the other has not answered").isFalse();
    asked(two, "When?");
    two.device().take(1);
    two.checkIn(false);
    Rig.eventually(() -> desk.dispatch(d.getId()), Dispatch::getEnded);
  }

  @Test
  void aMessageIsShownAndThenRead() throws Exception {
    Dispatch d = order(CommandKey.MESSAGE, Map.of("text", "Covers come on Monday."));
    Rig.eventually(() -> desk.dispatch(d.getId()), Dispatch::getEnded);
    assertThat(desk.dispatch(d.getId()).getRead()).isZero();
    assertThat(one.screen().messages())
        .extracting(Screen.Message::text)
        .contains("Covers come on Monday.");
    one.device().readMessages();
    one.checkIn(false);
    Rig.eventually(() -> desk.dispatch(d.getId()).getRead(), n -> n == 1L);
    assertThat(commands(d)).filteredOn(c -> c.getReadAt() != null).hasSize(1);
  }

  private static List<String> shown(Agent a) {
    return a.screen().messages().stream().map(Screen.Message::text).toList();
  }

  @Test
  void eachHolderReadsTheirLanguageAndWhatIsTheirDevicesOwn() throws Exception {
    one.device().speak("fr-CA");
    one.checkIn(false);
    two.device().speak("de");
    two.checkIn(false);
    String name = desk.devices(one.screen().serial(), 1).get(0).getName();
    Dispatch d =
        order(
            CommandKey.MESSAGE,
            Map.of("text", "Please charge {self:Name}.", "text@fr", "Chargez {self:Name}, merci."));
    Rig.eventually(() -> desk.dispatch(d.getId()), Dispatch::getEnded);
    assertThat(shown(one)).contains("Chargez " + name + ", merci.");
    assertThat(shown(two)).anyMatch(t -> t.startsWith("Please charge "));

    Dispatch asked =
        order(
            CommandKey.ASK,
            Map.of(
                "text", "When?",
                "text@fr", "Quand ?",
                "choices", "Today\nTomorrow",
                "choices@fr", "Aujourd'hui\nDemain"));
    asked(one, "Quand ?");
    assertThat(one.screen().choices()).containsExactly("Aujourd'hui", "Demain");
    one.device().take(2);
    one.checkIn(false);
    Dispatch told =
        Rig.eventually(() -> desk.dispatch(asked.getId()), x -> !x.getAnswers().isEmpty());
    assertThat(told.getAnswers()).as("summed up in one language").isEqualTo(Map.of("Tomorrow", 1L));
    asked(two, "When?");
    two.device().take(1);
    two.checkIn(false);
    one.device().speak("en");
    Rig.eventually(() -> desk.dispatch(asked.getId()), Dispatch::getEnded);
  }

  @Test
  void whatNobodyCanReadIsNotSaid() {
    Map<Map<String, String>, String> wrong =
        Map.of(
            Map.of("text@fr", "Fermé."), "for everybody as well",
            Map.of("text", "To {self:Mother}"), "which no device can fill in",
            Map.of("text", "x", "text@fr", "y".repeat(501)), "1 to 500 characters",
            Map.of("text", "x", "text@42", "y"), "no field text@42");
    wrong.forEach(
        (fields, words) ->
            assertThatThrownBy(() -> order(CommandKey.MESSAGE, fields))
                .hasMessageContaining(words));
    assertThatThrownBy(
            () ->
                order(
                    CommandKey.ASK,
                    Map.of("text", "?", "choices", "a\nb", "choices@fr", "a\nb\nc")))
        .hasMessageContaining("as many choices");
  }

  @Test
  void wordsAreKeptTakenAndForgotten() throws Exception {
    MessageTemplateDraft early =
        new MessageTemplateDraft()
            .name("Closes early")
            .command(CommandKey.MESSAGE)
            .fields(Map.of("text", "We close at four.", "text@fr", "Fermé à quatre heures."));
    MessageTemplate kept = rig.client.acting().addMessageTemplate(early);
    assertThat(kept.getFields()).hasSize(2);
    assertThatThrownBy(() -> rig.client.acting().addMessageTemplate(early))
        .hasMessageContaining("already");
    assertThatThrownBy(
            () ->
                rig.client
                    .acting()
                    .addMessageTemplate(
                        new MessageTemplateDraft()
                            .name("x")
                            .command(CommandKey.RESTART)
                            .fields(Map.of())))
        .hasMessageContaining("says something");
    MessageTemplate changed =
        rig.client
            .acting()
            .changeMessageTemplate(
                kept.getId(),
                "\"" + kept.getVersion() + "\"",
                early.fields(Map.of("text", "We close at three.")));
    assertThat(rig.client.acting().listMessageTemplates(null, 10).getItems())
        .extracting(t -> t.getName() + ": " + t.getFields().get("text"))
        .containsExactly("Closes early: We close at three.");
    rig.client.acting().deleteMessageTemplate(kept.getId(), "\"" + changed.getVersion() + "\"");
    assertThat(rig.client.acting().listMessageTemplates(null, 10).getItems()).isEmpty();
  }
}
