import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { RotateCw } from 'lucide-react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, bytes, Moment, Trouble } from '../ui/parts';

type DeviceApp = Schemas['DeviceApp'];

/** Each state in words, with a colour and a shape of its own. */
const STATES: Record<Schemas['AppState'], { word: string; colour: string; shape: string }> = {
  'as-wanted': { word: 'as wanted', colour: 'text-moss', shape: '●' },
  'on-shelf': { word: 'on the shelf', colour: 'text-slate', shape: '○' },
  missing: { word: 'missing', colour: 'text-amber', shape: '◌' },
  old: { word: 'another version', colour: 'text-amber', shape: '◐' },
  'under-way': { word: 'on its way', colour: 'text-amber', shape: '▸' },
  failing: { word: 'failing', colour: 'text-rust', shape: '■' },
  'not-assigned': { word: '', colour: 'text-quiet', shape: '' },
};

/** What a push would look at again. */
const LAGS: Schemas['AppState'][] = ['missing', 'old', 'failing'];

function versions(a: DeviceApp): string {
  if (a.version === undefined) {
    return a.wanted ? `${a.wanted} wanted` : 'not there';
  }
  return a.wanted && a.wanted !== a.version ? `${a.version}, ${a.wanted} wanted` : a.version;
}

function Row({ app: a }: { app: DeviceApp }) {
  const state = STATES[a.state];
  return (
    <li className="border-line/60 border-b py-1.5 text-sm">
      <span className="flex items-baseline gap-2">
        <span className="min-w-0 flex-1 truncate">
          {a.name}
          {a.presence && <span className="text-quiet text-xs"> {a.presence}</span>}
        </span>
        <span className="text-quiet text-xs tabular-nums">
          {versions(a)}
          {a.size > 0 && `, ${bytes(a.size)}`}
        </span>
        {state.word && (
          <span className={clsx('text-xs whitespace-nowrap', state.colour)}>
            <span aria-hidden>{state.shape}</span> {state.word}
          </span>
        )}
      </span>
      {a.comes && <span className="text-quiet block text-xs">Comes {a.comes}</span>}
      {a.reason && (
        <span className="text-rust block text-xs">
          {a.reason}
          {a.since && (
            <>
              , <Moment at={a.since} />
            </>
          )}
        </span>
      )}
    </li>
  );
}

/** The apps of a device: those assigned to it, and those that are there besides. */
export function DeviceApps({ id }: { id: string }) {
  const { act, trouble, busy } = useAct('device');
  const apps = useQuery({
    queryKey: ['device', id, 'apps'],
    queryFn: () => answer(api.GET('/devices/{id}/apps', { params: { path: { id } } })),
  });
  if (!apps.data) {
    return <Trouble error={apps.error} />;
  }
  const assigned = apps.data.apps.filter((a) => a.state !== 'not-assigned');
  const others = apps.data.apps.filter((a) => a.state === 'not-assigned');
  return (
    <div className="space-y-5">
      {!apps.data.told && <p className="text-quiet text-sm">It has not told yet which apps it has.</p>}
      {assigned.length > 0 && (
        <section>
          <div className="flex items-center">
            <h3 className="label">Assigned to it</h3>
            {assigned.some((a) => LAGS.includes(a.state)) && (
              <Button
                className="ml-auto"
                disabled={busy}
                onClick={() =>
                  void act(() => answer(api.POST('/devices/{id}/apps/push', { params: { path: { id } } })))
                }
              >
                <RotateCw className="size-4" /> Push now
              </Button>
            )}
          </div>
          <Trouble error={trouble} />
          <ul>
            {assigned.map((a) => (
              <Row key={a.packageId} app={a} />
            ))}
          </ul>
        </section>
      )}
      {apps.data.told && assigned.length === 0 && (
        <p className="text-quiet text-sm">No app is assigned to it.</p>
      )}
      {others.length > 0 && (
        <section>
          <h3 className="label">There besides</h3>
          <ul>
            {others.map((a) => (
              <Row key={a.packageId} app={a} />
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
