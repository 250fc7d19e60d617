import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { ProposeButton, useConfirmation } from '../rules/confirmation';
import { RehearsalNote } from '../rules/RehearsalNote';
import { AskButton } from '../ui/AskButton';
import { Sheet } from '../ui/Dialog';
import { useDraft } from '../ui/draft';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Empty, Labelled, Trouble, sideCard } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { SavedMeanwhile } from '../ui/SavedMeanwhile';
import { AttributeFields } from './AttributeFields';
import { UnitSelect, useUnits } from './choices';
import { SheetButtons } from './SheetButtons';

type Unit = Schemas['Unit'];

const columns: ColumnDef<Unit>[] = [
  {
    id: 'code',
    header: 'Unit',
    size: 240,
    accessorFn: (u) => u.code,
    cell: ({ row: { original: u } }) => (
      <span style={{ paddingLeft: u.depth * 18 }} className="font-mono text-xs">
        {u.depth > 0 && <span className="text-quiet">└ </span>}
        {u.code}
      </span>
    ),
  },
  { id: 'name', header: 'Name', size: 280, accessorFn: (u) => u.name },
  {
    id: 'devices',
    header: 'Devices',
    size: 110,
    accessorFn: (u) => u.devices,
    cell: ({ row: { original: u } }) => (
      <Link className="text-brass underline" to={`/devices?unit=${u.id}`}>
        {u.devices}
      </Link>
    ),
  },
  {
    id: 'people',
    header: 'People',
    size: 110,
    accessorFn: (u) => u.people,
    cell: ({ row: { original: u } }) => (
      <Link className="text-brass underline" to={`/devices/people?unit=${u.id}`}>
        {u.people}
      </Link>
    ),
  },
];

function Make({ parentId, onClose }: { parentId?: string; onClose: () => void }) {
  const { act, trouble, busy } = useAct('units');
  const [code, setCode] = useState('');
  const [name, setName] = useState('');
  const [parent, setParent] = useState(parentId);
  return (
    <Sheet
      title="Make a unit"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !code.trim() || !name.trim()}
            onClick={() =>
              void act(() => answer(api.POST('/units', { body: { code, name, parentId: parent } })), onClose)
            }
          >
            Make unit
          </Button>
        </>
      }
    >
      <Labelled label="Code" hint="Capital letters, digits and hyphens, such as VM-HAR. It never changes.">
        <input className="field font-mono" value={code} onChange={(e) => setCode(e.target.value)} />
      </Labelled>
      <Labelled label="Name">
        <input className="field" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
      </Labelled>
      <UnitSelect label="Lies in" none="nothing: at the top" value={parent} onChange={setParent} />
      <Trouble error={trouble} />
    </Sheet>
  );
}

function Move({ unit, onClose }: { unit: Unit; onClose: () => void }) {
  const { act, trouble, busy } = useAct('units', 'devices', 'changes');
  const units = useUnits();
  const [parentId, setParent] = useState(unit.parentId);
  const moved = parentId !== unit.parentId;
  const rehearsal = useQuery({
    queryKey: ['units', unit.id, 'move', parentId],
    enabled: moved,
    queryFn: () =>
      answer(
        api.POST('/units/{id}/move/rehearsal', {
          params: { path: { id: unit.id } },
          body: { parentId },
        }),
      ),
  });
  const r = moved ? rehearsal.data : undefined;
  const confirmation = useConfirmation(r, 'move it');
  const below = new Set([unit.id]);
  units.data?.forEach((u) => u.parentId && below.has(u.parentId) && below.add(u.id));
  return (
    <Sheet
      title={`Move ${unit.code} ${unit.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {confirmation.second && (
            <ProposeButton intent={{ unit: { id: unit.id, parentId } }} confirmation={confirmation} />
          )}
          <Button
            weight="main"
            disabled={busy || !confirmation.ready}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/units/{id}/move', {
                      params: { path: { id: unit.id }, header: onVersion(unit) },
                      body: { parentId, ...confirmation.given },
                    }),
                  ),
                onClose,
              )
            }
          >
            Move with {unit.devices} {unit.devices === 1 ? 'device' : 'devices'}
          </Button>
        </>
      }
    >
      <UnitSelect
        label="Lies in"
        none="nothing: at the top"
        value={parentId}
        onChange={setParent}
        without={(u) => below.has(u.id)}
      />
      {r && <RehearsalNote rehearsal={r} confirmation={confirmation} />}
      <Trouble error={trouble ?? rehearsal.error} />
    </Sheet>
  );
}

function Card({ id, onClose }: { id: string; onClose: () => void }) {
  const units = useUnits();
  const unit = units.data?.find((u) => u.id === id);
  return unit ? <CardOf key={unit.id} unit={unit} onClose={onClose} /> : null;
}

function CardOf({ unit, onClose }: { unit: Unit; onClose: () => void }) {
  const { act, trouble } = useAct('units');
  const writing = useDraft({ name: unit.name }, unit.version);
  const { name } = writing.draft;
  const [sheet, setSheet] = useState<'move' | 'below'>();
  return (
    <aside aria-label="Unit" className={`${sideCard} gap-4 p-5`}>
      <div className="flex items-start">
        <h2 className="flex-1 text-base font-semibold">
          <span className="font-mono">{unit.code}</span> {unit.name}
        </h2>
        <Button weight="bare" aria-label="Close the card" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </div>
      <p className="text-quiet text-sm">
        {counted(unit.devices, 'device')} and {counted(unit.people, 'person', 'people')}, in it and below.
      </p>
      <form
        className="flex items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void act(() =>
            answer(
              api.PUT('/units/{id}', {
                params: { path: { id: unit.id }, header: onVersion(writing) },
                body: { name },
              }),
            ),
          );
        }}
      >
        <div className="flex-1">
          <Labelled label="Name">
            <input
              className="field"
              maxLength={80}
              value={name}
              onChange={(e) => writing.set({ name: e.target.value })}
            />
          </Labelled>
        </div>
        <Button type="submit" disabled={!name.trim() || name === unit.name || writing.clashes.length > 0}>
          Rename
        </Button>
      </form>
      <SavedMeanwhile draft={writing} subject={`unit:${unit.id}`} called={() => 'Name'} />
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => setSheet('below')}>Make a unit below</Button>
        <Button onClick={() => setSheet('move')}>Move</Button>
        <AskButton
          doing={`Delete ${unit.code} ${unit.name}`}
          trouble={trouble}
          onYes={() =>
            act(
              () =>
                answer(
                  api.DELETE('/units/{id}', { params: { path: { id: unit.id }, header: onVersion(unit) } }),
                ),
              onClose,
            )
          }
        />
      </div>
      <Trouble error={trouble} />
      <p className="text-quiet text-xs">
        What is assigned to a unit is for everything in it and below; a nearer target wins over it.
      </p>
      <AttributeFields kind="unit" id={unit.id} />
      {sheet === 'move' && <Move unit={unit} onClose={() => setSheet(undefined)} />}
      {sheet === 'below' && <Make parentId={unit.id} onClose={() => setSheet(undefined)} />}
    </aside>
  );
}

/** The organisation tree. */
export function UnitsPage() {
  const [search, setSearch] = useSearchParams();
  return (
    <ListPage<Unit>
      list="units"
      title="Units"
      note="the organisation tree"
      actions={
        <>
          <SheetButtons what="units" />
          <Button weight="main" onClick={() => setSearch({ new: '1' })}>
            Make a unit
          </Button>
        </>
      }
      columns={columns}
      query={['units', 'list']}
      load={async () => ({ items: await answer(api.GET('/units')) })}
      card={(id, close) => <Card id={id} onClose={close} />}
      empty={
        <Empty title="There are no units yet.">
          Units are the parts of your organisation; devices and people belong to one.
        </Empty>
      }
    >
      {search.get('new') && <Make onClose={() => setSearch({})} />}
    </ListPage>
  );
}
