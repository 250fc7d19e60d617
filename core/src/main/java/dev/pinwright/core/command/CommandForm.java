package dev.pinwright.core.command;

import dev.pinwright.core.Fault;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.catalog.Wordings;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * What an administrator fills in to order a command, held against what the catalogue asks for.
 *
 * @param fields by key, as their leaves' texts, without those left empty
 * @param reason why; empty where none was given and none is needed
 * @param expiry how long it waits for a device
 */
public record CommandForm(
    CommandSpec spec, Map<String, String> fields, String reason, Duration expiry) {
  /** The longest a command can wait. */
  public static final Duration LONGEST_EXPIRY = Duration.ofDays(90);

  private static final String CHOICES = "choices";
  private static final int LONGEST_REASON = 300;

  /**
   * Reads what was filled in.
   *
   * @param minutes how long it waits, in minutes; empty for what the catalogue says
   * @throws Fault naming the field and what would be right
   */
  public static CommandForm read(
      CommandSpec spec, Map<String, String> written, String reason, Optional<Long> minutes) {
    CommandForm form = begun(spec, written, reason, minutes);
    for (CommandSpec.Field f : spec.fields()) {
      if (f.required() && !form.fields().containsKey(f.key())) {
        throw new Fault("/fields/" + f.key(), f.title() + " has to be given.");
      }
    }
    if (spec.reasonRequired() && form.reason().isEmpty()) {
      throw new Fault("/reason", spec.title() + " needs a reason; it is recorded.");
    }
    return form;
  }

  /**
   * Reads what was filled in so far, for a rehearsal: what is there has to be right, and what is
   * missing may still come.
   *
   * @throws Fault naming the field and what would be right
   */
  public static CommandForm begun(
      CommandSpec spec, Map<String, String> written, String reason, Optional<Long> minutes) {
    Map<String, String> filled = new TreeMap<>();
    written.forEach(
        (key, text) -> {
          String pointer = "/fields/" + key;
          Wordings.Key k = Wordings.key(key);
          CommandSpec.Field field =
              spec.field(k.field())
                  .filter(f -> f.spoken() || k.language().isEmpty())
                  .orElseThrow(
                      () -> new Fault(pointer, spec.title() + " has no field " + key + "."));
          if (!text.isBlank()) {
            filled.put(k.written(), value(field, text, pointer));
          }
        });
    filled.keySet().stream()
        .filter(key -> !filled.containsKey(Wordings.key(key).field()))
        .findFirst()
        .ifPresent(
            key -> {
              throw new Fault(
                  "/fields/" + Wordings.key(key).field(),
                  "What is said in another language is said for everybody as well.");
            });
    if (spec.delivery() == CommandSpec.Delivery.ASK) {
      choices(filled);
    }
    String why = reason.strip();
    if (why.length() > LONGEST_REASON) {
      throw new Fault("/reason", "A reason has at most " + LONGEST_REASON + " characters.");
    }
    long waits = minutes.orElse(spec.waits().toMinutes());
    if (waits < 1 || waits > LONGEST_EXPIRY.toMinutes()) {
      throw new Fault(
          "/expiresInMinutes", "A command waits from 1 minute to 90 days (129600 minutes).");
    }
    return new CommandForm(spec, Map.copyOf(filled), why, Duration.ofMinutes(waits));
  }

  private static void choices(Map<String, String> filled) {
    int choices = HolderAnswer.choices(filled.getOrDefault(CHOICES, "")).size();
    if (choices == 1 || choices > HolderAnswer.MOST) {
      throw new Fault("/fields/" + CHOICES, "A question has 2 to 6 choices, or yes and no.");
    }
    filled.forEach(
        (key, text) -> {
          boolean translated = Wordings.key(key).field().equals(CHOICES);
          if (translated && HolderAnswer.choices(text).size() != choices) {
            throw new Fault(
                "/fields/" + key, "There are as many choices in every language: " + choices + ".");
          }
        });
  }

  private static String value(CommandSpec.Field field, String text, String pointer) {
    SettingValue value = field.type().written(text);
    field
        .type()
        .objection(value)
        .ifPresent(
            o -> {
              throw new Fault(pointer, field.title() + " " + o + ".");
            });
    return value.text();
  }
}
