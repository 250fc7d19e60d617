import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { AppMark } from '../apps/AppMark';
import { ORIGINS, type App } from '../apps/apps';
import { AssignSheet } from '../apps/AssignSheet';
import { useCalm } from '../ui/calm';
import { Sheet } from '../ui/Dialog';
import { Button, Trouble } from '../ui/parts';

/** Most devices an app is handed to one by one; more are a group, a unit or a tag. */
export const MOST_HANDED = 20;

/** Picks an app to be installed on some devices, put on their shelf, or taken off them. */
export function HandApp({ devices, onClose }: { devices: string[]; onClose: () => void }) {
  const [typed, setTyped] = useState('');
  const q = useCalm(typed.trim());
  const [app, setApp] = useState<App>();
  const apps = useQuery({
    queryKey: ['apps', 'to-hand', q],
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.GET('/apps', { params: { query: { q: q || undefined, limit: 20 } } })),
  });
  const named = useQueries({
    queries: devices.map((id) => ({
      queryKey: ['device', id],
      queryFn: () => answer(api.GET('/devices/{id}', { params: { path: { id } } })),
    })),
  });
  if (app && named.every((n) => n.data)) {
    const to = named.map((n): Schemas['NamedTarget'] => ({
      kind: 'device',
      ref: n.data!.device.id,
      name: n.data!.device.name,
    }));
    return <AssignSheet app={app} to={to} onClose={onClose} />;
  }
  return (
    <Sheet title="Which app?" onClose={onClose} actions={<Button onClick={onClose}>Cancel</Button>}>
      <p className="text-quiet text-sm">
        Then say whether it is installed, waits on the shelf, or is taken off and kept out.
      </p>
      <input
        className="field w-full"
        aria-label="App"
        placeholder="Name, publisher or id"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
      <Trouble error={apps.error ?? named.find((n) => n.error)?.error} />
      <ul className="border-line max-h-80 overflow-y-auto border-y">
        {apps.data?.items.map((a) => (
          <li key={a.id} className="border-line/60 border-b last:border-0">
            <button
              type="button"
              className="hover:bg-raised flex w-full items-center gap-3 px-2 py-1.5 text-left text-sm"
              onClick={() => setApp(a)}
            >
              <AppMark app={a} />
              <span className="min-w-0 flex-1 truncate">
                {a.name} <span className="text-quiet text-xs">{a.publisher}</span>
              </span>
              <span className="text-quiet text-xs">{ORIGINS[a.origin]}</span>
            </button>
          </li>
        ))}
        {apps.data?.items.length === 0 && (
          <li className="text-quiet px-2 py-2 text-sm">
            No app here is called that. Bring one, or find it in a store, under Apps.
          </li>
        )}
      </ul>
    </Sheet>
  );
}
