package dev.pinwright.service.rules;

import dev.pinwright.core.app.Channel;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.change.Confirmation;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.ProfileRow;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * Brings another version of an app to all assignments that follow the channel it is released on:
 * each is published anew, with that version in place of the one before.
 */
public final class RollOuts {
  private final Catalog catalog;
  private final Vault vault;
  private final Changes changes;
  private final Publishing publishing;
  private final Waves waves;

  public RollOuts(
      Catalog catalog, Vault vault, Changes changes, Publishing publishing, Waves waves) {
    this.catalog = catalog;
    this.vault = vault;
    this.changes = changes;
    this.publishing = publishing;
    this.waves = waves;
  }

  private record Following(ProfileRow row, ProfileContent before, ProfileContent content) {}

  /** Shows what a release would do to devices. */
  public Rehearsal rehearse(
      Tx tx, AppRow app, Set<Channel> channels, AppStore.ReleaseLine release) {
    Rehearsal all = changes.ofNobody(tx);
    for (Following f : following(tx, app, channels, release)) {
      all = all.and(proposal(tx, f).rehearsal());
    }
    return all;
  }

  /**
   * Does it. Call {@code Moves.aloneWithRules} first.
   *
   * @param spec how it spreads; to all at once without
   * @return ids of the changes it is
   * @throws dev.pinwright.service.work.Problem 409 when something that is asked for is missing
   */
  public List<String> release(
      UseCases.Act act,
      AppRow app,
      Set<Channel> channels,
      AppStore.ReleaseLine release,
      Confirmation given,
      Optional<Waves.Spec> spec) {
    Tx tx = act.tx();
    List<Following> all = following(tx, app, channels, release);
    Rehearsal seen = rehearse(tx, app, channels, release);
    Changes.require(seen.asked(), seen.changing(), given, "release it");
    List<String> done = new ArrayList<>();
    for (Following f : all) {
      ProfileRow row = tx.lock(ProfileRow.class, f.row().id).orElseThrow();
      Shapes.Unpublished saying = Publishing.saying(row, f.content());
      Assignment now = saying.content().assignment().at(act.now());
      Optional<Waves.First> spreads =
          spec.map(
              s -> {
                Rehearsal whole = proposal(tx, f).rehearsal();
                return Waves.first(
                    waves.begin(tx, row, saying, s, whole.devices()),
                    whole.changing(),
                    w -> changes.ofProfile(tx, saying, now, Optional.of(w)));
              });
      Changes.Proposal proposal =
          spreads
              .map(Waves.First::proposal)
              .orElseGet(() -> changes.ofProfile(tx, saying, now))
              .given(given);
      drafted(row, f, app.key, release);
      String title =
          spreads
              .map(s -> Waves.title(row, saying.version(), 0, s.begun().plan()))
              .orElse(app.name + " " + release.version() + ": " + row.name);
      ChangeRow change =
          publishing.store(act, row, proposal, f.content().store(catalog, vault), title, given);
      spreads.ifPresent(s -> Waves.begun(act, row, s.begun(), change));
      done.add(change.id);
    }
    return done;
  }

  private Changes.Proposal proposal(Tx tx, Following f) {
    return changes.ofProfile(tx, Publishing.saying(f.row(), f.content()));
  }

  /** A draft that nobody changed says what is published; one that somebody did, the version too. */
  private void drafted(ProfileRow row, Following f, String key, AppStore.ReleaseLine release) {
    row.draft =
        row.draftChanged
            ? with(ProfileContent.load(row.draft, vault), key, release).store(catalog, vault)
            : f.content().store(catalog, vault);
  }

  /** Published assignments that follow one of the channels, as they would be. */
  private List<Following> following(
      Tx tx, AppRow app, Set<Channel> channels, AppStore.ReleaseLine release) {
    return Followers.of(tx, app, vault).stream()
        .filter(f -> channels.contains(f.channel()))
        .map(f -> new Following(f.row(), f.content(), with(f.content(), app.key, release)))
        .filter(f -> !f.content().equals(f.before()))
        .toList();
  }

  private static ProfileContent with(
      ProfileContent content, String key, AppStore.ReleaseLine release) {
    Map<String, SettingValue> settings = new TreeMap<>(content.settings());
    settings.computeIfPresent(
        WantedApp.setting(key, "version"),
        (k, before) -> new SettingValue.Text(WantedApp.written(release.version(), release.code())));
    return new ProfileContent(settings, content.parts(), content.assignment());
  }
}
