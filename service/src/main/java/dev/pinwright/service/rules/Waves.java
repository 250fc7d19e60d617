package dev.pinwright.service.rules;

import com.github.f4b6a3.ulid.UlidCreator;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.Setting;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.change.Progress;
import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.change.Wave;
import dev.pinwright.core.change.WavePlan;
import dev.pinwright.core.change.WaveVerb;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Known;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.change.ChangeStore;
import dev.pinwright.storage.change.Moves;
import dev.pinwright.storage.change.WaveStore;
import dev.pinwright.storage.change.WaveStore.Spreading;
import dev.pinwright.storage.group.GroupStore;
import dev.pinwright.storage.row.ChangeRow;
import dev.pinwright.storage.row.GroupRow;
import dev.pinwright.storage.row.ProfileRow;
import dev.pinwright.storage.row.ProfileVersionRow;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Publications that spread wave by wave. Whom the latest wave has not reached keeps the version
 * before; whoever joins meanwhile is reached or not as if they had been there.
 */
public final class Waves {
  private static final int MOST = 200;

  /** Most draws of lots. One in three for a single device of many finds nobody; so many never. */
  private static final int DRAWS = 30;

  private static final int USUAL_HOLD = 60;
  private static final int USUAL_BOUND = 5;

  private final UseCases useCases;
  private final Catalog catalog;
  private final Changes changes;
  private final Vault vault;

  public Waves(UseCases useCases, Catalog catalog, Changes changes, Vault vault) {
    this.useCases = useCases;
    this.catalog = catalog;
    this.changes = changes;
    this.vault = vault;
  }

  /** One step as written; exactly one of these. */
  public record StepSpec(
      Optional<Integer> devices, Optional<Integer> share, Optional<String> group) {}

  /**
   * A plan as written.
   *
   * @param steps before the last, which reaches everybody
   * @param hold minutes from one wave to the next; an hour when it is not said
   * @param bound percent that may fail; five when it is not said
   */
  public record Spec(
      Optional<List<StepSpec>> steps, Optional<Integer> hold, Optional<Integer> bound) {

    /** The steps in words: {@code about 5, 25 %, a group, everybody}. */
    public String words() {
      List<String> words = new ArrayList<>();
      for (StepSpec s : steps.orElse(List.of())) {
        words.add(
            s.devices()
                .map(n -> "about " + n)
                .or(() -> s.share().map(percent -> percent + " %"))
                .orElse("a group"));
      }
      words.add("everybody");
      return String.join(", ", words);
    }
  }

  /**
   * One wave.
   *
   * @param words whom it reaches: {@code about 5 devices}, {@code 25 %}
   * @param begun whether it has
   */
  public record Step(String words, boolean begun) {}

  /**
   * How far a publication has spread.
   *
   * @param at the wave it is at, from 0
   * @param stopped whether it waits for somebody
   * @param reason why it stopped; empty otherwise
   * @param next when the next wave may begin
   * @param devices how many devices it goes to in all
   * @param changes ids of the changes the waves so far were
   */
  public record Shown(
      int version,
      List<Step> waves,
      int at,
      boolean stopped,
      String reason,
      Instant next,
      int hold,
      int bound,
      long devices,
      long reached,
      long done,
      long waiting,
      long failed,
      List<String> changes) {}

  // ---- beginning -------------------------------------------------------------------------------

  /**
   * A plan that may be followed.
   *
   * @throws Problem 400 saying what is wrong in it
   */
  static WavePlan plan(Tx tx, Spec spec) {
    List<WavePlan.Step> steps = new ArrayList<>();
    for (StepSpec s : spec.steps().orElse(List.of())) {
      steps.add(
          Problem.reading(
              "/waves/steps/" + steps.size(),
              () -> new WavePlan.Step(s.devices(), s.share(), s.group())));
      s.group().ifPresent(g -> Known.id(tx, GroupRow.class, "group", g));
    }
    return Problem.reading(
        "/waves",
        () ->
            new WavePlan(steps, spec.hold().orElse(USUAL_HOLD), spec.bound().orElse(USUAL_BOUND)));
  }

  /** A publication about to spread: its plan, whom it reaches first, and what they had before. */
  record Begun(WavePlan plan, Wave first, Optional<Integer> before, long devices) {
    static Begun drawn(WavePlan plan, Optional<Integer> before, long devices) {
      String salt = UlidCreator.getMonotonicUlid().toString();
      return new Begun(plan, plan.wave(0, devices, salt), before, devices);
    }
  }

  /** The first wave of a publication, and what it does. */
  record First(Begun begun, Changes.Proposal proposal) {}

  /**
   * Draws lots for the first wave, anew while it would change no device: of a few devices among
   * few, none may come first.
   *
   * @param changing how many devices it would change in all
   * @param of what a wave does
   */
  static First first(Begun begun, long changing, Function<Wave, Changes.Proposal> of) {
    First first = new First(begun, of.apply(begun.first()));
    boolean drawn = changing > 0 && begun.first().reach() > 0;
    for (int i = 0; drawn && i < DRAWS && first.proposal().rehearsal().changing() == 0; i++) {
      Begun again = Begun.drawn(begun.plan(), begun.before(), begun.devices());
      first = new First(again, of.apply(again.first()));
    }
    return first;
  }

  /**
   * Goes on when a draft may spread wave by wave.
   *
   * @param devices how many it would reach
   * @throws Problem 409 saying why it may not
   */
  Begun begin(Tx tx, ProfileRow row, Shapes.Unpublished draft, Spec spec, long devices) {
    WavePlan plan = plan(tx, spec);
    Assignment wanted = draft.content().assignment();
    if (row.kind() == ProfileKind.KIT) {
      throw refused("A kit goes to all at once; publish the profiles in it in waves.");
    }
    if (new WaveStore(tx).find(row.id).isPresent()) {
      throw refused(
          row.name + " still spreads; let that end, take it back, or publish this to all at once.");
    }
    if (!wanted.window().holds(useCases.now())) {
      throw refused("It begins later; waves run from the publication on.");
    }
    if (row.publishedVersion != null
        && !(row.inForce
            && wanted.equals(content(tx, row.id, row.publishedVersion).assignment()))) {
      throw refused(
          "Waves are for what a profile says; whom it goes to changes for all at once."
              + " Publish that first.");
    }
    return Begun.drawn(plan, Optional.ofNullable(row.publishedVersion), devices);
  }

  private static Problem refused(String why) {
    return Problem.conflict("no-waves", why);
  }

  /** Notes that a publication spreads. */
  static void begun(UseCases.Act act, ProfileRow row, Begun begun, ChangeRow first) {
    new WaveStore(act.tx())
        .begin(
            new Spreading(
                row.id,
                row.publishedVersion,
                begun.before(),
                Json.write(begun.plan()),
                begun.first().salt(),
                begun.devices(),
                0,
                "going",
                "",
                act.now(),
                List.of(first.id)),
            begun.first());
  }

  // ---- looking ---------------------------------------------------------------------------------

  /** How far a profile's latest publication has spread; empty when it went to all. */
  public Optional<Shown> get(Caller caller, String profileId) {
    return useCases.snapshot(
        tx -> {
          Profiles.row(tx, profileId);
          return new WaveStore(tx).find(profileId).map(s -> shown(tx, s));
        });
  }

  private static WavePlan plan(Spreading s) {
    return Json.read(s.plan(), WavePlan.class);
  }

  private static List<ChangeRow> rows(Tx tx, Spreading s) {
    ChangeStore store = new ChangeStore(tx);
    return s.changes().stream()
        .map(id -> store.find(id).orElse(null))
        .filter(Objects::nonNull)
        .toList();
  }

  private Shown shown(Tx tx, Spreading s) {
    WavePlan plan = plan(s);
    Sum sum = sum(tx, s, rows(tx, s));
    List<Step> steps = new ArrayList<>();
    for (int i = 0; i < plan.waves(); i++) {
      steps.add(
          new Step(
              i < plan.steps().size() ? words(tx, plan.steps().get(i)) : "everybody",
              i <= s.step()));
    }
    return new Shown(
        s.version(),
        steps,
        s.step(),
        s.state().equals("stopped"),
        s.reason(),
        s.begunAt().plus(Duration.ofMinutes(plan.hold())),
        plan.hold(),
        plan.bound(),
        s.devices(),
        sum.total(),
        sum.done(),
        sum.waiting(),
        sum.failed(),
        s.changes());
  }

  private static String words(Tx tx, WavePlan.Step step) {
    return step.devices()
        .map(n -> n == 1 ? "one device" : "about " + n + " devices")
        .or(() -> step.share().map(percent -> percent + " %"))
        .or(
            () ->
                step.group()
                    .map(
                        g ->
                            "the group " + new GroupStore(tx).names(List.of(g)).getOrDefault(g, g)))
        .orElse("");
  }

  /**
   * How devices are with several changes together. Who turned down something else long ago has this
   * all the same.
   */
  private record Sum(long total, long done, long waiting, long failed) {}

  private Sum sum(Tx tx, Spreading s, List<ChangeRow> rows) {
    long total = 0;
    long done = 0;
    long waiting = 0;
    long blocked = 0;
    Map<String, Progress> all = new ChangeStore(tx).progress(rows);
    for (ChangeRow row : rows) {
      Progress p = all.get(row.id);
      total += row.total;
      done += p.done();
      waiting += p.waiting();
      blocked += p.failed();
    }
    List<String> ids = rows.stream().map(row -> row.id).toList();
    long failed = blocked == 0 ? 0 : failed(tx, s, ids);
    return new Sum(total, done + blocked - failed, waiting, failed);
  }

  /** Devices that turned down what the publication says, or failed at it. */
  private long failed(Tx tx, Spreading s, List<String> changeIds) {
    WaveStore store = new WaveStore(tx);
    Map<String, SettingValue> said = content(tx, s.profileId(), s.version()).settings();
    return said.keySet().stream().anyMatch(catalog::apart)
        ? store.failing(changeIds, s.profileId())
        : store.refusing(
            changeIds,
            said.keySet().stream()
                .flatMap(key -> catalog.setting(key).stream())
                .map(Setting::path)
                .toList());
  }

  // ---- going on --------------------------------------------------------------------------------

  /**
   * Does something about a publication that spreads.
   *
   * @param at the wave it was seen at; another one by now is a conflict
   * @return how far it has spread then; empty when it has reached everybody
   * @throws Problem 404 when it spreads no longer, 409 when it is at another wave by now
   */
  public Optional<Shown> act(Caller caller, String profileId, @Nullable WaveVerb verb, int at) {
    if (verb == null) {
      throw Problem.malformed("/verb", "Say next, stop or go-on.");
    }
    return useCases.act(
        caller,
        act -> {
          Tx tx = act.tx();
          Moves.aloneWithRules(tx);
          ProfileRow row =
              tx.lock(ProfileRow.class, profileId)
                  .orElseThrow(() -> Problem.notFound("profile", profileId));
          Spreading s =
              new WaveStore(tx)
                  .find(profileId)
                  .orElseThrow(() -> Problem.notFound("wave of profile", profileId));
          if (s.step() != at) {
            throw Problem.conflict(
                "wave-passed", "It is at wave " + (s.step() + 1) + " by now; look again.");
          }
          switch (verb) {
            case NEXT -> next(act, caller, row, s);
            case STOP -> stop(act, row, "Stopped by " + caller.login());
            case GO_ON -> {
              new WaveStore(tx).state(profileId, false, "");
              act.done(Noun.PROFILE, "waves-go-on", profileId, "Waves of " + row.name + " go on");
            }
          }
          act.touch(Noun.CHANGE);
          return new WaveStore(tx).find(profileId).map(now -> shown(tx, now));
        });
  }

  private static void stop(UseCases.Act act, ProfileRow row, String why) {
    new WaveStore(act.tx()).state(row.id, true, why);
    act.done(Noun.PROFILE, "waves-stopped", row.id, "Waves of " + row.name + ": " + why);
    act.touch(Noun.CHANGE);
  }

  private void next(UseCases.Act act, Caller caller, ProfileRow row, Spreading s) {
    Tx tx = act.tx();
    WavePlan plan = plan(s);
    int step = s.step() + 1;
    Wave wave = plan.wave(step, s.devices(), s.salt());
    boolean last = step == plan.waves() - 1;
    ProfileContent content = content(tx, row.id, s.version());
    Changes.Proposal proposal =
        changes.ofPublished(
            tx,
            row.kind(),
            new Moves.Candidate(
                row.id,
                s.version(),
                content.assignment().at(act.now()),
                List.of(),
                last ? Optional.empty() : Optional.of(wave)));
    WaveStore store = new WaveStore(tx);
    if (last) {
      store.end(row.id);
    } else {
      store.reaches(row.id, step, wave, act.now());
    }
    String title = title(row, s.version(), step, plan);
    proposal
        .applyIfAny(caller, title)
        .ifPresent(
            change -> {
              change.profileId = row.id;
              change.version = s.version();
              if (!last) {
                store.was(row.id, change.id);
              }
            });
    act.done(Noun.PROFILE, "wave", row.id, title);
    act.touch(Noun.CHANGE, Noun.DEVICE);
  }

  /** What the change of a wave is called. */
  static String title(ProfileRow row, int version, int step, WavePlan plan) {
    return "Publish %s, version %d: wave %d of %d"
        .formatted(row.name, version, step + 1, plan.waves());
  }

  /** Lets waves go on whose time has come, and stops those too many devices failed of. */
  public void follow() {
    for (Spreading s : useCases.read(tx -> new WaveStore(tx).all(MOST))) {
      if (s.state().equals("going")
          && useCases.read(tx -> decide(tx, s)) != WavePlan.Decision.WAIT) {
        useCases.run(Caller.SERVICE, act -> follow(act, s));
      }
    }
  }

  private void follow(UseCases.Act act, Spreading seen) {
    Tx tx = act.tx();
    Moves.aloneWithRules(tx);
    ProfileRow row = tx.lock(ProfileRow.class, seen.profileId()).orElse(null);
    Optional<Spreading> now = new WaveStore(tx).find(seen.profileId());
    // another node was quicker, or somebody published
    if (row == null || now.isEmpty() || !now.get().equals(seen)) {
      return;
    }
    switch (decide(tx, seen)) {
      case NEXT -> next(act, Caller.SERVICE, row, seen);
      case STOP -> {
        Sum sum = sum(tx, seen, rows(tx, seen));
        stop(act, row, sum.failed() + " of " + sum.total() + " devices failed");
      }
      case WAIT -> {
        // it was otherwise a moment ago
      }
    }
  }

  private WavePlan.Decision decide(Tx tx, Spreading s) {
    List<ChangeRow> rows = rows(tx, s);
    Sum all = sum(tx, s, rows);
    List<ChangeRow> latest = rows.isEmpty() ? rows : rows.subList(rows.size() - 1, rows.size());
    Sum last = sum(tx, s, latest);
    return plan(s)
        .decide(
            s.begunAt(),
            new Progress(last.done(), last.waiting(), last.failed(), 0),
            last.total(),
            all.failed(),
            all.total(),
            useCases.now());
  }

  /** A publication that stopped by itself or by somebody, for who should know. */
  public record Stopped(Rehearsal.Named profile, String reason) {}

  /** What has stopped and waits for somebody. */
  public static List<Stopped> stopped(Tx tx) {
    return new WaveStore(tx)
        .all(MOST).stream()
            .filter(s -> s.state().equals("stopped"))
            .flatMap(
                s ->
                    tx.find(ProfileRow.class, s.profileId()).stream()
                        .map(row -> new Stopped(new Rehearsal.Named(row.id, row.name), s.reason())))
            .toList();
  }

  private ProfileContent content(Tx tx, String profileId, int version) {
    return tx.find(ProfileVersionRow.class, new ProfileVersionRow.Key(profileId, version))
        .map(v -> ProfileContent.load(v.content, vault))
        .orElseThrow();
  }
}
