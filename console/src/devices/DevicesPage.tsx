import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { useGroups } from '../api/choices';
import { answer, api, everyPage, type Schemas } from '../api/client';
import type { paths } from '../api/schema.gen';
import { useCatalogue } from '../api/session';
import { RuleFilter } from './RuleFilter';
import { AttributeFilter, conditions } from '../organisation/AttributeFilter';
import { unitLabel, useAttributes, useUnits } from '../organisation/choices';
import { Choice, plain, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { bytes, Empty, Moment, Tag } from '../ui/parts';
import { pickColumn } from '../ui/pick';
import { SheetLink } from '../ui/SheetLink';
import { useSelection } from '../ui/selection';
import { Standing, standings } from '../ui/Standing';
import { ActMenu, type Whom } from './ActMenu';
import { SelectByList } from './NamedSheet';
import { DeviceCard } from './DeviceCard';

type Device = Schemas['DeviceSummary'];

const columns: ColumnDef<Device>[] = [
  pickColumn((d) => d.name),
  {
    id: 'name',
    header: 'Name',
    size: 220,
    accessorFn: (d) => d.name,
    meta: { order: { by: '', up: true } },
  },
  {
    id: 'standing',
    header: 'Standing',
    size: 120,
    accessorFn: (d) => d.standing,
    cell: ({ row }) => <Standing of={row.original.standing} reason={row.original.standingReason} />,
  },
  {
    id: 'order',
    header: 'Checks',
    size: 124,
    accessorFn: (d) => d.order,
    cell: ({ row }) => <Standing of={row.original.order} />,
  },
  { id: 'model', header: 'Model', size: 130, accessorFn: (d) => `${d.maker} ${d.model}` },
  { id: 'os', header: 'System', size: 104, accessorFn: (d) => `${d.platform} ${d.osVersion}` },
  { id: 'unit', header: 'Unit', size: 90, accessorFn: (d) => d.unit },
  { id: 'person', header: 'Held by', size: 150, accessorFn: (d) => d.person },
  { id: 'site', header: 'Site', size: 120, accessorFn: (d) => d.site },
  { id: 'why', header: 'Why', size: 190, accessorFn: (d) => d.standingReason },
  { id: 'mode', header: 'Mode', size: 110, accessorFn: (d) => d.mode },
  { id: 'ownership', header: 'Ownership', size: 100, accessorFn: (d) => d.ownership },
  {
    id: 'serial',
    header: 'Serial',
    size: 150,
    accessorFn: (d) => d.serial,
    cell: ({ getValue }) => <span className="font-mono text-xs">{String(getValue() ?? '–')}</span>,
  },
  {
    id: 'battery',
    header: 'Battery',
    size: 80,
    accessorFn: (d) => d.battery,
    cell: ({ getValue }) => (getValue() === undefined ? '–' : `${getValue()} %`),
  },
  {
    id: 'storage',
    header: 'Free',
    size: 90,
    accessorFn: (d) => d.storageFree,
    cell: ({ row }) => (row.original.storageFree === undefined ? '–' : bytes(row.original.storageFree)),
  },
  {
    id: 'tags',
    header: 'Tags',
    size: 120,
    accessorFn: (d) => d.tags,
    cell: ({ row }) => (
      <span className="flex gap-1">
        {row.original.tags.map((t) => (
          <Tag key={t}>{t}</Tag>
        ))}
      </span>
    ),
  },
  {
    id: 'seen',
    header: 'Last seen',
    size: 110,
    accessorFn: (d) => d.lastSeen,
    meta: { order: { by: 'last-seen', up: false } },
    cell: ({ row }) => <Moment at={row.original.lastSeen} />,
  },
  {
    id: 'joined',
    header: 'Joined',
    size: 110,
    accessorFn: (d) => d.enrolledAt,
    meta: { order: { by: 'enrolled', up: false } },
    cell: ({ row }) => <Moment at={row.original.enrolledAt} />,
  },
];

/** What retired devices are asked about. */
const retiredColumns: ColumnDef<Device>[] = [
  pickColumn((d) => d.name),
  columns[1]!,
  {
    id: 'retired',
    header: 'Retired',
    size: 110,
    accessorFn: (d) => d.retired?.at,
    cell: ({ row }) => <Moment at={row.original.retired?.at} />,
  },
  { id: 'reason', header: 'Because', size: 260, accessorFn: (d) => d.standingReason },
  { id: 'by', header: 'By', size: 100, accessorFn: (d) => d.retired?.by },
  {
    id: 'let-go',
    header: 'Let go',
    size: 120,
    accessorFn: (d) => d.retired?.letGoAt,
    cell: ({ row }) =>
      row.original.retired?.letGoAt ? (
        <Moment at={row.original.retired.letGoAt} />
      ) : (
        <span className="text-quiet">not heard yet</span>
      ),
  },
  ...columns.filter((c) => ['model', 'serial', 'person', 'joined', 'seen'].includes(c.id ?? '')),
];

/** A column of an attribute. */
const own = (a: Schemas['Attribute']): ColumnDef<Device> => ({
  id: `own:${a.name}`,
  header: a.name,
  size: 120,
  accessorFn: (d) => d.attributes[a.name],
});

const names = [
  'q',
  'platform',
  'standing',
  'mode',
  'ownership',
  'tag',
  'group',
  'unit',
  'site',
  'person',
  'profile',
  'attribute',
  'rule',
  'termsBelow',
  'sort',
  'retired',
] as const;

/** The list of devices with the card beside it. */
export function DevicesPage() {
  const filters = useFilters(names);
  const { asked } = filters;
  const catalogue = useCatalogue();
  const units = useUnits();
  const tags = useQuery({ queryKey: ['tags'], queryFn: () => answer(api.GET('/tags')) });
  const groups = useGroups();
  const profiles = useQuery({
    queryKey: ['profiles', 'choice'],
    queryFn: () =>
      everyPage((after) => answer(api.GET('/profiles', { params: { query: { after, limit: 200 } } }))),
  });
  const attributes = useAttributes('device');
  const terms = useQuery({ queryKey: ['terms'], queryFn: () => answer(api.GET('/terms')) });
  const query = useMemo(
    () => ({
      ...filters.query,
      ...(asked.attribute ? { attribute: conditions(asked.attribute) } : {}),
      retired: asked.retired === 'true',
    }),
    [filters.query, asked.attribute, asked.retired],
  ) as NonNullable<paths['/devices']['get']['parameters']['query']>;
  const selection = useSelection(JSON.stringify(query));
  const picked = selection.selection;
  const matching = useQuery({
    queryKey: ['devices', 'count', query],
    enabled: picked.all,
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.GET('/devices/count', { params: { query } })),
  });
  const fleet = useQuery({
    queryKey: ['fleet'],
    queryFn: () => answer(api.GET('/fleet')),
    placeholderData: keepPreviousData,
  });
  const given = names.filter((f) => f !== 'sort' && f !== 'retired' && asked[f] !== '');
  const whom: Whom = picked.all
    ? {
        matching: {
          ...Object.fromEntries(
            given.filter((f) => f !== 'attribute' && f !== 'termsBelow').map((f) => [f, asked[f]]),
          ),
          ...(asked.termsBelow ? { termsBelow: Number(asked.termsBelow) } : {}),
          ...(asked.attribute ? { attributes: conditions(asked.attribute) } : {}),
          except: picked.ids,
        },
        count: (matching.data?.count ?? 0) - picked.ids.length,
      }
    : { devices: picked.ids, count: picked.ids.length };

  const all = useMemo(
    () => [...(asked.retired ? retiredColumns : columns), ...attributes.map(own)],
    [attributes, asked.retired],
  );

  return (
    <ListPage<Device>
      list={asked.retired ? 'retired-devices' : 'devices'}
      title={asked.retired ? 'Retired devices' : 'Devices'}
      note={fleet.data && `${fleet.data.total} managed, ${fleet.data.online} connected now`}
      actions={
        <>
          {picked.all && (
            <span className="text-quiet text-sm" role="status">
              All {whom.count} that match are selected
            </span>
          )}
          <SheetLink
            path="/organisation/devices.csv"
            asked={{ ...query, sort: undefined }}
            name="devices.csv"
            title="All devices of this list with their tags and attributes, to work on and take in again"
          />
          {!asked.retired && (
            <>
              <SelectByList onSelect={(ids) => selection.set({ all: false, ids })} />
              <ActMenu whom={whom} />
            </>
          )}
        </>
      }
      columns={all}
      query={['devices', query]}
      load={(after) => answer(api.GET('/devices', { params: { query: { ...query, after, limit: 100 } } }))}
      selection={selection}
      sorting={{ by: asked.sort, set: (by) => filters.set('sort', by) }}
      card={(id, close) => <DeviceCard key={id} id={id} onClose={close} />}
      toolbar={
        <>
          <Words filters={filters} placeholder="Name, serial, IMEI, model" />
          <RuleFilter filters={filters} />
          <Choice
            filters={filters}
            name="retired"
            label="Devices"
            any="managed"
            options={[['true', 'retired']]}
          />
          {!asked.retired && (
            <Choice filters={filters} name="standing" label="Standing" options={plain(standings)} />
          )}
          <Choice
            filters={filters}
            name="platform"
            label="Platform"
            options={catalogue.data?.platforms.map((p) => [p.key, p.name]) ?? []}
          />
          <Choice
            filters={filters}
            name="mode"
            label="Mode"
            options={catalogue.data?.modes.map((m) => [m.key, m.title]) ?? []}
          />
          <Choice
            filters={filters}
            name="unit"
            label="Unit"
            options={units.data?.map((u) => [u.id, unitLabel(u)]) ?? []}
          />
          <Choice filters={filters} name="tag" label="Tag" options={plain(Object.keys(tags.data ?? {}))} />
          <Choice
            filters={filters}
            name="group"
            label="Group"
            options={groups.data?.items.map((g) => [g.id, g.name]) ?? []}
          />
          <Choice
            filters={filters}
            name="profile"
            label="Profile"
            options={profiles.data?.items.map((p) => [p.id, p.name]) ?? []}
          />
          <AttributeFilter filters={filters} attributes={attributes} />
          <Choice
            filters={filters}
            name="termsBelow"
            label="Terms"
            options={terms.data?.map((t) => [String(t.version), `version ${t.version} not accepted`]) ?? []}
          />
          <Choice
            filters={filters}
            name="sort"
            label="Order"
            any="by name"
            options={[
              ['last-seen', 'by last seen'],
              ['enrolled', 'by time joined'],
            ]}
          />
        </>
      }
      empty={
        given.length > 0 ? (
          <Empty title="No device matches.">Clear a filter above.</Empty>
        ) : (
          <Empty title="No device has joined yet.">
            <Link className="text-brass underline" to="/intake/invitations?new=1">
              Invite the first one
            </Link>
            ; it appears here by itself.
          </Empty>
        )
      }
    />
  );
}
