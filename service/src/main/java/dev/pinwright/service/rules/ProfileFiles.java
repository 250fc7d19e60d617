package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.catalog.ProfileSchema;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.row.ProfileRow;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Profiles as files: what one says, not whom it goes to, and no secrets. The form is {@link
 * ProfileSchema}.
 */
public final class ProfileFiles {
  private final UseCases useCases;
  private final Catalog catalog;
  private final Vault vault;
  private final Profiles profiles;

  public ProfileFiles(UseCases useCases, Catalog catalog, Vault vault, Profiles profiles) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.vault = vault;
    this.profiles = profiles;
  }

  /**
   * A profile as a file.
   *
   * @param format {@link ProfileSchema#FORMAT}
   * @param secretsLeftOut keys of the secrets it has; they are not in the file
   */
  public record File(
      @Nullable String format,
      @Nullable String name,
      Optional<String> description,
      Optional<Map<String, JsonNode>> settings,
      Optional<List<String>> secretsLeftOut) {}

  /** The draft of a profile. */
  public File write(Caller caller, String id) {
    return useCases.read(
        tx -> {
          ProfileRow row = Profiles.row(tx, id);
          Map<String, JsonNode> shown =
              new TreeMap<>(ProfileContent.load(row.draft, vault).shown(catalog));
          List<String> secrets = shown.keySet().stream().filter(this::secret).toList();
          shown.keySet().removeAll(secrets);
          return new File(
              ProfileSchema.FORMAT,
              row.name,
              Optional.of(row.description).filter(d -> !d.isEmpty()),
              Optional.of(shown),
              Optional.of(secrets).filter(s -> !s.isEmpty()));
        });
  }

  private boolean secret(String key) {
    return catalog.setting(key).filter(Setting::sensitive).isPresent();
  }

  /**
   * Writes a new profile from a file, as a draft that goes to nobody.
   *
   * @throws Problem 400 naming what is wrong in it, 409 when there is a profile of its name
   */
  public Profiles.Detail read(Caller caller, File file) {
    if (!ProfileSchema.FORMAT.equals(file.format())) {
      throw Problem.malformed(
          "/format", "This is no profile file: its format has to be " + ProfileSchema.FORMAT + ".");
    }
    if (file.name() == null || file.settings().isEmpty()) {
      throw Problem.malformed(
          file.name() == null ? "/name" : "/settings", "A profile file has a name and settings.");
    }
    return profiles.add(
        caller,
        new Profiles.Draft(
            Optional.of(file.name()),
            file.description(),
            file.settings(),
            Optional.empty(),
            Optional.empty()));
  }
}
