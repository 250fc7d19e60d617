package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.counted;

import dev.pinwright.client.model.FileKind;
import dev.pinwright.client.model.FileName;
import dev.pinwright.client.model.FileUse;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileKind;
import dev.pinwright.client.model.StoredFile;
import dev.pinwright.client.model.StoredFileDetail;
import dev.pinwright.client.model.StoredFilePage;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code file}. */
@Command(
    name = "file",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Files devices are handed, such as pictures and certificates: list, show, add, get, hand-out,"
            + " rename, delete.")
final class FileCommands {
  private static final long KIB = 1024;

  private final Context context;

  FileCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists files.")
  int list(
      @Parameters(paramLabel = "WORDS", arity = "0..1", defaultValue = "") String words,
      @Option(
              names = "--kind",
              description = "Only these: picture, certificate, font, document, script.")
          @Nullable FileKind kind,
      @Mixin Paging paging) {
    StoredFilePage page =
        call(() -> context.client().rules().listFiles(words, kind, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        f ->
            new Object[] {
              f.getName(),
              f.getKind(),
              size(f.getBytes()),
              f.getAbout(),
              f.getClearedAt() == null
                  ? counted(f.getProfiles(), "profile")
                  : "nothing; goes " + Context.time(f.getClearedAt())
            },
        "NAME",
        "KIND",
        "SIZE",
        "WHAT IT IS",
        "USED BY");
  }

  private static String size(long bytes) {
    if (bytes < KIB) {
      return counted(bytes, "byte");
    }
    long kib = Math.round(bytes / (double) KIB);
    return kib < KIB ? kib + " KiB" : "%.1f MiB".formatted(kib / (double) KIB);
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Stores a file, once it was checked for what it is.",
      footer = {
        "",
        "Examples:",
        "  pinwright file add quay.png",
        "  pinwright file add staff.p12 --name \"Staff Wi-Fi\" --password-stdin < password"
      })
  int add(
      @Parameters(paramLabel = "FILE") Path file,
      @Option(names = "--name", description = "What it is called; else as on the disk.")
          @Nullable String name,
      @Option(
              names = "--password-stdin",
              description = "Read the password of a PKCS#12 from standard input. It is not kept.")
          boolean fromStdin)
      throws IOException {
    if (!Files.isRegularFile(file) || !Files.isReadable(file)) {
      throw new Failure(Failure.USAGE, "There is no file " + file + " that can be read.");
    }
    String called = name == null ? file.getFileName().toString() : name;
    String password = fromStdin ? line() : null;
    StoredFile f =
        call(
            () -> {
              try {
                return context.client().storeFile(file, called, password);
              } catch (IOException e) {
                throw new Failure(
                    Failure.UNREACHABLE, "The service cannot be reached: " + e.getMessage() + ".");
              }
            });
    return context.print(
        f,
        () ->
            context.line(
                f.getName().equals(called)
                    ? "%s is on file: %s. Settings name it sha256:%s."
                    : "This is on file already, as %s: %s. Settings name it sha256:%s.",
                f.getName(),
                f.getAbout(),
                f.getId()));
  }

  private static String line() throws IOException {
    String line =
        new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8)).readLine();
    return line == null ? "" : line;
  }

  @Command(mixinStandardHelpOptions = true, description = "Shows a file and what names it.")
  int show(@Parameters(paramLabel = "FILE") String name) {
    StoredFileDetail d = get(name);
    StoredFile f = d.getFile();
    return context.print(
        d,
        () -> {
          context.line("%s: %s", f.getName(), f.getAbout());
          context.line(
              "%s, %s, stored %s by %s",
              f.getKind(), size(f.getBytes()), Context.time(f.getStoredAt()), f.getStoredBy());
          context.line("sha256:%s", f.getId());
          if (f.getClearedAt() != null) {
            context.line("Nothing uses it; it goes %s.", Context.time(f.getClearedAt()));
          }
          d.getUses().forEach(u -> context.line("  %s: %s", u.getProfileName(), use(u)));
        });
  }

  private static String use(FileUse u) {
    String versions = u.getLatest() == null ? "" : "version " + u.getLatest();
    String draft = Boolean.TRUE.equals(u.getDraft()) ? "draft" : "";
    return versions + (versions.isEmpty() || draft.isEmpty() ? "" : " and ") + draft;
  }

  private StoredFileDetail get(String name) {
    String id = context.file(name).getId();
    return call(() -> context.client().rules().getFile(id));
  }

  @Command(mixinStandardHelpOptions = true, description = "Writes what is in a file to the disk.")
  int get(@Parameters(paramLabel = "FILE") String name, @Parameters(paramLabel = "TO") Path to) {
    String id = context.file(name).getId();
    return FileText.keep(context, call(() -> context.client().rules().readFile(id)), to);
  }

  @Command(mixinStandardHelpOptions = true, description = "Gives a file another name.")
  int rename(
      @Parameters(paramLabel = "FILE") String name,
      @Parameters(paramLabel = "NEW-NAME") String other) {
    StoredFile f = get(name).getFile();
    StoredFileDetail d =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .renameFile(
                        f.getId(), Context.onVersion(f.getVersion()), new FileName().name(other)));
    return context.print(
        d, () -> context.line("%s is called %s now.", f.getName(), d.getFile().getName()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Deletes a file that nothing names.")
  int delete(@Parameters(paramLabel = "FILE") String name) {
    StoredFile f = get(name).getFile();
    Context.act(
        () -> context.client().rules().deleteFile(f.getId(), Context.onVersion(f.getVersion())));
    context.line("%s deleted.", f.getName());
    return 0;
  }

  @Command(
      name = "hand-out",
      mixinStandardHelpOptions = true,
      description = "Hands a document out: makes a kit that holds it, as a draft.",
      footer = {
        "",
        "Example:",
        "  pinwright file hand-out house-rules.pdf --title \"House rules\" --unit VM-HAR",
        "  pinwright kit publish \"House rules\""
      })
  int handOut(
      @Parameters(paramLabel = "FILE", description = "As it is called here.") String file,
      @Option(names = "--title", description = "What holders see; the file's name without it.")
          @Nullable String title,
      @Mixin TargetOptions targets,
      @Mixin TargetOptions.Except exclusions) {
    StoredFileDetail detail =
        call(() -> context.client().rules().getFile(context.file(file).getId()));
    String name = detail.getFile().getName();
    String called = title == null ? name.replaceFirst("\\.[^.]{1,5}$", "") : title;
    String entry = "documents[" + key(called) + "].";
    Profile kit =
        call(
            () ->
                context
                    .client()
                    .rules()
                    .addProfile(
                        new ProfileDraft()
                            .kind(ProfileKind.KIT)
                            .name(called)
                            .settings(
                                Map.of(
                                    entry + "title",
                                    called,
                                    entry + "file",
                                    "sha256:" + detail.getFile().getId()))
                            .targets(targets.specs(context))
                            .exclusions(exclusions.specs(context))));
    return context.print(
        kit,
        () ->
            context.line(
                "Kit %s made, as a draft. Publish it with: pinwright kit publish \"%s\"",
                kit.getName(), kit.getName()));
  }

  /** What an entry of the documents is called: small letters, digits and hyphens. */
  private static String key(String title) {
    String key =
        title.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-").replaceAll("^-|-$", "");
    return key.isEmpty() ? "document" : key.substring(0, Math.min(32, key.length()));
  }
}
