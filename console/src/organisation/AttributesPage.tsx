import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Empty, Labelled } from '../ui/parts';
import { RecordSheet, onVersion } from '../ui/RecordSheet';

type Attribute = Schemas['Attribute'];

const columns: ColumnDef<Attribute>[] = [
  { id: 'name', header: 'Name', size: 220, accessorFn: (a) => a.name },
  { id: 'kind', header: 'Of', size: 110, accessorFn: (a) => `a ${a.kind}` },
  { id: 'type', header: 'Type', size: 110, accessorFn: (a) => a.type },
  { id: 'choices', header: 'Choices', size: 320, accessorFn: (a) => a.choices.join(', ') },
  { id: 'used', header: 'With a value', size: 120, accessorFn: (a) => a.used },
];

const words = (text: string) =>
  text
    .split(',')
    .map((w) => w.trim())
    .filter(Boolean);

function Make({ onClose }: { onClose: () => void }) {
  const [draft, setDraft] = useState({
    name: '',
    kind: 'device' as Schemas['AttributeKind'],
    type: 'text',
    choices: '',
  });
  const set = (change: Partial<typeof draft>) => setDraft({ ...draft, ...change });
  const choices = words(draft.choices);
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
          <select
            className="field"
            value={draft.kind}
            onChange={(e) => set({ kind: e.target.value as Schemas['AttributeKind'] })}
          >
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

function Change({ attribute, onClose }: { attribute: Attribute; onClose: () => void }) {
  const [name, setName] = useState(attribute.name);
  const [choices, setChoices] = useState(attribute.choices.join(', '));
  // as it was when this sheet was opened: the list behind it goes on
  const [seen] = useState(attribute);
  const path = { id: attribute.id };
  return (
    <RecordSheet
      title={attribute.name}
      list="attributes"
      keep="Save"
      ready={name.trim() !== ''}
      save={() =>
        answer(
          api.PATCH('/attributes/{id}', {
            params: { path, header: onVersion(seen) },
            body: { name, ...(attribute.type === 'choice' ? { choices: words(choices) } : {}) },
          }),
        )
      }
      remove="Delete"
      takeAway={() => answer(api.DELETE('/attributes/{id}', { params: { path, header: onVersion(seen) } }))}
      goes={<p>It has {counted(attribute.used, 'value')}, which cannot be brought back.</p>}
      onClose={onClose}
    >
      <Labelled label="Name" hint="It stands as a column in lists and sheets.">
        <input className="field" maxLength={40} value={name} onChange={(e) => setName(e.target.value)} />
      </Labelled>
      {attribute.type === 'choice' && (
        <Labelled label="Choices" hint="Separated by commas. A word that is somebody's value stays.">
          <input className="field" value={choices} onChange={(e) => setChoices(e.target.value)} />
        </Labelled>
      )}
      <p className="text-quiet text-sm">
        It stays a {attribute.type} of a {attribute.kind}. Deleting it deletes the values it has.
      </p>
    </RecordSheet>
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
        return attribute && <Change key={id} attribute={attribute} onClose={close} />;
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
