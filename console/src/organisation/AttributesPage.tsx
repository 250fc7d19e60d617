import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled, Trouble } from '../ui/parts';
import { RecordSheet } from '../ui/RecordSheet';

type Attribute = Schemas['Attribute'];

const columns: ColumnDef<Attribute>[] = [
  { id: 'name', header: 'Name', size: 220, accessorFn: (a) => a.name },
  { id: 'kind', header: 'Of', size: 110, accessorFn: (a) => `a ${a.kind}` },
  { id: 'type', header: 'Type', size: 110, accessorFn: (a) => a.type },
  { id: 'choices', header: 'Choices', size: 320, accessorFn: (a) => a.choices.join(', ') },
  { id: 'used', header: 'With a value', size: 120, accessorFn: (a) => a.used },
];

function Make({ onClose }: { onClose: () => void }) {
  const [draft, setDraft] = useState({ name: '', kind: 'device', type: 'text', choices: '' });
  const set = (change: Partial<typeof draft>) => setDraft({ ...draft, ...change });
  const choices = draft.choices
    .split(',')
    .map((c) => c.trim())
    .filter(Boolean);
  return (
    <RecordSheet
      title="Make an attribute"
      list="attributes"
      keep="Make attribute"
      ready={draft.name.trim() !== ''}
      save={() =>
        answer(
          api.POST('/attributes', {
            body: {
              name: draft.name,
              kind: draft.kind,
              type: draft.type,
              ...(draft.type === 'choice' ? { choices } : {}),
            },
          }),
        )
      }
      onClose={onClose}
    >
      <Labelled label="Name" hint="It stands as a column in sheets.">
        <input
          className="field"
          maxLength={40}
          placeholder="Room"
          value={draft.name}
          onChange={(e) => set({ name: e.target.value })}
        />
      </Labelled>
      <div className="grid grid-cols-2 gap-4">
        <Labelled label="Of">
          <select className="field" value={draft.kind} onChange={(e) => set({ kind: e.target.value })}>
            <option value="device">devices</option>
            <option value="person">people</option>
            <option value="unit">units</option>
          </select>
        </Labelled>
        <Labelled label="Type">
          <select className="field" value={draft.type} onChange={(e) => set({ type: e.target.value })}>
            {['text', 'number', 'date', 'choice'].map((t) => (
              <option key={t}>{t}</option>
            ))}
          </select>
        </Labelled>
      </div>
      {draft.type === 'choice' && (
        <Labelled label="Choices" hint="Separated by commas.">
          <input className="field" value={draft.choices} onChange={(e) => set({ choices: e.target.value })} />
        </Labelled>
      )}
    </RecordSheet>
  );
}

function Remove({ attribute, onClose }: { attribute: Attribute; onClose: () => void }) {
  const { act, trouble, busy } = useAct('attributes');
  return (
    <Sheet
      title={attribute.name}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="danger"
            disabled={busy}
            onClick={() =>
              void act(
                () => answer(api.DELETE('/attributes/{id}', { params: { path: { id: attribute.id } } })),
                onClose,
              )
            }
          >
            Delete with {attribute.used} values
          </Button>
        </>
      }
    >
      <p className="text-sm">
        A {attribute.type} of a {attribute.kind}; {attribute.used} have a value. Deleting it deletes those
        values.
      </p>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Typed fields of the organisation's own. */
export function AttributesPage() {
  const [search, setSearch] = useSearchParams();
  const [all, setAll] = useState<Attribute[]>([]);
  return (
    <ListPage<Attribute>
      list="attributes"
      title="Attributes"
      note="fields of your own on devices, people and units"
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Make an attribute
        </Button>
      }
      columns={columns}
      query={['attributes']}
      load={async () => {
        const items = await answer(api.GET('/attributes'));
        setAll(items);
        return { items };
      }}
      card={(id, close) => {
        const attribute = all.find((a) => a.id === id);
        return attribute && <Remove key={id} attribute={attribute} onClose={close} />;
      }}
      empty={
        <Empty title="There are no attributes yet.">
          Such as the room of a kiosk, the day a lease ends, the shelf a phone lives on.
        </Empty>
      }
    >
      {search.get('new') && <Make onClose={() => setSearch({})} />}
    </ListPage>
  );
}
