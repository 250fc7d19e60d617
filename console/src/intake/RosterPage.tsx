import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { SiteSelect, UnitSelect } from '../organisation/choices';
import { Sheet } from '../ui/Dialog';
import { Choice, plain, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled, linkButton, Moment, Tag, Trouble } from '../ui/parts';
import { pickColumn } from '../ui/pick';
import { useSelection } from '../ui/selection';
import { Standing } from '../ui/Standing';
import { RosterImport } from './RosterImport';

type Entry = Schemas['RosterEntry'];

const mono = ({ getValue }: { getValue: () => unknown }) => (
  <span className="font-mono text-xs">{String(getValue() ?? '–')}</span>
);

const columns: ColumnDef<Entry>[] = [
  pickColumn((e) => e.serial ?? e.imei ?? e.asset ?? ''),
  { id: 'serial', header: 'Serial', size: 160, accessorFn: (e) => e.serial, cell: mono },
  { id: 'asset', header: 'Asset', size: 110, accessorFn: (e) => e.asset, cell: mono },
  {
    id: 'state',
    header: 'State',
    size: 110,
    accessorFn: (e) => e.state,
    cell: ({ row: { original: e } }) =>
      e.deviceId ? (
        <Link to={`/devices?card=${e.deviceId}`} className="hover:underline">
          <Standing of={e.state} />
        </Link>
      ) : (
        <Standing of={e.state} />
      ),
  },
  { id: 'unit', header: 'Unit', size: 90, accessorFn: (e) => e.unit },
  { id: 'person', header: 'Person', size: 150, accessorFn: (e) => e.person },
  { id: 'name', header: 'Name', size: 140, accessorFn: (e) => e.name },
  { id: 'site', header: 'Site', size: 110, accessorFn: (e) => e.site },
  {
    id: 'tags',
    header: 'Tags',
    size: 130,
    accessorFn: (e) => e.tags,
    cell: ({ row }) => (
      <span className="flex gap-1">
        {row.original.tags.map((t) => (
          <Tag key={t}>{t}</Tag>
        ))}
      </span>
    ),
  },
  { id: 'profile', header: 'Enrollment profile', size: 150, accessorFn: (e) => e.profile },
  { id: 'imei', header: 'IMEI', size: 150, accessorFn: (e) => e.imei, cell: mono },
  { id: 'source', header: 'From', size: 110, accessorFn: (e) => e.source },
  {
    id: 'changed',
    header: 'Changed',
    size: 110,
    accessorFn: (e) => e.changedAt,
    cell: ({ row }) => <Moment at={row.original.changedAt} />,
  },
];

function Add({ onClose }: { onClose: () => void }) {
  const { act, trouble, busy } = useAct('roster');
  const [draft, setDraft] = useState<Schemas['RosterDraft']>({});
  const set = (change: Schemas['RosterDraft']) => setDraft({ ...draft, ...change });
  const text = (label: string, field: 'serial' | 'imei' | 'asset' | 'name', hint?: string) => (
    <Labelled label={label} hint={hint}>
      <input
        className="field"
        value={draft[field] ?? ''}
        onChange={(e) => set({ [field]: e.target.value || undefined })}
      />
    </Labelled>
  );
  return (
    <Sheet
      title="Put a device on the roster"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !(draft.serial || draft.imei || draft.asset)}
            onClick={() => void act(() => answer(api.POST('/roster', { body: draft })), onClose)}
          >
            Put on the roster
          </Button>
        </>
      }
    >
      {text('Serial number', 'serial')}
      <div className="grid grid-cols-2 gap-4">
        {text('IMEI', 'imei', '15 digits; only cellular devices have one.')}
        {text('Asset number', 'asset')}
      </div>
      {text('Name', 'name', 'Empty: the enrollment profile names it.')}
      <div className="grid grid-cols-2 gap-4">
        <UnitSelect label="Unit" value={draft.unitId} onChange={(unitId) => set({ unitId })} />
        <SiteSelect label="Site" value={draft.siteId} onChange={(siteId) => set({ siteId })} />
      </div>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Which rows a change is for: those named, or all that match. */
type Which = Pick<Schemas['RosterChange'], 'ids' | 'q' | 'state' | 'except'>;

function Change({ which, rows, onClose }: { which: Which; rows: string; onClose: () => void }) {
  const { act, trouble, busy } = useAct('roster');
  const [unitId, setUnit] = useState<string>();
  const [siteId, setSite] = useState<string>();
  const [profileId, setProfile] = useState('');
  const [tags, setTags] = useState('');
  const profiles = useQuery({
    queryKey: ['enrollment-profiles', 'choice'],
    queryFn: () => answer(api.GET('/enrollment-profiles', { params: { query: { limit: 200 } } })),
  });
  const body: Schemas['RosterChange'] = {
    ...which,
    unitId,
    siteId,
    profileId: profileId || undefined,
    tags: tags.trim() ? tags.split(',').map((t) => t.trim()) : undefined,
  };
  const send = (change: Schemas['RosterChange']) =>
    act(() => answer(api.POST('/roster/change', { body: change })), onClose);
  return (
    <Sheet
      title={`Change ${rows} of the roster`}
      onClose={onClose}
      actions={
        <>
          <Button
            weight="danger"
            className="mr-auto"
            disabled={busy}
            onClick={() => void send({ ...which, withdraw: true })}
          >
            Withdraw those expected
          </Button>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !(unitId || siteId || profileId || tags.trim())}
            onClick={() => void send(body)}
          >
            Change {rows}
          </Button>
        </>
      }
    >
      <p className="text-quiet text-sm">What is left open stays as it is in each row.</p>
      <div className="grid grid-cols-2 gap-4">
        <UnitSelect label="Unit" none="as it is" value={unitId} onChange={setUnit} />
        <SiteSelect label="Site" none="as it is" value={siteId} onChange={setSite} />
      </div>
      <Labelled label="Enrollment profile">
        <select className="field" value={profileId} onChange={(e) => setProfile(e.target.value)}>
          <option value="">as it is</option>
          {profiles.data?.items.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label="Tags, in place of those there" hint="Separated by commas.">
        <input className="field" value={tags} onChange={(e) => setTags(e.target.value)} />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Devices that are known before they arrive. */
export function RosterPage() {
  const [search, setSearch] = useSearchParams();
  const filters = useFilters(['q', 'state'] as const);
  const selection = useSelection(JSON.stringify(filters.query));
  const [changing, setChanging] = useState(false);
  const counts = useQuery({
    queryKey: ['roster', 'counts'],
    queryFn: () => answer(api.GET('/roster/counts')),
  });
  const n = counts.data;
  const picked = selection.selection;
  const all = n ? (filters.asked.state ? n[filters.asked.state] : n.expected + n.arrived + n.withdrawn) : 0;
  const count = picked.all ? all - picked.ids.length : picked.ids.length;
  const which: Which = picked.all ? { ...filters.query, except: picked.ids } : { ids: picked.ids };
  // how many have the words is known to the service alone
  const rows =
    picked.all && filters.asked.q ? 'all rows that match' : `${count} ${count === 1 ? 'row' : 'rows'}`;
  return (
    <ListPage<Entry>
      list="roster"
      title="Roster"
      note={n && `${n.expected} expected, ${n.arrived} arrived, ${n.withdrawn} withdrawn`}
      actions={
        <>
          {(picked.all || picked.ids.length > 0) && (
            <Button onClick={() => setChanging(true)}>Change {rows}</Button>
          )}
          <a href="/api/v1/roster/sheet" download="roster.csv" className={linkButton}>
            <Download className="size-4" /> Sheet
          </a>
          <Button onClick={() => setSearch({ new: 'row' })}>Add one</Button>
          <Button weight="main" onClick={() => setSearch({ new: 'sheet' })}>
            Import a sheet
          </Button>
        </>
      }
      columns={columns}
      query={['roster', filters.query]}
      load={(after) =>
        answer(api.GET('/roster', { params: { query: { ...filters.query, after, limit: 100 } } }))
      }
      selection={selection}
      toolbar={
        <>
          <Words filters={filters} placeholder="Any part of an identifier" />
          <Choice
            filters={filters}
            name="state"
            label="State"
            options={plain(['expected', 'arrived', 'withdrawn'])}
          />
        </>
      }
      empty={
        filters.asked.q || filters.asked.state ? (
          <Empty title="No row matches.">Clear a filter above.</Empty>
        ) : (
          <Empty title="Nothing is on the roster yet.">
            <Link className="text-brass underline" to="/intake/roster?new=sheet">
              Import a sheet
            </Link>{' '}
            of serial numbers, IMEIs or asset numbers; it is checked before anything is saved.
          </Empty>
        )
      }
    >
      {search.get('new') === 'row' && <Add onClose={() => setSearch({})} />}
      {search.get('new') === 'sheet' && <RosterImport onClose={() => setSearch({})} />}
      {changing && (
        <Change
          which={which}
          rows={rows}
          onClose={() => {
            setChanging(false);
            selection.set({ all: false, ids: [] });
          }}
        />
      )}
    </ListPage>
  );
}
