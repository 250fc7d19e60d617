package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.dm.Dm;
import java.time.Instant;
import java.util.List;

/** What is said to the holder of a device, and what the holder says to it. */
final class Talk {
  private static final int MOST_NOTES = 20;

  /** Of 97 holders who are automatic so many answer a question with choices. */
  private static final int ANSWER = 61;

  private final State state;
  private final AppBox apps;
  private final Operations operations;

  Talk(State state, AppBox apps, Operations operations) {
    this.state = state;
    this.apps = apps;
    this.operations = operations;
  }

  /** Shows a message. */
  int show(String text, String correlator) {
    state.runs.merge("message", 1, Integer::sum);
    boolean reads = state.automaticHolder && Math.floorMod(state.serial.hashCode(), 3) > 0;
    state.notes.add(0, new State.Note(text, Instant.now().toString(), reads, correlator));
    if (reads && !correlator.isEmpty()) {
      state.readToTell.add(correlator);
    }
    if (state.notes.size() > MOST_NOTES) {
      state.notes.remove(state.notes.size() - 1);
    }
    return Dm.OK;
  }

  /** Asks for yes or no. */
  int confirm(String text, String correlator) {
    state.runs.merge("confirm", 1, Integer::sum);
    if (state.automaticHolder) {
      state.reports.add(State.Report.of(correlator, Dm.OK));
    } else {
      state.questions.add(new State.Question(text, correlator));
    }
    return Dm.ACCEPTED;
  }

  /** Asks for one of several. */
  int choose(String text, List<String> choices, String correlator) {
    state.runs.merge("choose", 1, Integer::sum);
    int h = Math.floorMod(state.serial.hashCode(), 97);
    if (state.automaticHolder && h < ANSWER) {
      answered(correlator, h % choices.size() + 1);
    } else {
      state.questions.add(new State.Question(text, correlator, List.copyOf(choices)));
    }
    return Dm.ACCEPTED;
  }

  private void answered(String correlator, int choice) {
    state.reports.add(new State.Report(Dm.TYPE_OPERATION, correlator, Dm.OK + " " + choice));
  }

  /** The holder takes one of the choices of what is asked first; 1 for the first. */
  void take(int choice) {
    if (!state.questions.isEmpty() && choice <= state.questions.get(0).choices().size()) {
      answered(state.questions.remove(0).correlator(), choice);
    }
  }

  /** The holder says yes or no to what is asked first. */
  void say(boolean yes) {
    if (!state.questions.isEmpty()) {
      State.Question q = state.questions.remove(0);
      if (!apps.say(q.correlator(), yes) && !operations.say(q.correlator(), yes)) {
        state.reports.add(State.Report.of(q.correlator(), yes ? Dm.OK : Dm.CANCELLED));
      }
    }
  }

  /** The holder puts all messages away. */
  void read() {
    state.notes.stream()
        .filter(n -> !n.read() && !n.correlator().isEmpty())
        .forEach(n -> state.readToTell.add(n.correlator()));
    state.notes.replaceAll(n -> new State.Note(n.text(), n.at(), true, n.correlator()));
  }
}
