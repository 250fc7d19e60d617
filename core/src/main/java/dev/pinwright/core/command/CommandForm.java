package dev.pinwright.core.command;

import dev.pinwright.core.Fault;
import dev.pinwright.core.catalog.CommandSpec;
import java.time.Duration;
import java.util.Map;
import java.util.TreeMap;

/**
 * What an administrator fills in to order a command, held against what the catalogue asks for.
 *
 * @param fields by key, without those left empty
 * @param reason why; empty where none was given and none is needed
 * @param expiry how long it waits for a device
 */
public record CommandForm(
    CommandSpec spec, Map<String, String> fields, String reason, Duration expiry) {
  /** How long a command waits for its device unless said otherwise. */
  public static final Duration DEFAULT_EXPIRY = Duration.ofDays(7);

  /** The longest a command can wait. */
  public static final Duration LONGEST_EXPIRY = Duration.ofDays(90);

  private static final int LONGEST_REASON = 300;

  /**
   * Reads what was filled in.
   *
   * @param minutes how long it waits, in minutes
   * @throws Fault naming the field and what would be right
   */
  public static CommandForm read(
      CommandSpec spec, Map<String, String> written, String reason, long minutes) {
    Map<String, String> filled = new TreeMap<>();
    written.forEach(
        (key, value) -> {
          String pointer = "/fields/" + key;
          CommandSpec.Field f =
              spec.field(key)
                  .orElseThrow(
                      () -> new Fault(pointer, spec.title() + " has no field " + key + "."));
          if (value.length() > f.maxLength()) {
            throw new Fault(pointer, f.title() + " has at most " + f.maxLength() + " characters.");
          }
          if (!value.isBlank()) {
            filled.put(key, value.strip());
          }
        });
    for (CommandSpec.Field f : spec.fields()) {
      if (f.required() && !filled.containsKey(f.key())) {
        throw new Fault("/fields/" + f.key(), f.title() + " has to be given.");
      }
    }
    String why = reason.strip();
    if (spec.reasonRequired() && why.isEmpty()) {
      throw new Fault("/reason", spec.title() + " needs a reason; it is recorded.");
    }
    if (why.length() > LONGEST_REASON) {
      throw new Fault("/reason", "A reason has at most " + LONGEST_REASON + " characters.");
    }
    if (minutes < 1 || minutes > LONGEST_EXPIRY.toMinutes()) {
      throw new Fault(
          "/expiresInMinutes", "A command waits from 1 minute to 90 days (129600 minutes).");
    }
    return new CommandForm(spec, Map.copyOf(filled), why, Duration.ofMinutes(minutes));
  }
}
