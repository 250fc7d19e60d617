package dev.pinwright.core.enrollment;

import dev.pinwright.core.catalog.FirstRunScreen;
import dev.pinwright.core.device.Ownership;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What a holder goes through, screen by screen, from the code to the first use. */
public final class HolderPath {
  private HolderPath() {}

  /**
   * One screen.
   *
   * @param kind {@code code}, {@code offer}, {@code sign-in}, {@code terms}, {@code approval},
   *     {@code first-run}, {@code gate} or {@code home}
   * @param lines what is listed on it
   */
  public record Screen(String kind, String title, String text, List<String> lines) {}

  /** The terms as the holder reads them. */
  public record Terms(int version, String title, String text) {}

  /** The screens a device of a platform shows under an enrollment profile. */
  public static List<Screen> of(
      EnrollmentProfile profile,
      String organisation,
      String platform,
      Optional<Terms> terms,
      List<String> visible,
      List<String> never,
      List<FirstRunScreen> screens) {
    List<Screen> out = new ArrayList<>();
    out.add(new Screen("code", "Hello.", "Scan the code, or type it with the address.", List.of()));
    boolean personal = profile.ownership() == Ownership.PERSONAL;
    List<String> lines = new ArrayList<>();
    visible.forEach(v -> lines.add("sees: " + v));
    never.forEach(n -> lines.add("never sees: " + n));
    out.add(
        new Screen(
            "offer",
            organisation,
            personal
                ? "wants to manage the work side of this device."
                : "wants to manage this device.",
            lines));
    switch (profile.signIn()) {
      case PASSPHRASE ->
          out.add(new Screen("sign-in", "Sign in", "Type the passphrase.", List.of()));
      case DIRECTORY ->
          out.add(
              new Screen("sign-in", "Sign in", "Type your staff login and password.", List.of()));
      default -> {
        // the code is enough
      }
    }
    terms.ifPresent(
        t ->
            out.add(
                new Screen(
                    "terms", t.title() + " (version " + t.version() + ")", t.text(), List.of())));
    if (profile.approval()) {
      out.add(
          new Screen(
              "approval",
              "Nearly there",
              "Waiting for the organisation to approve this device.",
              List.of()));
    }
    for (FirstRunScreen s : profile.firstRun().shown(screens, platform)) {
      out.add(new Screen("first-run", s.title(), s.text(), List.of()));
    }
    if (profile.readyGate().holds(platform)) {
      out.add(
          new Screen(
              "gate",
              "Getting ready",
              "This device can be used when all of this is done.",
              profile
                  .readyGate()
                  .steps(
                      platform,
                      dev.pinwright.core.device.OsVersion.parse("0"),
                      ReadyGate.Settings.NONE)
                  .stream()
                  .map(ReadyGate.Step::title)
                  .toList()));
    }
    out.add(
        new Screen(
            "home",
            "Ready to use",
            profile.removable()
                ? "The holder may end management at any time."
                : "Management stays on this device.",
            List.of()));
    return out;
  }
}
