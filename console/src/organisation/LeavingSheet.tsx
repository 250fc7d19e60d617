import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Moment, Trouble } from '../ui/parts';
import { PersonPick } from './choices';

type Choice = { fate: Schemas['Fate'] | ''; to?: { id: string; name: string } };

/** Somebody leaves: what becomes of each of their devices, in one step. */
export function LeavingSheet({ person, onClose }: { person: Schemas['Person']; onClose: () => void }) {
  const { act, trouble, busy } = useAct('people', 'devices', 'invitations', 'changes', 'fleet');
  const [choices, setChoices] = useState<Record<string, Choice>>({});
  const [takeOut, setTakeOut] = useState(true);
  const path = { id: person.id };
  const left = useQuery({
    queryKey: ['people', 'leaving', person.id],
    queryFn: () => answer(api.GET('/people/{id}/leaving', { params: { path } })),
  });
  const devices = left.data?.devices ?? [];
  const of = (id: string): Choice => choices[id] ?? { fate: '' };
  const choose = (id: string, choice: Choice) => setChoices({ ...choices, [id]: choice });
  const open = devices.filter((d) => {
    const c = of(d.id);
    return c.fate === '' || (c.fate === 'handed-over' && !c.to);
  });
  const retired = devices.filter((d) => of(d.id).fate === 'retired').length;
  const leave = () =>
    act(
      () =>
        answer(
          api.POST('/people/{id}/leaving', {
            params: { path },
            body: {
              takeOut,
              devices: devices.map((d) => ({
                deviceId: d.id,
                fate: of(d.id).fate as Schemas['Fate'],
                personId: of(d.id).to?.id,
              })),
            },
          }),
        ),
      onClose,
    );
  return (
    <Sheet
      wide
      title={`${person.name} leaves`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight={retired > 0 ? 'danger' : 'main'}
            disabled={busy || !left.data || open.length > 0}
            onClick={() => void leave()}
          >
            {open.length > 0
              ? `${open.length} ${open.length === 1 ? 'device' : 'devices'} to decide on`
              : `Let ${person.name} leave`}
          </Button>
        </>
      }
    >
      {left.data && (
        <p className="text-sm">
          {devices.length === 0
            ? 'They hold no device.'
            : `What becomes of the ${devices.length === 1 ? 'device' : `${devices.length} devices`} they hold? `}
          {left.data.invitations > 0 &&
            ` ${left.data.invitations} open ${left.data.invitations === 1 ? 'invitation of theirs ends' : 'invitations of theirs end'}.`}
        </p>
      )}
      {devices.length > 1 && (
        <div className="flex gap-2">
          <Button
            onClick={() => setChoices(Object.fromEntries(devices.map((d) => [d.id, { fate: 'kept' }])))}
          >
            Keep all, held by nobody
          </Button>
          <Button
            onClick={() => setChoices(Object.fromEntries(devices.map((d) => [d.id, { fate: 'retired' }])))}
          >
            Retire all
          </Button>
        </div>
      )}
      <ul className="divide-line divide-y">
        {devices.map((d) => (
          <li key={d.id} className="grid grid-cols-[1fr_12rem] items-start gap-4 py-3 text-sm">
            <div>
              <b>{d.name}</b>
              <div className="text-quiet text-xs">
                {d.model}, {d.ownership}
                {d.lastSeen && (
                  <>
                    , seen <Moment at={d.lastSeen} />
                  </>
                )}
              </div>
              {of(d.id).fate === 'handed-over' && (
                <div className="mt-2">
                  <PersonPick
                    label="To"
                    name={of(d.id).to?.name}
                    onChange={(to) => choose(d.id, { fate: 'handed-over', to })}
                  />
                </div>
              )}
            </div>
            <select
              className="field"
              aria-label={`What becomes of ${d.name}`}
              value={of(d.id).fate}
              onChange={(e) => choose(d.id, { fate: e.target.value as Choice['fate'] })}
            >
              <option value="">decide …</option>
              <option value="handed-over">goes to somebody</option>
              <option value="kept">is kept, held by nobody</option>
              <option value="retired">is retired</option>
            </select>
          </li>
        ))}
      </ul>
      <label className="flex items-start gap-2 text-sm">
        <input
          type="checkbox"
          className="mt-1"
          checked={takeOut}
          onChange={(e) => setTakeOut(e.target.checked)}
        />
        <span>
          Take {person.name} out.
          <span className="text-quiet block text-xs">
            Their name stays with what they accepted and held; login, mail, place and attributes go.
          </span>
        </span>
      </label>
      <Trouble error={trouble ?? left.error} />
    </Sheet>
  );
}

/** What somebody holds and held. */
export function Holdings({ id }: { id: string }) {
  const all = useQuery({
    queryKey: ['people', 'holdings', id],
    queryFn: () => answer(api.GET('/people/{id}/holdings', { params: { path: { id } } })),
  });
  if (!all.data?.length) {
    return null;
  }
  return (
    <section className="space-y-1 text-sm">
      <h3 className="font-semibold">Holds and held</h3>
      <ul>
        {all.data.map((h) => (
          <li key={`${h.deviceId}${h.since}`} className="flex justify-between gap-4 py-0.5">
            <span>
              {h.device} <span className="text-quiet text-xs">{h.model}</span>
            </span>
            <span className="text-quiet text-xs">
              since <Moment at={h.since} />
              {h.until && (
                <>
                  , until <Moment at={h.until} />
                </>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
