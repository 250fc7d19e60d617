package dev.pinwright.service.rules;

import dev.pinwright.core.Words;
import dev.pinwright.core.app.Channel;
import dev.pinwright.core.app.WantedApp;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.app.AppStore;
import dev.pinwright.storage.row.AppRow;
import dev.pinwright.storage.row.ProfileRow;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;

/**
 * Published assignments of an app that follow what is released on a channel.
 *
 * @param release code of the version it gives; empty where it names none
 */
record Followers(ProfileRow row, ProfileContent content, Channel channel, Optional<Long> release) {

  /** Those of an app, by name; what is held at a version follows nothing. */
  static List<Followers> of(Tx tx, AppRow app, Vault vault) {
    List<Followers> out = new ArrayList<>();
    for (AppStore.Assigned a : new AppStore(tx).assignments(app.id)) {
      ProfileRow row = Profiles.row(tx, a.id());
      if (row.publishedVersion == null) {
        continue;
      }
      ProfileContent content =
          ProfileContent.load(Publishing.version(tx, row.id, row.publishedVersion).content, vault);
      if (content.settings().get(WantedApp.setting(app.key, "follows"))
              instanceof SettingValue.Text follows
          && !follows.text().equals("held")) {
        out.add(
            new Followers(
                row,
                content,
                Words.parse(Channel.class, follows.text()),
                WantedApp.in(content.settings()).stream()
                    .filter(w -> w.key().equals(app.key))
                    .findAny()
                    .flatMap(WantedApp::release)));
      }
    }
    return out;
  }

  /**
   * Lets the channels of an app say what those have that follow them, after one of its assignments
   * was taken back: a version none of them gives any more is not the released one.
   */
  static void tookBack(UseCases.Act act, String appId, Vault vault) {
    Tx tx = act.tx();
    AppRow app = tx.lock(AppRow.class, appId).orElseThrow();
    List<Followers> all = of(tx, app, vault);
    Optional<Long> forAll = given(all, Channel.ALL, app.forAll);
    // who follows early releases has what all have, where nothing was released early besides
    Optional<Long> early =
        Objects.equals(app.forEarly, app.forAll)
                && all.stream().noneMatch(f -> f.channel == Channel.EARLY)
            ? forAll
            : given(all, Channel.EARLY, app.forEarly);
    forAll.filter(code -> !code.equals(app.forAll)).ifPresent(code -> said(act, app, code));
    app.forAll = forAll.orElse(app.forAll);
    app.forEarly = early.orElse(app.forEarly);
    tx.flush();
  }

  /** The version a channel is at: the one released on it, or the latest that is still given. */
  private static Optional<Long> given(List<Followers> all, Channel channel, Long released) {
    List<Long> codes =
        all.stream().filter(f -> f.channel == channel).flatMap(f -> f.release.stream()).toList();
    return codes.contains(released) ? Optional.empty() : codes.stream().max(Long::compare);
  }

  private static void said(UseCases.Act act, AppRow app, long code) {
    String version =
        new AppStore(act.tx())
            .release(app.id, code)
            .map(AppStore.ReleaseLine::version)
            .orElse(String.valueOf(code));
    act.done(Noun.APP, "released", app.id, app.name + " " + version + " is what all have again");
    act.touch(Noun.APP);
  }
}
