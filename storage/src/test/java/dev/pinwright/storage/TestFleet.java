package dev.pinwright.storage;

import java.util.Map;

/**
 * A fleet of any size, written by a handful of statements: devices on three platforms in two modes,
 * with units in two levels, sites, people, tags, groups and facts. Every number follows from the
 * device's own, so that the same size is the same fleet.
 */
public final class TestFleet {
  private TestFleet() {}

  /** Fills an empty database; devices are in no shape yet. */
  public static void fill(Database database, int devices) {
    database.run(
        tx -> {
          for (String sql : STATEMENTS) {
            tx.execute(sql, sql.contains(":n") ? Map.of("n", devices) : Map.of());
          }
        });
    database.run(tx -> tx.execute("analyze", Map.of()));
  }

  private static final String[] STATEMENTS = {
    """
    insert into unit (id, version, code, name, parent_id, created_at)
    select 'U' || n, 0, 'VM-' || n, 'Unit ' || n, case when n = 0 then null else 'U' || n / 20 end,
           timestamptz '2026-03-01 08:00Z'
      from generate_series(0, 199) n
    """,
    """
    insert into unit_within
    with recursive up (unit_id, ancestor_id) as (
      select id, id from unit
      union all
      select up.unit_id, u.parent_id from up join unit u on u.id = up.ancestor_id
       where u.parent_id is not null
    ) select * from up
    """,
    """
    insert into site (id, version, name, address, created_at)
    select 'S' || n, 0, 'Site ' || n, '', timestamptz '2026-03-01 08:00Z'
      from generate_series(0, 49) n
    """,
    """
    insert into person (id, version, name, login, unit_id, created_at)
    select 'P' || n, 0, 'Person ' || n, 'person' || n, 'U' || n % 200,
           timestamptz '2026-03-01 08:00Z'
      from generate_series(1, greatest(1, :n / 3)) n
    """,
    """
    insert into device_group (id, version, name, created_at)
    select 'G' || n, 0, 'Group ' || n, timestamptz '2026-03-01 08:00Z'
      from generate_series(0, 29) n
    """,
    """
    insert into device (id, name, platform, kind, maker, model, os_version, os_level, ownership,
                        mode, serial, imei, unit_id, site_id, person_id, enrolled_at, facts)
    select 'D' || lpad(n::text, 7, '0'), 'Device ' || n,
           (array['tarn', 'fjell', 'moor'])[n % 3 + 1], 'tablet', 'Arbor',
           (array['T10', 'P5', 'Note 14'])[n % 3 + 1],
           (array['7.2.1', '6.1.0', '5.4.0'])[n % 3 + 1], (array['7.2', '6.1', '5.0'])[n % 3 + 1],
           'corporate', case when n % 5 = 0 then 'standard' else 'supervised' end,
           'AR10-' || lpad(n::text, 7, '0'), null,
           'U' || n % 200, 'S' || n % 50,
           case when n % 3 = 0 then 'P' || greatest(1, n / 3) end,
           timestamptz '2026-03-01 08:00Z' + n * interval '7 seconds',
           '{"battery/level": "64", "storage/free": "21000000000"}'
      from generate_series(1, :n) n
    """,
    """
    insert into device_state (device_id, desired_digest, standing, last_seen, facts_at)
    select id, 'none',
           case when substr(id, 2)::int % 5000 = 0 then 'blocked'
                when substr(id, 2)::int % 100 = 0 then 'silent' else 'settled' end,
           timestamptz '2026-03-02 08:00Z' - substr(id, 2)::int * interval '3 seconds',
           timestamptz '2026-03-02 08:00Z'
      from device
    """,
    """
    insert into device_tag
    select id, (array['gallery', 'field', 'staff', 'cart'])[substr(id, 2)::int % 4 + 1] from device
    union select id, 'rare' from device where id like '%777'
    """,
    "insert into group_pick select 'G' || substr(id, 2)::int % 30, id from device",
    "insert into group_member select group_id, device_id from group_pick"
  };
}
