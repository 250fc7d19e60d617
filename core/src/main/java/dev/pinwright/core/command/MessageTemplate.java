package dev.pinwright.core.command;

import dev.pinwright.core.Versioned;
import java.util.Map;

/**
 * Words that are used again.
 *
 * @param command catalogue key of the command they are for
 * @param title what the catalogue calls it
 * @param fields what is filled in, in all its languages
 * @param madeBy login of whoever wrote them last
 */
public record MessageTemplate(
    String id,
    int version,
    String name,
    String command,
    String title,
    Map<String, String> fields,
    String madeBy)
    implements Versioned {
  public MessageTemplate {
    fields = Map.copyOf(fields);
  }
}
