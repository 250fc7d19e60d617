package dev.pinwright.cli;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.DeviceSummary;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.Found;
import dev.pinwright.client.model.FoundKind;
import dev.pinwright.client.model.Group;
import dev.pinwright.client.model.Person;
import dev.pinwright.client.model.ProfileKind;
import dev.pinwright.client.model.Site;
import dev.pinwright.client.model.Unit;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.TypeConversionException;

/** What every command needs: the client, where to print, and how to find things by name. */
final class Context {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss");
  private final Map<String, String> env;
  private PrintWriter out;
  private boolean json;

  Context(Map<String, String> env, PrintWriter out) {
    this.env = env;
    this.out = out;
  }

  void printTo(PrintWriter writer) {
    out = writer;
  }

  void json(boolean on) {
    json = on;
  }

  /**
   * The word of an enum.
   *
   * @throws TypeConversionException naming the words there are
   */
  static <E> E word(E[] words, Function<String, E> of, String text) {
    try {
      return of.apply(text.strip().toLowerCase(Locale.ROOT));
    } catch (IllegalArgumentException e) {
      throw new TypeConversionException(
          "'"
              + text
              + "' is not one of "
              + Stream.of(words).map(Object::toString).collect(Collectors.joining(", ")));
    }
  }

  /** Words of the contract as a line of text. */
  static String joined(List<?> words) {
    return words.stream().map(Object::toString).collect(Collectors.joining(", "));
  }

  // ---- signing in ------------------------------------------------------------------------------

  private Path file() {
    String given = env.get("PINWRIGHT_SIGNIN");
    return given != null
        ? Path.of(given)
        : Path.of(
            env.getOrDefault("XDG_CONFIG_HOME", System.getProperty("user.home") + "/.config"),
            "pinwright",
            "signin.json");
  }

  void keep(String address, String token) {
    Path file = file();
    try {
      Files.createDirectories(file.toAbsolutePath().getParent());
      Files.deleteIfExists(file);
      Files.createFile(
          file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
      Files.writeString(file, JSON.writeValueAsString(Map.of("address", address, "token", token)));
    } catch (IOException e) {
      throw new Failure(Failure.REFUSED, "The sign-in could not be kept in " + file + ".");
    }
  }

  void forget() {
    try {
      Files.deleteIfExists(file());
    } catch (IOException e) {
      throw new Failure(Failure.REFUSED, "The sign-in in " + file() + " could not be removed.");
    }
  }

  String address() {
    return setting("address", "PINWRIGHT_ADDRESS", "http://127.0.0.1:7480");
  }

  private String setting(String field, String variable, String fallback) {
    String given = env.get(variable);
    if (given != null && !given.isBlank()) {
      return given;
    }
    try {
      JsonNode kept = JSON.readTree(file().toFile());
      return kept.path(field).asText(fallback);
    } catch (IOException e) {
      return fallback;
    }
  }

  private static final String HOW = "Sign in with: pinwright signin --login owner";

  PinwrightClient client() {
    String token = setting("token", "PINWRIGHT_TOKEN", "");
    if (token.isEmpty()) {
      throw new Failure(Failure.NOT_SIGNED_IN, "Not signed in. " + HOW);
    }
    return new PinwrightClient(address(), token);
  }

  // ---- calling ---------------------------------------------------------------------------------

  /** A call of the generated client. */
  interface Call<T> {
    T run() throws ApiException;
  }

  /** A call without an answer. */
  interface Deed {
    void run() throws ApiException;
  }

  /** Runs a call and turns what goes wrong into words and an exit code. */
  static <T> T call(Call<T> call) {
    try {
      return call.run();
    } catch (ApiException e) {
      throw failure(e);
    }
  }

  /** What says in {@code If-Match} which version a change was made on. */
  static String onVersion(int version) {
    return "\"" + version + "\"";
  }

  /** A number of things, such as {@code 3 devices}. */
  static String counted(long n, String what) {
    return n + " " + what + (n == 1 ? "" : "s");
  }

  static void act(Deed deed) {
    call(
        () -> {
          deed.run();
          return true;
        });
  }

  private static Failure failure(ApiException e) {
    if (e.getCause() instanceof JsonProcessingException) {
      return new Failure(
          Failure.BROKEN,
          "The service answered what this client cannot read. Are they of one version?");
    }
    if (e.getCode() == 0) {
      return new Failure(
          Failure.UNREACHABLE,
          "The service cannot be reached. Is it running, and is the address right?");
    }
    String detail = "The service answered " + e.getCode() + ".";
    try {
      JsonNode body = JSON.readTree(e.getResponseBody() == null ? "{}" : e.getResponseBody());
      detail = body.path("detail").asText(detail);
      if (body.path("type").asText().endsWith("/not-signed-in")) {
        detail += " " + HOW;
      }
      if (body.hasNonNull("confirmDevices")) {
        detail += " Add --confirm " + body.path("confirmDevices").asText() + ".";
      }
    } catch (IOException x) {
      // the status has to do
    }
    return new Failure(e.getCode() == 401 ? Failure.NOT_SIGNED_IN : Failure.REFUSED, detail);
  }

  // ---- printing --------------------------------------------------------------------------------

  /** Prints an answer: as JSON where asked, otherwise the way given. */
  int print(Object answer, Runnable forPeople) {
    if (json) {
      out.println(new PinwrightClient("http://127.0.0.1", "").json(answer));
    } else {
      forPeople.run();
    }
    out.flush();
    return 0;
  }

  /** Something of the contract as it is kept in a file. */
  static String json(Object thing) {
    return new PinwrightClient("http://127.0.0.1", "").json(thing) + "\n";
  }

  /**
   * Something of the contract from a file's text.
   *
   * @throws Failure when it is none
   */
  static <T> T read(String text, Class<T> type, Path file) {
    try {
      return new PinwrightClient("http://127.0.0.1", "").read(text, type);
    } catch (IllegalArgumentException e) {
      throw new Failure(Failure.USAGE, file + " is not what is wanted: " + e.getMessage());
    }
  }

  int print(Object answer, Callable<Table> table) {
    return print(
        answer,
        () -> {
          try {
            table.call().print(out, Ansi.AUTO);
          } catch (Exception e) {
            throw new IllegalStateException(e);
          }
        });
  }

  /** Prints a list: as JSON where asked, otherwise one row for each item. */
  <T> int list(Object answer, List<T> items, Function<T, Object[]> row, String... heads) {
    return print(
        answer,
        () -> {
          Table table = new Table(heads);
          items.forEach(item -> table.row(row.apply(item)));
          return table;
        });
  }

  void line(String format, Object... args) {
    out.println(args.length == 0 ? format : String.format(format, args));
  }

  /** Says how far something is, to people. */
  void progress(String format, Object... args) {
    if (!json) {
      line(format, args);
      out.flush();
    }
  }

  static String time(@Nullable OffsetDateTime at) {
    return at == null ? "" : TIME.format(at.atZoneSameInstant(ZoneId.systemDefault()));
  }

  // ---- finding ---------------------------------------------------------------------------------

  DeviceSummary device(String wanted) {
    String id = found(FoundKind.DEVICE, wanted).getId();
    return call(() -> client().devices().getDevice(id)).getDevice();
  }

  Group group(String wanted) {
    String id = found(FoundKind.GROUP, wanted).getId();
    return call(() -> client().devices().getGroup(id));
  }

  Found profile(String wanted) {
    return profile(ProfileKind.PROFILE, wanted);
  }

  Found profile(ProfileKind kind, String wanted) {
    return found(
        switch (kind) {
          case KIT -> FoundKind.KIT;
          case APP -> FoundKind.ASSIGNMENT;
          default -> FoundKind.PROFILE;
        },
        wanted);
  }

  /** What a kit can take along: a profile, or the assignment of an app. */
  Found part(String wanted) {
    List<Found> assignments =
        call(() -> client().catalogue().search(wanted, FoundKind.ASSIGNMENT, true)).stream()
            .filter(f -> f.getKind() == FoundKind.ASSIGNMENT)
            .toList();
    return assignments.size() == 1 ? assignments.get(0) : profile(wanted);
  }

  Found app(String wanted) {
    return found(FoundKind.APP, wanted);
  }

  Found file(String wanted) {
    return found(FoundKind.FILE, wanted);
  }

  Unit unit(String wanted) {
    String id = found(FoundKind.UNIT, wanted).getId();
    return call(() -> client().organisation().getUnit(id));
  }

  Site site(String wanted) {
    String id = found(FoundKind.SITE, wanted).getId();
    return call(() -> client().organisation().getSite(id));
  }

  Person person(String wanted) {
    String id = found(FoundKind.PERSON, wanted).getId();
    return call(() -> client().organisation().getPerson(id));
  }

  EnrollmentProfile enrollmentProfile(String wanted) {
    String id = found(FoundKind.ENROLLMENT_PROFILE, wanted).getId();
    return call(() -> client().intake().getEnrollmentProfile(id));
  }

  /**
   * What is called or known exactly so, looked up in the service.
   *
   * @throws Failure naming those that come near, or what tells those apart that are called so
   */
  private Found found(FoundKind kind, String wanted) {
    String what = kind.getValue().replace('-', ' ');
    List<Found> exact = call(() -> client().catalogue().search(wanted, kind, true));
    if (exact.size() > 1) {
      throw new Failure(
          Failure.REFUSED,
          "There is more than one %s %s; use the id: %s."
              .formatted(
                  what,
                  wanted,
                  exact.stream()
                      .map(f -> f.getId() + " (" + told(f) + ")")
                      .collect(Collectors.joining(", "))));
    }
    return exact.isEmpty()
        ? one(
            what,
            wanted,
            exact,
            call(() -> client().catalogue().search(near(wanted), kind, false)),
            Found::getName)
        : exact.get(0);
  }

  private static String told(Found f) {
    return f.getDetail().isEmpty() ? f.getName() : f.getDetail();
  }

  /** The beginning of a name, by which others that come near are found. */
  private static String near(String wanted) {
    return wanted.substring(0, Math.min(3, wanted.length()));
  }

  /** The one thing that was named; a failure names those that come near. */
  static <T> T one(
      String what, String wanted, List<T> exact, List<T> near, Function<T, String> name) {
    if (exact.size() == 1) {
      return exact.get(0);
    }
    if (exact.size() > 1) {
      throw new Failure(
          Failure.REFUSED, "There is more than one " + what + " " + wanted + "; use its id.");
    }
    String others = String.join(", ", near.stream().limit(5).map(name).toList());
    throw new Failure(
        Failure.REFUSED,
        "There is no "
            + what
            + " '"
            + wanted
            + "'."
            + (others.isEmpty() ? "" : " There is: " + others + "."));
  }
}
