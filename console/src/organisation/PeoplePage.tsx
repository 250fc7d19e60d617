import type { ColumnDef } from '@tanstack/react-table';
import { LogOut } from 'lucide-react';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useDraft } from '../ui/draft';
import { Choice, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled } from '../ui/parts';
import { onVersion, Read, RecordSheet } from '../ui/RecordSheet';
import { AttributeFields } from './AttributeFields';
import { AttributeFilter, conditions } from './AttributeFilter';
import { useSites } from '../api/choices';
import { SiteSelect, unitLabel, UnitSelect, useAttributes, useUnits } from './choices';
import { Holdings, LeavingSheet } from './LeavingSheet';
import { SheetButtons } from './SheetButtons';

type Person = Schemas['Person'];

const columns: ColumnDef<Person>[] = [
  { id: 'name', header: 'Name', size: 220, accessorFn: (p) => p.name },
  { id: 'login', header: 'Login', size: 180, accessorFn: (p) => p.login },
  { id: 'mail', header: 'Mail', size: 260, accessorFn: (p) => p.mail },
  { id: 'unit', header: 'Unit', size: 110, accessorFn: (p) => p.unit },
  { id: 'site', header: 'Site', size: 150, accessorFn: (p) => p.site },
  {
    id: 'devices',
    header: 'Devices',
    size: 90,
    accessorFn: (p) => p.devices,
    cell: ({ row: { original: p } }) => (
      <Link className="text-brass underline" to={`/devices?person=${p.id}`}>
        {p.devices}
      </Link>
    ),
  },
];

function Editor({
  before,
  onClose,
  onLeave,
}: {
  before?: Person;
  onClose: () => void;
  onLeave?: () => void;
}) {
  const units = useUnits();
  const sites = useSites();
  const writing = useDraft<Schemas['PersonDraft']>(
    {
      name: before?.name ?? '',
      login: before?.login,
      mail: before?.mail,
      unitId: before?.unitId,
      siteId: before?.siteId,
    },
    before?.version,
  );
  const { draft, set } = writing;
  const say = (value: unknown, field: string) =>
    field === 'unitId'
      ? (units.data?.find((u) => u.id === value)?.code ?? 'none')
      : field === 'siteId'
        ? (sites.data?.items.find((s) => s.id === value)?.name ?? 'none')
        : String(value ?? 'nothing');
  const path = { id: before?.id ?? '' };
  return (
    <RecordSheet
      title={before ? before.name : 'Add a person'}
      list="people"
      keep={before ? 'Save' : 'Add person'}
      ready={draft.name.trim() !== ''}
      save={() =>
        answer(
          before
            ? api.PUT('/people/{id}', { params: { path, header: onVersion(writing) }, body: draft })
            : api.POST('/people', { body: draft }),
        )
      }
      remove="Take out"
      takeAway={
        before && (() => answer(api.DELETE('/people/{id}', { params: { path, header: onVersion(writing) } })))
      }
      draft={writing}
      subject={`person:${before?.id}`}
      called={{ name: 'Name', login: 'Login', mail: 'Mail', unitId: 'Unit', siteId: 'Site' }}
      say={say}
      onClose={onClose}
    >
      <Labelled label="Name">
        <input
          className="field"
          maxLength={120}
          value={draft.name}
          onChange={(e) => set({ name: e.target.value })}
        />
      </Labelled>
      <div className="grid grid-cols-2 gap-4">
        <Labelled label="Login" hint="As in the staff directory.">
          <input
            className="field"
            value={draft.login ?? ''}
            onChange={(e) => set({ login: e.target.value || undefined })}
          />
        </Labelled>
        <Labelled label="Mail">
          <input
            className="field"
            type="email"
            value={draft.mail ?? ''}
            onChange={(e) => set({ mail: e.target.value || undefined })}
          />
        </Labelled>
      </div>
      <div className="grid grid-cols-2 gap-4">
        <UnitSelect label="Unit" value={draft.unitId} onChange={(unitId) => set({ unitId })} />
        <SiteSelect label="Site" value={draft.siteId} onChange={(siteId) => set({ siteId })} />
      </div>
      {before && <AttributeFields kind="person" id={before.id} />}
      {before && <Holdings id={before.id} />}
      {before?.leftAt && (
        <p role="status" className="border-amber border-l-2 pl-3 text-sm">
          Is in the staff directory no longer.
        </p>
      )}
      {before && onLeave && (
        <Button onClick={onLeave}>
          <LogOut className="size-4" /> Leaves …
        </Button>
      )}
      {before && (
        <p className="text-quiet text-xs">
          Devices this person holds stay where they are; new ones land in the unit and site above.
        </p>
      )}
    </RecordSheet>
  );
}

/** People, who hold devices. */
export function PeoplePage() {
  const [search, setSearch] = useSearchParams();
  const [leaving, setLeaving] = useState(false);
  const filters = useFilters(['q', 'unit', 'left', 'attribute'] as const);
  const units = useUnits();
  const attributes = useAttributes('person');
  return (
    <ListPage<Person>
      list="people"
      title="People"
      note="who hold devices"
      actions={
        <>
          <SheetButtons what="people" />
          <Button weight="main" onClick={() => setSearch({ new: '1' })}>
            Add a person
          </Button>
        </>
      }
      columns={columns}
      query={['people', filters.query]}
      load={(after) =>
        answer(
          api.GET('/people', {
            params: {
              query: {
                q: filters.query.q,
                unit: filters.query.unit,
                left: filters.asked.left === 'yes' || undefined,
                attribute: conditions(filters.asked.attribute),
                ...{ after, limit: 100 },
              },
            },
          }),
        )
      }
      toolbar={
        <>
          <Words filters={filters} placeholder="Name, login, mail" />
          <AttributeFilter filters={filters} attributes={attributes} />
          <Choice filters={filters} name="left" label="Directory" options={[['yes', 'in it no longer']]} />
          <Choice
            filters={filters}
            name="unit"
            label="Unit"
            options={units.data?.map((u) => [u.id, unitLabel(u)]) ?? []}
          />
        </>
      }
      card={(id, close) => (
        <Read
          query={['people', 'card', id]}
          load={() => answer(api.GET('/people/{id}', { params: { path: { id } } }))}
        >
          {(person) =>
            leaving ? (
              <LeavingSheet
                person={person}
                onClose={() => {
                  setLeaving(false);
                  close();
                }}
              />
            ) : (
              <Editor key={id} before={person} onClose={close} onLeave={() => setLeaving(true)} />
            )
          }
        </Read>
      )}
      empty={
        <Empty title="Nobody here.">People hold devices; names and places of devices follow from them.</Empty>
      }
    >
      {search.get('new') && <Editor onClose={() => setSearch({})} />}
    </ListPage>
  );
}
