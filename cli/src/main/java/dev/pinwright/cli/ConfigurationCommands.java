package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import dev.pinwright.client.model.ConfigurationDifference;
import dev.pinwright.client.model.ConfigurationFiles;
import dev.pinwright.client.model.ConfigurationLoad;
import dev.pinwright.client.model.ConfigurationLoaded;
import dev.pinwright.client.model.ConfigurationRehearsal;
import dev.pinwright.client.model.ConfigurationStep;
import dev.pinwright.client.model.ConfigurationVerb;
import dev.pinwright.client.model.Intent;
import dev.pinwright.client.model.StoredFile;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code configuration}. */
@Command(
    name = "configuration",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description = "The whole of rules, intake and organisation as files: export, load, schema.",
    footer = {
      "",
      "Examples:",
      "  pinwright configuration export house",
      "  pinwright configuration load house --dry-run",
      "  pinwright configuration load house --delete --confirm 40"
    })
final class ConfigurationCommands {
  private static final String FILES = "files";
  private static final String FIRST = "pinwright.yaml";
  private static final int DIFFERENCES_SHOWN = 8;
  private static final YAMLMapper YAML = new YAMLMapper();

  private final Context context;

  ConfigurationCommands(Context context) {
    this.context = context;
  }

  // ---- export ----------------------------------------------------------------------------------

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Writes everything that is arranged into a folder, as YAML, the same to the letter as long"
              + " as nothing changes. Texts of what is no more are removed, and told; all other"
              + " files stay.")
  int export(@Parameters(paramLabel = "DIR") Path dir) {
    ConfigurationFiles all = call(() -> context.client().rules().getConfiguration());
    try {
      if (Files.isDirectory(dir) && !Files.exists(dir.resolve(FIRST)) && !empty(dir)) {
        throw new Failure(
            Failure.USAGE,
            dir + " has other files and no " + FIRST + "; name a new folder or an earlier export.");
      }
      List<String> removed = remove(dir, all);
      for (Map.Entry<String, String> text : all.getTexts().entrySet()) {
        Path file = dir.resolve(text.getKey());
        Files.createDirectories(file.getParent());
        Files.writeString(file, text.getValue());
      }
      for (StoredFile f : all.getFiles()) {
        fetch(dir.resolve(FILES), f);
      }
      return context.print(
          all,
          () -> {
            context.line(
                "%s of text and %s written to %s.",
                counted(all.getTexts().size(), "file"),
                counted(all.getFiles().size(), "other file"),
                dir);
            removed.forEach(r -> context.line("Removed: %s", r));
            all.getLeftOut().forEach(context::line);
          });
    } catch (IOException e) {
      throw new Failure(Failure.USAGE, dir + " cannot be written: " + e.getMessage() + ".");
    }
  }

  private static boolean empty(Path dir) throws IOException {
    try (Stream<Path> inside = Files.list(dir)) {
      return inside.findAny().isEmpty();
    }
  }

  /** Removes the texts of what is no more, which loading would bring back. */
  private static List<String> remove(Path dir, ConfigurationFiles all) throws IOException {
    List<String> removed = new ArrayList<>();
    for (String path : texts(dir).keySet()) {
      if (!all.getTexts().containsKey(path)) {
        Files.delete(dir.resolve(path));
        removed.add(path);
      }
    }
    return removed;
  }

  private void fetch(Path dir, StoredFile f) throws IOException {
    Path file = dir.resolve(f.getName()).normalize();
    if (!dir.normalize().equals(file.getParent())) {
      throw new Failure(Failure.USAGE, f.getName() + " is no name for a file; rename it first.");
    }
    Files.createDirectories(dir);
    if (!Files.exists(file) || !digest(file).equals(f.getId())) {
      Path fetched = call(() -> context.client().rules().readFile(f.getId())).toPath();
      Files.move(fetched, file, StandardCopyOption.REPLACE_EXISTING);
    }
  }

  // ---- load ------------------------------------------------------------------------------------

  @Command(
      mixinStandardHelpOptions = true,
      description =
          "Loads what is in a folder: all of it, or nothing, as one change. What no file is of stays"
              + " as it is: without intake, say, intake stays.",
      footer = {
        "",
        "Secrets are in no file. Those that are not on file yet are given by a YAML file of their own:",
        "",
        "  profile:",
        "    Staff Wi-Fi:",
        "      wifi[staff].passphrase: ...",
        "  enrollment-profile:",
        "    Own phones:",
        "      passphrase: ...",
        "  file:",
        "    staff.p12:",
        "      password: ..."
      })
  int load(
      @Parameters(paramLabel = "DIR") Path dir,
      @Option(names = "--delete", description = "Delete what is in no file; else it stays.")
          boolean delete,
      @Option(
              names = "--secrets",
              paramLabel = "FILE",
              description = "YAML with values that are in no file.")
          @Nullable Path secrets,
      @Mixin GivenOptions given) {
    try {
      Map<String, String> digests = digests(dir);
      Map<String, Map<String, Map<String, String>>> values =
          secrets == null ? new HashMap<>() : secrets(secrets);
      Map<String, Map<String, String>> passwords =
          values.containsKey("file") ? values.remove("file") : Map.of();
      ConfigurationLoad load =
          new ConfigurationLoad()
              .texts(texts(dir))
              .files(digests)
              .secrets(values)
              .delete(delete)
              .confirmDevices(given.confirm)
              .reason(given.reason);
      if (given.dryRun) {
        ConfigurationRehearsal r = call(() -> context.client().rules().rehearseConfiguration(load));
        return context.print(r, () -> tell(r, given));
      }
      store(dir, digests, passwords, load);
      if (given.note != null) {
        return ProposalCommands.propose(context, new Intent().load(load), given.note);
      }
      ConfigurationLoaded done = call(() -> context.client().rules().loadConfiguration(load));
      return context.print(done, () -> tell(done));
    } catch (IOException e) {
      throw new Failure(Failure.USAGE, dir + " cannot be read: " + e.getMessage() + ".");
    }
  }

  /** Stores what settings name and the service has not got. */
  private void store(
      Path dir,
      Map<String, String> digests,
      Map<String, Map<String, String>> passwords,
      ConfigurationLoad load)
      throws IOException {
    if (digests.isEmpty()) {
      return;
    }
    for (String name :
        call(() -> context.client().rules().rehearseConfiguration(load)).getFilesWanted()) {
      String password = passwords.getOrDefault(name, Map.of()).get("password");
      // under a name nothing else has; what loads it calls it as it is called here
      String called = digests.get(name).substring(0, 12) + " " + name;
      call(
          () -> {
            try {
              return context
                  .client()
                  .storeFile(
                      dir.resolve(FILES).resolve(name),
                      called.substring(0, Math.min(called.length(), 120)),
                      password);
            } catch (IOException e) {
              throw new Failure(
                  Failure.UNREACHABLE, "The service cannot be reached: " + e.getMessage() + ".");
            }
          });
    }
  }

  private void tell(ConfigurationRehearsal r, GivenOptions given) {
    steps(r.getSteps(), false);
    r.getFilesWanted().forEach(f -> context.line("store   file                %s", f));
    r.getLeftOut().forEach(context::line);
    if (r.getOutOfOrder() > 0) {
      context.line("%s more would be out of order at once.", counted(r.getOutOfOrder(), "device"));
    }
    if (r.getSettings() == null) {
      context.line("No device gets other settings.");
    } else {
      Rehearsals.effects(context, r.getSettings(), false);
    }
    given.tell(context, r.getSecondWanted(), r.getConfirmDevices(), r.getReasonWanted());
  }

  private void tell(ConfigurationLoaded done) {
    steps(done.getSteps(), true);
    done.getLeftOut().forEach(context::line);
    if (done.getChange() != null) {
      context.line(
          "Loaded; %s get other settings. Watch it: pinwright change show %s",
          counted(done.getChange().getTotal(), "device"), done.getChange().getId());
    } else {
      context.line("Loaded; no device gets other settings.");
    }
  }

  private void steps(List<ConfigurationStep> steps, boolean done) {
    List<ConfigurationStep> staying =
        steps.stream().filter(s -> s.getVerb() == ConfigurationVerb.STAY).toList();
    steps.stream()
        .filter(s -> s.getVerb() != ConfigurationVerb.STAY)
        .forEach(
            s -> {
              context.line("%-7s %-19s %s", s.getVerb(), s.getPart(), s.getName());
              s.getDifferences().stream().limit(DIFFERENCES_SHOWN).forEach(this::difference);
              if (s.getDifferences().size() > DIFFERENCES_SHOWN) {
                context.line(
                    "          and %d more", s.getDifferences().size() - DIFFERENCES_SHOWN);
              }
            });
    if (steps.size() == staying.size()) {
      context.line("The files say what is so already.");
    }
    if (!staying.isEmpty()) {
      context.line(
          "%s in no file and %s; --delete deletes:",
          staying.size() == 1 ? "1 thing is" : staying.size() + " things are",
          done ? "stayed" : staying.size() == 1 ? "stays" : "stay");
      staying.forEach(s -> context.line("        %-19s %s", s.getPart(), s.getName()));
    }
  }

  private void difference(ConfigurationDifference d) {
    context.line("          %s: %s -> %s", d.getWhere(), line(d.getBefore()), line(d.getAfter()));
  }

  private static String line(@Nullable String value) {
    return value == null ? "(none)" : value.replaceAll("\\s*\\n\\s*", " ");
  }

  // ---- the folder ------------------------------------------------------------------------------

  /** Texts of a configuration by path, with slashes whatever the system has. */
  private static Map<String, String> texts(Path dir) throws IOException {
    Map<String, String> texts = new TreeMap<>();
    if (!Files.exists(dir.resolve(FIRST))) {
      return texts;
    }
    for (String top : List.of("organisation", "intake", "rules")) {
      if (Files.isDirectory(dir.resolve(top))) {
        try (Stream<Path> inside = Files.walk(dir.resolve(top), 2)) {
          inside
              .filter(f -> f.getFileName().toString().endsWith(".yaml"))
              .forEach(f -> texts.put(slashed(dir.relativize(f)), FileText.read(f, "what is so")));
        }
      }
    }
    texts.put(FIRST, FileText.read(dir.resolve(FIRST), "what is so"));
    return texts;
  }

  private static String slashed(Path path) {
    List<String> names = new ArrayList<>();
    path.forEach(n -> names.add(n.toString()));
    return String.join("/", names);
  }

  private static Map<String, String> digests(Path dir) throws IOException {
    Map<String, String> digests = new TreeMap<>();
    Path files = dir.resolve(FILES);
    if (Files.isDirectory(files)) {
      try (Stream<Path> inside = Files.list(files)) {
        inside
            .filter(Files::isRegularFile)
            .forEach(f -> digests.put(f.getFileName().toString(), digest(f)));
      }
    }
    return digests;
  }

  private static String digest(Path file) {
    try (DigestInputStream in =
        new DigestInputStream(Files.newInputStream(file), MessageDigest.getInstance("SHA-256"))) {
      in.transferTo(OutputStream.nullOutputStream());
      return HexFormat.of().formatHex(in.getMessageDigest().digest());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  private static Map<String, Map<String, Map<String, String>>> secrets(Path file) {
    try {
      return new HashMap<>(
          YAML.readValue(FileText.read(file, "secrets"), new TypeReference<>() {}));
    } catch (JsonProcessingException e) {
      throw new Failure(
          Failure.USAGE,
          file + " has to be YAML: part, name, key, value; see pinwright configuration load -h.");
    }
  }

  // ---- schema ----------------------------------------------------------------------------------

  @Command(
      mixinStandardHelpOptions = true,
      description = "Prints what the files are, as a JSON Schema (draft 2020-12).")
  int schema() {
    Object schema = call(() -> context.client().rules().getConfigurationSchema());
    return context.print(
        schema, () -> context.line("%s", new ObjectMapper().valueToTree(schema).toPrettyString()));
  }
}
