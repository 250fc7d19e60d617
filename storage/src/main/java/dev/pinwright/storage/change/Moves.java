package dev.pinwright.storage.change;

import dev.pinwright.core.change.Rehearsal;
import dev.pinwright.core.change.Wave;
import dev.pinwright.core.license.Demand;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.core.policy.KitPart;
import dev.pinwright.core.policy.Shape;
import dev.pinwright.core.target.Assignment;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.license.StoreAppStore;
import dev.pinwright.storage.shape.ShapeStore;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;

/**
 * Where devices belong, and the statement that takes them there, however many they are.
 *
 * <p>Every kind of move is one query that names, for each device it is about, what that device has
 * now and a text its new shape follows from. Devices for which all of that is the same are one
 * {@link Kind}: working out what becomes of them costs by kind, not by device.
 */
public final class Moves {
  private static final long RULES = 0x50494e5348415045L;
  private static final int MANY = 500;

  private final Tx tx;
  private final String source;
  private final Map<String, Object> parameters;
  private final Optional<Candidate> candidate;
  private final Optional<Itself> itself;
  private final boolean many;

  private Moves(
      Tx tx,
      String source,
      Map<String, Object> parameters,
      Optional<Candidate> candidate,
      Optional<Itself> itself,
      boolean many) {
    this.many = many;
    this.tx = tx;
    this.source = source;
    this.parameters = parameters;
    this.candidate = candidate;
    this.itself = itself;
  }

  /**
   * A source that asks no other table than {@code device_state st}, so that the rows need not be
   * joined to themselves to be written.
   *
   * @param key as the source makes it
   * @param about which rows
   */
  private record Itself(String key, String about) {}

  /**
   * What a profile would say, in place of what it says now.
   *
   * @param version number of the version to be
   * @param parts what goes with it, where it is a kit
   * @param wave whom it reaches of them; empty for all
   */
  public record Candidate(
      String profileId,
      int version,
      Assignment assignment,
      List<KitPart> parts,
      Optional<Wave> wave) {
    public Candidate {
      parts = List.copyOf(parts);
    }

    /** What would reach all at once. */
    public Candidate(String profileId, int version, Assignment assignment, List<KitPart> parts) {
      this(profileId, version, assignment, parts, Optional.empty());
    }

    /** What a profile would say that takes nothing along. */
    public Candidate(String profileId, int version, Assignment assignment) {
      this(profileId, version, assignment, List.of());
    }
  }

  /**
   * Devices that move alike.
   *
   * @param fromShape key of the shape they have; empty before the first
   * @param refused what they refused, see {@code Refused.text}
   * @param desired digest of the tree they should hold now
   * @param key what their new shape follows from
   * @param to their new shape
   * @param wanted digest of what they should have now besides their policy
   * @param examples ids of at most five of them
   */
  public record Kind(
      String fromShape,
      String refused,
      String desired,
      String key,
      Shape to,
      String wanted,
      long devices,
      List<String> examples) {}

  /**
   * Where one kind of device goes.
   *
   * @param digest of the tree of their policy
   * @param wanted digest of what else they should have
   */
  public record Goal(Kind kind, String shapeKey, String digest, String wanted) {
    private boolean changes() {
      return !(digest.equals(kind.desired()) && wanted.equals(kind.wanted()));
    }
  }

  // ---- who may move when -----------------------------------------------------------------------

  /** Waits until nobody moves anything, and keeps it so until the transaction ends. */
  public static void aloneWithRules(Tx tx) {
    tx.advisoryLock(RULES);
  }

  /** Waits until no change of rules goes on; single devices may move beside each other. */
  public static void besideRules(Tx tx) {
    tx.sharedAdvisoryLock(RULES);
  }

  /** {@link #besideRules}, or false when one goes on. */
  public static boolean besideRulesIfFree(Tx tx) {
    return tx.trySharedAdvisoryLock(RULES);
  }

  // ---- whom a move is about --------------------------------------------------------------------

  /** Every device a profile reaches now or would reach. All else about them stays as it is. */
  public static Moves ofProfile(Tx tx, Candidate candidate) {
    Map<String, Object> p = new HashMap<>();
    p.put("profile", candidate.profileId());
    Reach reach = Reach.of(candidate.assignment(), inKits(tx, candidate.profileId()), p);
    String about =
        "st.standing <> 'retired' and st.shape_key is not null and not st.emptied and (%s)"
            .formatted(reach.about());
    if (candidate.wave().isPresent()) {
      Wave wave = candidate.wave().get();
      p.put("salt", wave.salt());
      p.put("waveReach", wave.reach());
      p.put("waveGroups", wave.groups().toArray(String[]::new));
      about +=
          " and "
              + Matching.reached(
                  "st.device_id", ":salt", ":waveReach", "cast(:waveGroups as text[])");
    }
    String source =
        """
        select st.device_id, coalesce(st.shape_key, '') as from_shape, st.refused,
               st.desired_digest as desired, %s as key
          from device_state st %s
         where %s
        """
            .formatted(reach.key(), reach.joined(), about);
    Optional<Itself> itself =
        reach.joined().isEmpty() ? Optional.of(new Itself(reach.key(), about)) : Optional.empty();
    return new Moves(tx, source, p, Optional.of(candidate), itself, true);
  }

  private static boolean inKits(Tx tx, String profileId) {
    return tx.value(
        "select exists (select 1 from assignment where profile_id = :p and source <> :p)",
        Boolean.class,
        Map.of("p", profileId));
  }

  /**
   * Exactly these devices, after something changed by which targets are matched. Their states are
   * held from now on, so that of two changes of one device the later sees the earlier.
   */
  public static Moves ofDevices(Tx tx, Collection<String> deviceIds) {
    hold(tx, deviceIds);
    return matched(
        tx,
        "= any(cast(:ids as text[]))",
        Map.of("ids", deviceIds.toArray(String[]::new)),
        deviceIds.size() > MANY);
  }

  /** Holds the states of devices against others who move them, and against changes of rules. */
  public static void hold(Tx tx, Collection<String> deviceIds) {
    besideRules(tx);
    if (deviceIds.size() == 1) {
      tx.column(
          String.class,
          "select device_id from device_state where device_id = :id for update",
          Map.of("id", deviceIds.iterator().next()));
      return;
    }
    tx.column(
        String.class,
        "select device_id from device_state where device_id = any(cast(:ids as text[]))"
            + " order by device_id for update",
        Map.of("ids", deviceIds.toArray(String[]::new)));
  }

  /** Every device in a unit or below it, after it was moved. */
  public static Moves ofUnit(Tx tx, String unitId) {
    return matched(
        tx,
        "in (select u.id from device u join unit_within w on w.unit_id = u.unit_id"
            + " where w.ancestor_id = :unit)",
        Map.of("unit", unitId),
        true);
  }

  /** Every device that came into a group or left one in this transaction. */
  public static Moves ofRegrouped(Tx tx) {
    return matched(tx, "in (select device_id from regrouped)", Map.of(), true);
  }

  /** All devices; for finding those that are not where they belong. */
  public static Moves ofAll(Tx tx) {
    return matched(tx, "is not null", Map.of(), true);
  }

  /** Every device a kit reaches now or would reach: what goes with it comes and goes with it. */
  public static Moves ofKit(Tx tx, Candidate kit) {
    Map<String, Object> p = new HashMap<>();
    Matching matching = Matching.with(kit, p);
    return new Moves(
        tx, matching.source(matching.reached()), p, Optional.empty(), Optional.empty(), true);
  }

  private static Moves matched(Tx tx, String which, Map<String, Object> parameters, boolean many) {
    return new Moves(
        tx, Matching.ON_FILE.source(which), parameters, Optional.empty(), Optional.empty(), many);
  }

  // ---- what becomes of them --------------------------------------------------------------------

  /**
   * Runs a statement over many devices. The planner cannot know how many rows match four columns
   * made up on the way, takes it for one, and would go through all of them once for each; so it may
   * not. What it joins and groups by may stay in memory.
   */
  private <T> T planned(Supplier<T> statement) {
    if (!many) {
      return statement.get();
    }
    tx.value(
        "select set_config('enable_nestloop', 'off', true) || set_config('work_mem', '64MB', true)",
        String.class,
        Map.of());
    T result = statement.get();
    tx.execute("set local enable_nestloop = on", Map.of());
    return result;
  }

  private record Row(
      String fromShape,
      String refused,
      String desired,
      String key,
      long devices,
      List<String> examples) {}

  /** The kinds of devices the move is about, most devices first. */
  public List<Kind> kinds() {
    List<Row> rows =
        planned(
            () ->
                tx.select(
                    Row.class,
                    """
                    select from_shape, refused, desired, key, count(*) as devices,
                           (array_agg(device_id))[1:5] as examples
                      from (%s) s group by 1, 2, 3, 4 order by 5 desc, 1, 4, 2
                    """
                        .formatted(source),
                    used(source)));
    Map<String, ShapeStore.Kept> from =
        new ShapeStore(tx).find(rows.stream().map(Row::fromShape).distinct().toList());
    return rows.stream()
        .map(
            r ->
                new Kind(
                    r.fromShape(),
                    r.refused(),
                    r.desired(),
                    r.key(),
                    to(r, from),
                    Optional.ofNullable(from.get(r.fromShape()))
                        .map(k -> k.digests().wanted())
                        .orElse(""),
                    r.devices(),
                    r.examples()))
        .toList();
  }

  private Shape to(Row r, Map<String, ShapeStore.Kept> from) {
    if (candidate.isEmpty()) {
      return Shape.parse(r.key());
    }
    Candidate c = candidate.get();
    Optional<Shape.Part> part =
        r.key().isEmpty()
            ? Optional.empty()
            : Optional.of(new Shape.Part(c.profileId(), c.version(), Integer.parseInt(r.key())));
    ShapeStore.Kept kept = from.get(r.fromShape());
    if (kept == null) {
      throw new IllegalStateException(
          "device " + r.examples() + " has the unknown shape '" + r.fromShape() + "'");
    }
    return kept.shape().with(c.profileId(), part);
  }

  /** Devices of some kinds by id and name, in order of name, after a name and id. */
  public List<Rehearsal.Named> devices(
      Collection<Kind> kinds, String afterName, String afterId, int limit) {
    Map<String, Object> p = used(source);
    p.putAll(columns(kinds));
    p.put("afterName", afterName);
    p.put("afterId", afterId);
    p.put("limit", limit);
    return tx.select(
        Rehearsal.Named.class,
        """
        select d.id, d.name from (%s) s
          join unnest(cast(:shapes as text[]), cast(:refusals as text[]), cast(:desires as text[]),
                      cast(:keys as text[])) as k(from_shape, refused, desired, key)
         using (from_shape, refused, desired, key)
          join device d on d.id = s.device_id
         where (lower(d.name), d.id) > (:afterName, :afterId)
         order by lower(d.name), d.id limit :limit
        """
            .formatted(source),
        p);
  }

  /** Where the devices of some kinds are that have no license for an app. */
  public List<Demand> demand(Collection<Kind> kinds, StoreAppStore.StoreApp app) {
    boolean holder = app.licensing() == Licensing.BY_HOLDER;
    Map<String, Object> p = used(source);
    p.putAll(columns(kinds));
    p.put("app", app.appId());
    p.put("platform", app.platform());
    return planned(
        () ->
            tx.select(
                Demand.class,
                """
                select site_id as site, count(*) as wanting from (
                  select %2$s as name, min(coalesce(%3$s, d.site_id)) as site_id from (%1$s) s
                    join unnest(cast(:shapes as text[]), cast(:refusals as text[]),
                                cast(:desires as text[]), cast(:keys as text[]))
                      as k(from_shape, refused, desired, key)
                   using (from_shape, refused, desired, key)
                    join device d on d.id = s.device_id %4$s
                   where d.platform = :platform group by 1) w
                 where name is not null and not exists (
                   select 1 from license l where l.app_id = :app and l.name = w.name)
                 group by 1
                """
                    .formatted(
                        source,
                        holder ? "lower(h.mail)" : "d.serial",
                        holder ? "h.site_id" : "d.site_id",
                        holder ? "join person h on h.id = d.person_id" : ""),
                p));
  }

  /** Names of devices by id. */
  public Map<String, String> names(Collection<String> ids) {
    return tx
        .select(
            Rehearsal.Named.class,
            "select id, name from device where id = any(cast(:ids as text[]))",
            Map.of("ids", ids.toArray(String[]::new)))
        .stream()
        .collect(Collectors.toMap(Rehearsal.Named::id, Rehearsal.Named::name));
  }

  /**
   * Takes the devices to their goals. Those whose reported tree already is the new one are not set
   * back; those not heard of for long stay silent. What was moved is kept with the change.
   *
   * @param changeId the change this is; none for a device that joined or was updated
   * @return how many devices got another desired tree
   */
  public long apply(List<Goal> goals, Optional<String> changeId) {
    if (goals.isEmpty()) {
      return 0;
    }
    String written =
        "(" + source + ") s join " + GOALS + " using (from_shape, refused, desired, key)";
    String same = "st.device_id = s.device_id and st.standing <> 'retired'";
    if (itself.isPresent()) {
      written = GOALS;
      same =
          "(coalesce(st.shape_key, ''), st.refused, st.desired_digest, %s)"
                  .formatted(itself.get().key())
              + " = (g.from_shape, g.refused, g.desired, g.key) and "
              + itself.get().about();
    }
    String statement =
        """
        with moved as (
          update device_state st
             set shape_key = g.to_shape,
                 desired_digest = g.digest,
                 wanted = g.wanted,
                 apps_due = case when g.wanted = st.wanted then st.apps_due else now() end,
                 change_id = case when g.changes and :change <> '' then :change
                                  else st.change_id end,
                 standing = case when %4$s then st.standing else 'catching-up' end,
                 standing_reason = case when %4$s then st.standing_reason
                                        else 'a change is on its way' end
            from %1$s
           where %2$s and (g.to_shape <> g.from_shape or g.changes)
          returning st.device_id, g.nr, g.changes as changed
        ), moves as (
          insert into change_move
          select :change, g.nr, nullif(g.from_shape, ''), g.to_shape from %3$s
           where g.changes and :change <> ''
        ), devices as (
          insert into change_device (change_id, device_id, move)
          select :change, device_id, nr from moved where changed and :change <> ''
        )
        select count(*) filter (where changed) from moved
        """
            .formatted(written, same, GOALS, STAYS);
    Map<String, Object> p = used(statement);
    p.putAll(columns(goals.stream().map(Goal::kind).toList()));
    p.put("to", column(goals, Goal::shapeKey));
    p.put("digests", column(goals, Goal::digest));
    p.put("wanted", column(goals, Goal::wanted));
    p.put("changes", goals.stream().map(Goal::changes).toArray(Boolean[]::new));
    p.put("change", changeId.orElse(""));
    tx.flush();
    return planned(() -> tx.value(statement, Long.class, p));
  }

  /**
   * Whether a device stands as it did: it has what it is to have now, or is not heard of anyway.
   */
  private static final String STAYS =
      "(st.standing = 'silent' or g.wanted = st.wanted"
          + " and g.digest in (g.desired, st.reported_digest))";

  private static final String GOALS =
      """
      unnest(cast(:shapes as text[]), cast(:refusals as text[]), cast(:desires as text[]),
             cast(:keys as text[]), cast(:to as text[]), cast(:digests as text[]),
             cast(:wanted as text[]), cast(:changes as boolean[]))
        with ordinality as g(from_shape, refused, desired, key, to_shape, digest, wanted, changes, nr)
      """;

  private static Map<String, Object> columns(Collection<Kind> kinds) {
    Map<String, Object> p = new HashMap<>();
    p.put("shapes", column(kinds, Kind::fromShape));
    p.put("refusals", column(kinds, Kind::refused));
    p.put("desires", column(kinds, Kind::desired));
    p.put("keys", column(kinds, Kind::key));
    return p;
  }

  private static <T> String[] column(Collection<T> rows, Function<T, String> of) {
    return rows.stream().map(of).toArray(String[]::new);
  }

  /** Of the parameters those that a source names. */
  private Map<String, Object> used(String sql) {
    Map<String, Object> p = new HashMap<>(parameters);
    p.keySet().removeIf(name -> !sql.contains(":" + name));
    return p;
  }
}
