package dev.pinwright.service.acting;

import dev.pinwright.core.command.CommandForm;
import dev.pinwright.core.organisation.Attribute;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.organisation.AttributeStore;
import java.util.List;

/** What is said to holders: what each device fills in has to be something it knows. */
final class Spoken {
  private Spoken() {}

  /**
   * Holds the places in texts against what devices know.
   *
   * @throws Problem 400 naming one no device can fill in
   */
  static void require(Tx tx, CommandForm form) {
    List<String> attributes =
        form.fields().values().stream().anyMatch(v -> v.contains(Placeholders.ATTRIBUTE))
            ? new AttributeStore(tx)
                .of(Attribute.Kind.DEVICE).stream().map(Attribute::name).toList()
            : List.of();
    form.fields()
        .forEach(
            (key, text) -> {
              if (form.spec().speaks(key)) {
                Placeholders.objection(text, attributes)
                    .ifPresent(
                        o -> {
                          throw Problem.malformed("/fields/" + key, "The text " + o + ".");
                        });
              }
            });
  }
}
