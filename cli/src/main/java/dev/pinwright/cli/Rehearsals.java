package dev.pinwright.cli;

import dev.pinwright.client.model.Licensing;
import dev.pinwright.client.model.Rehearsal;
import java.util.stream.Collectors;

/** What changes would do, printed. */
final class Rehearsals {
  private Rehearsals() {}

  /** Says which devices change, how, what conflicts, what cannot be done and what is asked. */
  static void tell(Context context, Rehearsal r) {
    effects(context, r, true);
    if (Boolean.TRUE.equals(r.getSecondWanted())) {
      context.line("Somebody else has to agree: add --propose with a word to them.");
    } else {
      asked(context, r);
    }
  }

  /**
   * Says which devices change, how, what conflicts and what cannot be done.
   *
   * @param listed whether the devices behind an effect can be listed
   */
  static void effects(Context context, Rehearsal r, boolean listed) {
    context.line(
        "%d of %d devices change: %d gain, %d change, %d lose.",
        r.getChanging(), r.getDevices(), r.getGain(), r.getChange(), r.getLose());
    r.getEffects()
        .forEach(
            e -> {
              context.line("");
              context.line(
                  "%d %s, %s, from OS %s: %s",
                  e.getDevices(),
                  e.getPlatform(),
                  e.getMode(),
                  e.getOsLevel(),
                  e.getExamples().stream().map(x -> x.getName()).collect(Collectors.joining(", "))
                      + (e.getDevices() > e.getExamples().size()
                          ? ", ..." + (listed ? " (all: --effect " + e.getId() + ")" : "")
                          : ""));
              e.getSteps()
                  .forEach(
                      s ->
                          context.line(
                              "  %-28s %s -> %s",
                              s.getTitle(),
                              s.getFrom() == null ? "(none)" : s.getFrom(),
                              s.getTo() == null ? "(none)" : s.getTo()));
            });
    r.getConflicts()
        .forEach(
            c ->
                context.line(
                    "Conflict: %s on %s; %s wins over %s.",
                    c.getTitle(),
                    Context.counted(c.getDevices(), "device"),
                    c.getWins(),
                    String.join(", ", c.getLoses())));
    r.getShortages()
        .forEach(
            s ->
                context.line(
                    "Short: %s needs %d licenses and has %d free; %d %s without. Required goes"
                        + " before picked, and who was enrolled first before who came later.",
                    s.getApp(),
                    s.getWanting(),
                    s.getFree(),
                    s.getLacking(),
                    (s.getLicensing() == Licensing.BY_HOLDER ? "holder" : "device")
                        + (s.getLacking() == 1 ? " goes" : "s go")));
    r.getUnsupported()
        .forEach(
            u ->
                context.line(
                    "Cannot: %s on %s, it %s.",
                    u.getTitle(), Context.counted(u.getDevices(), "device"), u.getReason()));
  }

  private static void asked(Context context, Rehearsal r) {
    if (r.getConfirmDevices() != null) {
      context.line("To publish, add --confirm %d.", r.getConfirmDevices());
    }
    if (Boolean.TRUE.equals(r.getReasonWanted())) {
      context.line("A reason is asked for: add --reason.");
    }
  }
}
