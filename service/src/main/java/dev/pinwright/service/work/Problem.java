package dev.pinwright.service.work;

import dev.pinwright.core.Fault;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.function.Supplier;

/**
 * Something the caller can mend: RFC 9457 problem details. {@code detail} says what was wrong and
 * what would be right; it never holds a secret.
 */
public final class Problem extends RuntimeException {
  /** What every problem type starts with. */
  public static final String BASE = "https://pinwright.example/problems/";

  private final int status;
  private final String type;
  private final String title;
  private final Map<String, Object> extras = new LinkedHashMap<>();

  public Problem(int status, String type, String title, String detail) {
    super(detail, null, false, false);
    this.status = status;
    this.type = type;
    this.title = title;
  }

  /** 400: the request cannot be read or a field is wrong; {@code where} is a JSON pointer. */
  public static Problem malformed(String where, String detail) {
    Problem p = new Problem(400, "malformed", "The request is not right", detail);
    return where.isEmpty() ? p : p.with("pointer", where);
  }

  /** 400: what core says is wrong, as a sentence; {@code where} is a JSON pointer. */
  public static Problem malformed(String where, IllegalArgumentException fault) {
    String words = String.valueOf(fault.getMessage());
    return malformed(
        where, words.substring(0, 1).toUpperCase(Locale.ROOT) + words.substring(1) + ".");
  }

  /** What core makes of something; 400 with its words, {@code where}, when it refuses. */
  public static <T> T reading(String where, Supplier<T> reading) {
    try {
      return reading.get();
    } catch (Fault e) {
      throw malformed(where + e.pointer(), e.getMessage());
    } catch (IllegalArgumentException e) {
      throw malformed(where, e);
    }
  }

  /** 404. */
  public static Problem notFound(String what, String id) {
    return new Problem(404, "not-found", "Not found", "There is no " + what + " " + id + ".");
  }

  /** 412: someone else saved it meanwhile; {@code version} is the one there is now. */
  public static Problem changedMeanwhile(String what, int version) {
    return new Problem(
            412,
            "changed-meanwhile",
            "Changed meanwhile",
            "Someone saved this "
                + what
                + " after you opened it; read it again and repeat your change.")
        .with("version", version);
  }

  /** 409: the state does not allow it. */
  public static Problem conflict(String type, String detail) {
    return new Problem(409, type, "Not possible as things stand", detail);
  }

  /** This, with what it is about before its words. */
  public Problem about(String what) {
    Object pointer = extras.get("pointer");
    String where = pointer == null ? what : what + ", " + String.valueOf(pointer).substring(1);
    Problem told = new Problem(status, type, title, where + ": " + getMessage());
    told.extras.putAll(extras);
    told.extras.remove("pointer");
    return told;
  }

  /** Adds a member. */
  public Problem with(String name, Object value) {
    extras.put(name, value);
    return this;
  }

  public int status() {
    return status;
  }

  /** The end of the type URI, such as {@code spent-code}. */
  public String type() {
    return type;
  }

  /** Extra members. */
  public Map<String, Object> extras() {
    return extras;
  }

  /** The problem as a JSON object. */
  public Map<String, Object> body() {
    Map<String, Object> body = new LinkedHashMap<>();
    body.put("type", BASE + type);
    body.put("title", title);
    body.put("status", status);
    body.put("detail", getMessage());
    body.putAll(extras);
    return body;
  }
}
