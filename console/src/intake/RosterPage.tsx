import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { useEnrollmentProfiles } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { PersonPick, SiteSelect, UnitSelect } from '../organisation/choices';
import { Sheet } from '../ui/Dialog';
import { SheetLink } from '../ui/SheetLink';
import { Choice, plain, useFilters, Words } from '../ui/filters';
import { useDraft } from '../ui/draft';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled, Moment, Tag, Trouble } from '../ui/parts';
import { pickColumn } from '../ui/pick';
import { onVersion, Read, RecordSheet } from '../ui/RecordSheet';
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

/** One row: written anew, or corrected. */
function Editor({ before, onClose }: { before?: Entry; onClose: () => void }) {
  const writing = useDraft(
    {
      serial: before?.serial ?? '',
      imei: before?.imei ?? '',
      asset: before?.asset ?? '',
      name: before?.name ?? '',
      personId: before?.personId ?? '',
      unitId: before?.unitId ?? '',
      siteId: before?.siteId ?? '',
      profileId: before?.profileId ?? '',
      tags: before?.tags.join(', ') ?? '',
      barred: before?.state === 'barred',
    },
    before?.version,
  );
  const { draft, set } = writing;
  const [person, setPerson] = useState(before?.person);
  const path = { id: before?.id ?? '' };
  function save() {
    const { tags, ...plain } = draft;
    const body = { ...plain, tags: tags.split(',').filter((t) => t.trim()) };
    return answer(
      before
        ? api.PUT('/roster/{id}', { params: { path, header: onVersion(writing) }, body })
        : api.POST('/roster', { body }),
    );
  }
  const text = (label: string, field: 'serial' | 'imei' | 'asset' | 'name' | 'tags', hint?: string) => (
    <Labelled label={label} hint={hint}>
      <input
        className="field"
        value={draft[field]}
        onChange={(e) => set({ [field]: e.target.value } as Partial<typeof draft>)}
      />
    </Labelled>
  );
  return (
    <RecordSheet
      title={before ? (before.serial ?? before.imei ?? before.asset ?? '') : 'Put a device on the roster'}
      list="roster"
      keep={before ? 'Save' : 'Put on the roster'}
      ready={Boolean(draft.serial || draft.imei || draft.asset)}
      save={save}
      remove="Take off the roster"
      takeAway={
        before && (() => answer(api.DELETE('/roster/{id}', { params: { path, header: onVersion(writing) } })))
      }
      draft={writing}
      subject={`roster:${before?.id}`}
      called={{ serial: 'Serial number', imei: 'IMEI', asset: 'Asset number', name: 'Name' }}
      onClose={onClose}
    >
      {before?.deviceId && (
        <p className="border-brass border-l-2 pl-3 text-sm">
          Its device has arrived and stays as it is:{' '}
          <Link className="text-brass underline" to={`/devices?card=${before.deviceId}`}>
            look at it
          </Link>
          .
        </p>
      )}
      {text('Serial number', 'serial')}
      <div className="grid grid-cols-2 gap-4">
        {text('IMEI', 'imei', '15 digits; only cellular devices have one.')}
        {text('Asset number', 'asset')}
      </div>
      <div className="grid grid-cols-2 gap-4">
        {text('Name', 'name', 'Empty: the enrollment profile names it.')}
        <PersonPick
          label="Person"
          name={person}
          onChange={(p) => {
            setPerson(p?.name);
            set({ personId: p?.id ?? '' });
          }}
        />
      </div>
      <div className="grid grid-cols-2 gap-4">
        <UnitSelect label="Unit" value={draft.unitId} onChange={(unitId) => set({ unitId: unitId ?? '' })} />
        <SiteSelect label="Site" value={draft.siteId} onChange={(siteId) => set({ siteId: siteId ?? '' })} />
      </div>
      <div className="grid grid-cols-2 gap-4">
        <ProfileSelect
          none="by the code it joins with"
          value={draft.profileId}
          onChange={(profileId) => set({ profileId })}
        />
        {text('Tags', 'tags', 'Separated by commas.')}
      </div>
      <label className="flex items-start gap-2 text-sm">
        <input
          type="checkbox"
          className="mt-1"
          checked={draft.barred}
          onChange={(e) => set({ barred: e.target.checked })}
        />
        <span>
          Barred: this device is let in by no way, and nobody can approve it.
          <span className="text-quiet block text-xs">One that is managed already stays so.</span>
        </span>
      </label>
    </RecordSheet>
  );
}

function ProfileSelect(props: { none: string; value: string; onChange: (id: string) => void }) {
  const profiles = useEnrollmentProfiles();
  return (
    <Labelled label="Enrollment profile">
      <select className="field" value={props.value} onChange={(e) => props.onChange(e.target.value)}>
        <option value="">{props.none}</option>
        {profiles.data?.items.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </select>
    </Labelled>
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
          <div className="mr-auto flex gap-2">
            {(
              [
                ['withdrawn', 'Withdraw'],
                ['barred', 'Bar'],
                ['expected', 'Expect again'],
              ] as const
            ).map(([becomes, label]) => (
              <Button key={becomes} disabled={busy} onClick={() => void send({ ...which, becomes })}>
                {label}
              </Button>
            ))}
          </div>
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
      <p className="text-quiet text-sm">
        What is left open stays as it is in each row. Withdrawn: as if it were not on the roster. Barred: let
        in by no way.
      </p>
      <div className="grid grid-cols-2 gap-4">
        <UnitSelect label="Unit" none="as it is" value={unitId} onChange={setUnit} />
        <SiteSelect label="Site" none="as it is" value={siteId} onChange={setSite} />
      </div>
      <ProfileSelect none="as it is" value={profileId} onChange={setProfile} />
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
  const filters = useFilters(['q', 'state', 'waitingDays'] as const);
  // the address may hold any word; the service says which there are
  const { waitingDays, ...words } = filters.query;
  const asked = {
    ...words,
    ...(waitingDays ? { waitingDays: Number(waitingDays) } : {}),
  } as Pick<Schemas['RosterChange'], 'q' | 'state' | 'waitingDays'>;
  const selection = useSelection(JSON.stringify(asked));
  const [changing, setChanging] = useState(false);
  const counts = useQuery({
    queryKey: ['roster', 'counts'],
    queryFn: () => answer(api.GET('/roster/counts')),
  });
  const n = counts.data;
  const picked = selection.selection;
  const all = n
    ? filters.asked.state
      ? n[filters.asked.state]
      : n.expected + n.arrived + n.withdrawn + n.barred
    : 0;
  const count = picked.all ? all - picked.ids.length : picked.ids.length;
  const which: Which = picked.all ? { ...asked, except: picked.ids } : { ids: picked.ids };
  // how many have the words is known to the service alone
  const rows =
    picked.all && (filters.asked.q || waitingDays)
      ? 'all rows that match'
      : `${count} ${count === 1 ? 'row' : 'rows'}`;
  return (
    <ListPage<Entry>
      list="roster"
      title="Roster"
      note={n && `${n.expected} expected, ${n.arrived} arrived, ${n.withdrawn} withdrawn, ${n.barred} barred`}
      actions={
        <>
          {(picked.all || picked.ids.length > 0) && (
            <Button onClick={() => setChanging(true)}>Change {rows}</Button>
          )}
          <SheetLink path="/roster/sheet" asked={asked} name="roster.csv" />
          <Button onClick={() => setSearch({ new: 'row' })}>Add one</Button>
          <Button weight="main" onClick={() => setSearch({ new: 'sheet' })}>
            Import a sheet
          </Button>
        </>
      }
      columns={columns}
      query={['roster', asked]}
      load={(after) => answer(api.GET('/roster', { params: { query: { ...asked, after, limit: 100 } } }))}
      selection={selection}
      card={(id, close) => (
        <Read
          query={['roster', 'card', id]}
          load={() => answer(api.GET('/roster/{id}', { params: { path: { id } } }))}
        >
          {(row) => <Editor key={id} before={row} onClose={close} />}
        </Read>
      )}
      toolbar={
        <>
          <Words filters={filters} placeholder="Any part of an identifier" />
          <Choice
            filters={filters}
            name="state"
            label="State"
            options={plain(['expected', 'arrived', 'withdrawn', 'barred'])}
          />
          <Choice
            filters={filters}
            name="waitingDays"
            label="On file"
            options={['7', '30', '90'].map((d) => [d, `longer than ${d} days`])}
          />
        </>
      }
      empty={
        filters.asked.q || filters.asked.state || waitingDays ? (
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
      {search.get('new') === 'row' && <Editor onClose={() => setSearch({})} />}
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
