package dev.pinwright.storage.change;

import dev.pinwright.core.change.Progress;
import dev.pinwright.core.device.Standing;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.ChangeRow;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Changes on file, and how far devices are with them. */
public final class ChangeStore {
  private final Tx tx;

  public ChangeStore(Tx tx) {
    this.tx = tx;
  }

  /** A change by id. */
  public Optional<ChangeRow> find(String id) {
    return tx.find(ChangeRow.class, id);
  }

  /** Changes before one, newest first. */
  public List<ChangeRow> page(String before, int limit) {
    return tx.list(
        ChangeRow.class,
        "from ChangeRow where id < :b order by id desc",
        Map.of("b", before),
        limit);
  }

  private record Counted(String changeId, Standing standing, long devices) {}

  /** How far devices are with some changes, by change; counted together. */
  public Map<String, Progress> progress(Collection<ChangeRow> changes) {
    Map<String, Map<Standing, Long>> standings = new HashMap<>();
    tx.select(
            Counted.class,
            "select change_id, standing, count(*) as devices from device_state"
                + " where change_id = any(cast(:ids as text[])) group by 1, 2",
            Map.of("ids", changes.stream().map(c -> c.id).toArray(String[]::new)))
        .forEach(
            c ->
                standings
                    .computeIfAbsent(c.changeId(), id -> new EnumMap<>(Standing.class))
                    .put(c.standing(), c.devices()));
    Map<String, Progress> out = new HashMap<>();
    changes.forEach(
        c -> out.put(c.id, Progress.of(c.total, standings.getOrDefault(c.id, Map.of()))));
    return out;
  }

  /** Which of these wrote into devices what can be put back, and was not taken back yet. */
  public Set<String> undoable(Collection<ChangeRow> changes) {
    return Set.copyOf(
        tx.column(
            String.class,
            "select c.id from change c where c.id = any(cast(:ids as text[]))"
                + " and c.undone_by is null"
                + " and (exists (select 1 from change_before b where b.change_id = c.id)"
                // of a profile the latest publication
                + " or exists (select 1 from profile p where p.id = c.profile_id"
                + " and p.published_version = c.version))",
            Map.of("ids", changes.stream().map(c -> c.id).toArray(String[]::new))));
  }
}
