import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ColumnDef, RowSelectionState } from '@tanstack/react-table';
import { Bookmark, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { useCatalogue } from '../api/session';
import { saveView } from '../shell/views';
import { ListTable } from '../ui/ListTable';
import { Button, bytes, Empty, Heading, Moment, Tag, Trouble } from '../ui/parts';
import { Standing, standings } from '../ui/Standing';
import { ActMenu } from './ActMenu';
import { DeviceCard } from './DeviceCard';

type Device = Schemas['DeviceSummary'];

const columns: ColumnDef<Device>[] = [
  {
    id: 'pick',
    size: 44,
    enableHiding: false,
    enableResizing: false,
    header: ({ table }) => (
      <input
        type="checkbox"
        aria-label="Select all that are loaded"
        checked={table.getIsAllRowsSelected()}
        onChange={table.getToggleAllRowsSelectedHandler()}
      />
    ),
    cell: ({ row }) => (
      <input
        type="checkbox"
        aria-label={`Select ${row.original.name}`}
        checked={row.getIsSelected()}
        onClick={(e) => e.stopPropagation()}
        onChange={row.getToggleSelectedHandler()}
      />
    ),
  },
  { id: 'name', header: 'Name', size: 220, accessorFn: (d) => d.name },
  {
    id: 'standing',
    header: 'Standing',
    size: 120,
    accessorFn: (d) => d.standing,
    cell: ({ row }) => <Standing of={row.original.standing} reason={row.original.standingReason} />,
  },
  { id: 'model', header: 'Model', size: 130, accessorFn: (d) => `${d.maker} ${d.model}` },
  { id: 'os', header: 'System', size: 104, accessorFn: (d) => `${d.platform} ${d.osVersion}` },
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
    cell: ({ row }) => <Moment at={row.original.lastSeen} />,
  },
  {
    id: 'joined',
    header: 'Joined',
    size: 110,
    accessorFn: (d) => d.enrolledAt,
    cell: ({ row }) => <Moment at={row.original.enrolledAt} />,
  },
];

const filters = [
  'q',
  'platform',
  'standing',
  'mode',
  'ownership',
  'tag',
  'group',
  'sort',
  'retired',
] as const;

/** The list of devices with the card beside it. */
export function DevicesPage() {
  const [search, setSearch] = useSearchParams();
  const [selection, setSelection] = useState<RowSelectionState>({});
  const catalogue = useCatalogue();
  const tags = useQuery({ queryKey: ['tags'], queryFn: () => answer(api.GET('/tags')) });
  const groups = useQuery({
    queryKey: ['groups', 'choice'],
    queryFn: () => answer(api.GET('/groups', { params: { query: { limit: 200 } } })),
  });
  const asked = Object.fromEntries(filters.map((f) => [f, search.get(f) ?? '']));
  const query = useMemo(
    () => ({
      ...Object.fromEntries(Object.entries(asked).filter(([, v]) => v !== '')),
      retired: asked.retired === 'true',
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the values are what counts
    [JSON.stringify(asked)],
  );
  const pages = usePages<Device>(['devices', query], (after) =>
    answer(api.GET('/devices', { params: { query: { ...query, after, limit: 100 } } })),
  );
  const fleet = useQuery({
    queryKey: ['fleet'],
    queryFn: () => answer(api.GET('/fleet')),
    placeholderData: keepPreviousData,
  });
  const card = search.get('card') ?? undefined;
  const picked = Object.keys(selection).filter((id) => selection[id]);

  function set(name: string, value: string | undefined) {
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) {
          next.set(name, value);
        } else {
          next.delete(name);
        }
        return next;
      },
      { replace: name === 'q' || name === 'card' },
    );
  }

  const choice = (name: string, label: string, options: [string, string][]) => (
    <select
      aria-label={label}
      className={`field w-auto ${asked[name] ? 'border-brass' : ''}`}
      value={asked[name]}
      onChange={(e) => set(name, e.target.value)}
    >
      <option value="">{label}</option>
      {options.map(([value, text]) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </select>
  );
  const filtered = filters.some((f) => f !== 'sort' && asked[f] !== '');
  const plain = (words: string[]): [string, string][] => words.map((w) => [w, w.replace('-', ' ')]);

  return (
    <>
      <section className="flex min-w-0 flex-1 flex-col">
        <Heading
          title={asked.retired ? 'Retired devices' : 'Devices'}
          note={fleet.data && `${fleet.data.total} managed, ${fleet.data.online} connected now`}
        >
          <ActMenu devices={picked} />
        </Heading>
        <Trouble error={pages.error} />
        <ListTable
          name="devices"
          columns={columns}
          rows={pages.items}
          loading={pages.isLoading}
          more={pages.hasNextPage}
          loadMore={() => !pages.isFetchingNextPage && void pages.fetchNextPage()}
          current={card}
          onCurrent={(id) => set('card', id)}
          selection={selection}
          onSelection={setSelection}
          toolbar={
            <>
              <input
                type="search"
                aria-label="Words"
                placeholder="Name, serial, IMEI, model"
                className="field w-56"
                value={asked.q}
                onChange={(e) => set('q', e.target.value)}
              />
              {choice('standing', 'Standing', plain(standings))}
              {choice('platform', 'Platform', catalogue.data?.platforms.map((p) => [p.key, p.name]) ?? [])}
              {choice('ownership', 'Ownership', plain(['corporate', 'personal']))}
              {choice('mode', 'Mode', plain(['supervised', 'standard', 'work-profile']))}
              {choice('tag', 'Tag', plain(Object.keys(tags.data ?? {})))}
              {choice('group', 'Group', groups.data?.items.map((g) => [g.id, g.name]) ?? [])}
              {choice('sort', 'By name', [
                ['last-seen', 'By last seen'],
                ['enrolled', 'By time joined'],
              ])}
              {filtered && (
                <>
                  <Button weight="bare" onClick={() => setSearch({})}>
                    <X className="size-4" /> Clear
                  </Button>
                  <Button
                    weight="bare"
                    onClick={() => {
                      const name = prompt('Name of this view')?.trim();
                      if (name) {
                        const kept = new URLSearchParams(search);
                        kept.delete('card');
                        saveView({ name, search: `?${kept}` });
                      }
                    }}
                  >
                    <Bookmark className="size-4" /> Save view
                  </Button>
                </>
              )}
            </>
          }
          empty={
            filtered ? (
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
      </section>
      {card && <DeviceCard key={card} id={card} onClose={() => set('card', undefined)} />}
    </>
  );
}
