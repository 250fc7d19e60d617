package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
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
}
