import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useSites } from '../api/choices';
import { PersonPick, unitLabel, useUnits } from '../organisation/choices';
import { useCalm } from '../ui/calm';
import { ProposeButton, useConfirmation } from '../rules/confirmation';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Trouble } from '../ui/parts';
import type { Whom } from './ActMenu';

/** What can be done to the records of many devices at once. */
export const edits = [
  { key: 'place', title: 'Place or hand over', help: 'Where they belong and who holds them.' },
  { key: 'tag', title: 'Tag', help: 'Give them tags, or take tags away.' },
  { key: 'rename', title: 'Rename', help: 'By a pattern, with running numbers.' },
  { key: 'retire', title: 'Retire', help: 'Stop managing them; the records stay on file.' },
] as const;

export type EditKind = (typeof edits)[number]['key'];

type Edit = Omit<Schemas['DeviceEdit'], 'ids' | 'matching' | 'confirmDevices' | 'reason'>;

const leave = 'leave';

/** A choice that may also leave things as they are, or take them away. */
function Kept(props: {
  label: string;
  value: string | undefined;
  options: [string, string][];
  none: string;
  onChange: (id: string | undefined) => void;
}) {
  return (
    <Labelled label={props.label}>
      <select
        className="field"
        value={props.value ?? leave}
        onChange={(e) => props.onChange(e.target.value === leave ? undefined : e.target.value)}
      >
        <option value={leave}>leave as it is</option>
        <option value="">{props.none}</option>
        {props.options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

function PlaceFields({ edit, set }: { edit: Edit; set: (edit: Edit) => void }) {
  const units = useUnits();
  const sites = useSites();
  const [holder, setHolder] = useState<'leave' | 'nobody' | 'somebody'>(leave);
  const [name, setName] = useState<string>();
  return (
    <>
      <Kept
        label="Unit"
        none="no unit"
        value={edit.unitId}
        options={units.data?.map((u) => [u.id, unitLabel(u)]) ?? []}
        onChange={(unitId) => set({ ...edit, unitId })}
      />
      <Kept
        label="Site"
        none="no site"
        value={edit.siteId}
        options={sites.data?.items.map((s) => [s.id, s.name]) ?? []}
        onChange={(siteId) => set({ ...edit, siteId })}
      />
      <Labelled label="Held by">
        <select
          className="field"
          value={holder}
          onChange={(e) => {
            const who = e.target.value as typeof holder;
            setHolder(who);
            setName(undefined);
            set({ ...edit, personId: who === 'nobody' ? '' : undefined });
          }}
        >
          <option value={leave}>leave as it is</option>
          <option value="nobody">nobody</option>
          <option value="somebody">somebody</option>
        </select>
      </Labelled>
      {holder === 'somebody' && (
        <PersonPick
          label="Who"
          name={name}
          onChange={(p) => {
            setName(p?.name);
            set({ ...edit, personId: p?.id });
          }}
        />
      )}
    </>
  );
}

const listed = (typed: string) =>
  typed
    .split(',')
    .map((t) => t.trim())
    .filter((t) => t !== '');

function TagFields({ set }: { set: (edit: Edit) => void }) {
  const [add, setAdd] = useState('');
  const [remove, setRemove] = useState('');
  const tags = useQuery({ queryKey: ['tags'], queryFn: () => answer(api.GET('/tags')) });
  const change = (a: string, r: string) => {
    setAdd(a);
    setRemove(r);
    set({
      ...(listed(a).length > 0 ? { addTags: listed(a) } : {}),
      ...(listed(r).length > 0 ? { removeTags: listed(r) } : {}),
    });
  };
  return (
    <>
      <Labelled label="Give them" hint="Several with commas.">
        <input
          className="field"
          list="known-tags"
          value={add}
          onChange={(e) => change(e.target.value, remove)}
        />
      </Labelled>
      <Labelled label="Take away">
        <input
          className="field"
          list="known-tags"
          value={remove}
          onChange={(e) => change(add, e.target.value)}
        />
      </Labelled>
      <datalist id="known-tags">
        {Object.keys(tags.data ?? {}).map((t) => (
          <option key={t} value={t} />
        ))}
      </datalist>
    </>
  );
}

/** What it would do: how many devices, some of them before and after, and what becomes of settings. */
export function Rehearsed({ of: r }: { of: Schemas['EditRehearsal'] }) {
  const s = r.settings;
  const renamed = r.examples.every((e) => e.before === e.name);
  return (
    <div className="border-line space-y-2 border-t pt-3 text-sm" data-testid="edit-rehearsal">
      <p>
        {counted(r.devices, 'device')}
        {r.changing < r.devices && `; ${r.devices - r.changing} of them are so already`}.{' '}
        {s && `${s.changing} get other settings: ${s.gain} gain, ${s.change} change, ${s.lose} lose.`}
      </p>
      {r.told.map((t) => (
        <p key={t}>{t}</p>
      ))}
      {r.examples.length > 0 && (
        <table className="w-full table-fixed text-xs">
          <thead>
            <tr className="text-quiet text-left">
              <th className="w-1/3 py-1 font-normal">Device</th>
              {!renamed && <th className="w-1/3 font-normal">Now</th>}
              <th className="w-1/3 font-normal">Then</th>
            </tr>
          </thead>
          <tbody>
            {r.examples.slice(0, 8).map((e) => (
              <tr key={e.id} className="border-line border-t align-top">
                <td className="truncate py-1 pr-3">{e.name}</td>
                {!renamed && <td className="text-quiet py-1 pr-3 break-words">{e.before}</td>}
                <td className="py-1 break-words">{e.after}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {r.examples.length > 0 && r.changing > 8 && (
        <p className="text-quiet text-xs">and {r.changing - 8} more</p>
      )}
    </div>
  );
}

/** Edits many devices as one change: says what it would do, then does it once. */
export function EditSheet({
  kind,
  whom,
  called,
  onClose,
}: {
  kind: EditKind;
  whom: Whom;
  called: string;
  onClose: () => void;
}) {
  const { act, trouble, busy } = useAct('devices', 'changes', 'tags');
  const [edit, setEdit] = useState<Edit>({});
  const { title, help } = edits.find((e) => e.key === kind)!;
  const said = Object.values(edit).some((v) => v !== undefined);
  const body = { ...edit, ...(whom.matching ? { matching: whom.matching } : { ids: whom.devices }) };
  const asking = JSON.stringify(body);
  const calm = useCalm(asking);
  const rehearsal = useQuery({
    queryKey: ['edit', calm],
    enabled: said && calm === asking,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.POST('/device-edits/rehearsal', { body: JSON.parse(calm) as typeof body })),
  });
  const r = said ? rehearsal.data : undefined;
  const confirmation = useConfirmation(r, 'go on');
  const ready =
    said && calm === asking && r !== undefined && !rehearsal.isFetching && !rehearsal.error && r.changing > 0;
  return (
    <Sheet
      title={`${title}: ${called}`}
      wide
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {confirmation.second && ready && (
            <ProposeButton intent={{ edit: body }} confirmation={confirmation} />
          )}
          <Button
            weight={kind === 'retire' ? 'danger' : 'main'}
            disabled={busy || !ready || !confirmation.ready}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/device-edits', {
                      body: { ...body, ...confirmation.given },
                    }),
                  ),
                onClose,
              )
            }
          >
            {title.split(' ')[0]} {counted(r?.changing ?? whom.count, 'device')}
          </Button>
        </>
      }
    >
      <p className="text-quiet text-sm">{help}</p>
      {kind === 'place' && <PlaceFields edit={edit} set={setEdit} />}
      {kind === 'tag' && <TagFields set={setEdit} />}
      {kind === 'rename' && (
        <Labelled
          label="Name pattern"
          hint="{serial}, {imei}, {asset}, {person}, {unit}, {site}, {model}, {platform} and {seq:3}, a running number."
        >
          <input
            className="field font-mono"
            maxLength={60}
            placeholder="Kiosk {unit} {seq:3}"
            value={edit.namePattern ?? ''}
            onChange={(e) => setEdit(e.target.value.trim() ? { namePattern: e.target.value } : {})}
          />
        </Labelled>
      )}
      {kind === 'retire' && (
        <Labelled
          label="Reason"
          hint="Kept in the journal. This cannot be taken back; they would have to join again."
        >
          <input
            className="field"
            maxLength={300}
            value={edit.retire ?? ''}
            onChange={(e) => setEdit(e.target.value.trim() ? { retire: e.target.value } : {})}
          />
        </Labelled>
      )}
      {r && <Rehearsed of={r} />}
      {confirmation.fields}
      <Trouble error={trouble ?? (said ? rehearsal.error : undefined)} />
    </Sheet>
  );
}
