package dev.pinwright.service.rules;

import com.fasterxml.jackson.databind.JsonNode;
import dev.pinwright.catalog.ProfileSchema;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.profile.ProfileStore;
import dev.pinwright.storage.row.ProfileRow;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Profiles and kits as files: what one says, not whom it goes to, and no secrets. The form is
 * {@link ProfileSchema}.
 */
public final class ProfileFiles {
  private final UseCases useCases;
  private final Catalog catalog;
  private final Vault vault;
  private final Profiles profiles;
  private final KitParts parts;

  public ProfileFiles(UseCases useCases, Catalog catalog, Vault vault, Profiles profiles) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.vault = vault;
    this.profiles = profiles;
    parts = new KitParts(catalog);
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
      Optional<List<String>> secretsLeftOut,
      Optional<ProfileKind> kind,
      Optional<List<Part>> parts) {}

  /** A part of a kit, by the name of its profile. */
  public record Part(@Nullable String profile, @Nullable Boolean whenInOrder) {}

  /** The draft of a profile. */
  public File write(Caller caller, String id) {
    return useCases.read(
        tx -> {
          ProfileRow row = Profiles.row(tx, id);
          ProfileContent content = ProfileContent.load(row.draft, vault);
          Map<String, JsonNode> shown = new TreeMap<>(content.shown(catalog));
          List<String> secrets = shown.keySet().stream().filter(this::secret).toList();
          shown.keySet().removeAll(secrets);
          return new File(
              ProfileSchema.FORMAT,
              row.name,
              Optional.of(row.description).filter(d -> !d.isEmpty()),
              Optional.of(shown),
              Optional.of(secrets).filter(s -> !s.isEmpty()),
              Optional.of(row.kind()).filter(k -> k != ProfileKind.PROFILE),
              Optional.of(
                      parts.shown(tx, content.parts()).stream()
                          .map(p -> new Part(p.name(), p.whenInOrder()))
                          .toList())
                  .filter(p -> !p.isEmpty()));
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
            Optional.empty(),
            Optional.empty(),
            file.kind(),
            file.parts().map(this::specs)));
  }

  private List<Profiles.PartSpec> specs(List<Part> written) {
    return useCases.read(
        tx ->
            written.stream()
                .map(
                    p ->
                        new Profiles.PartSpec(
                            new ProfileStore(tx)
                                .byName(String.valueOf(p.profile()))
                                .orElseThrow(
                                    () ->
                                        Problem.malformed(
                                            "/parts",
                                            "There is no profile called "
                                                + p.profile()
                                                + "; read its file first."))
                                .id,
                            p.whenInOrder()))
                .toList());
  }
}
