import { useQuery, useQueryClient } from '@tanstack/react-query';
import { BellRing, Lock, MapPin, MessageSquare } from 'lucide-react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, carry, type Schemas } from '../api/client';
import { LossSheet } from '../devices/LossSheet';
import { Mark } from '../shell/Mark';
import { Sheet } from '../ui/Dialog';
import { MyApps } from './MyApps';
import { Button, Empty, Labelled, Moment, Trouble } from '../ui/parts';

type Mine = Schemas['MyDevice'];

/** Whoever holds devices, signed in to their own page; null when nobody is. */
const useMine = () =>
  useQuery({
    queryKey: ['mine'],
    retry: false,
    queryFn: async () => {
      const { data, response } = await api.GET('/mine');
      if (response.status === 401) {
        return null;
      }
      const page = await answer(Promise.resolve({ data, response }));
      carry(page.csrf);
      return page;
    },
  });

function SignIn() {
  const [login, setLogin] = useState('');
  const [password, setPassword] = useState('');
  const { act, trouble, busy } = useAct('mine');
  return (
    <form
      className="border-line bg-sheet mx-auto mt-24 w-full max-w-sm space-y-4 border p-6"
      onSubmit={(e) => {
        e.preventDefault();
        void act(() => answer(api.POST('/mine/sign-in', { body: { login, password } })));
      }}
    >
      <h1 className="flex items-center gap-3 text-lg font-semibold">
        <Mark /> My devices
      </h1>
      <p className="text-quiet text-sm">
        See the devices you hold, what your organisation sees and did, and find one that is lost.
      </p>
      <Labelled label="Staff login">
        <input
          className="field"
          autoComplete="username"
          value={login}
          onChange={(e) => setLogin(e.target.value)}
        />
      </Labelled>
      <Labelled label="Password">
        <input
          className="field"
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
      </Labelled>
      <Trouble error={trouble} />
      <Button type="submit" weight="main" disabled={busy || !login.trim() || !password}>
        Sign in
      </Button>
    </form>
  );
}

const DEEDS = [
  { key: 'ring', word: 'Ring', icon: BellRing, text: 'Text on its screen (if you like)' },
  { key: 'lock', word: 'Lock', icon: Lock, text: 'Text on its lock screen (if you like)' },
  { key: 'locate', word: 'Find it', icon: MapPin, text: '' },
  { key: 'message', word: 'Message', icon: MessageSquare, text: 'Message' },
] as const;

function Deed({ of: m, deed, onClose }: { of: Mine; deed: (typeof DEEDS)[number]; onClose: () => void }) {
  const [text, setText] = useState('');
  const { act, trouble, busy } = useAct('mine');
  const send = () =>
    act(
      () =>
        answer(
          api.POST('/mine/devices/{id}/commands', {
            params: { path: { id: m.device.id } },
            body: { command: deed.key, text: text || undefined },
          }),
        ),
      onClose,
    );
  return (
    <Sheet
      title={`${deed.word}: ${m.device.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || (deed.key === 'message' && !text.trim())}
            onClick={() => void send()}
          >
            {deed.word}
          </Button>
        </>
      }
    >
      {deed.text ? (
        <Labelled label={deed.text}>
          <input className="field" maxLength={200} value={text} onChange={(e) => setText(e.target.value)} />
        </Labelled>
      ) : (
        <p className="text-sm">
          It is asked where it is, and shows that it was. What it says is below, under what was done.
        </p>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}

function Report({ of: m, onClose }: { of: Mine; onClose: () => void }) {
  const { act, trouble, busy } = useAct('mine');
  return (
    <LossSheet
      device={m.device.name}
      note="It is locked at once, and whoever looks after devices is told."
      busy={busy}
      trouble={trouble}
      onClose={onClose}
      onReport={(loss) =>
        void act(
          () =>
            answer(
              api.POST('/mine/devices/{id}/loss', {
                params: { path: { id: m.device.id } },
                body: loss,
              }),
            ),
          onClose,
        )
      }
    />
  );
}

function Done({ device }: { device: string }) {
  const lines = useQuery({
    queryKey: ['mine', 'activity', device],
    refetchInterval: 5_000,
    queryFn: () => answer(api.GET('/mine/devices/{id}/activity', { params: { path: { id: device } } })),
  });
  return (
    <ol className="text-sm">
      {lines.data?.items.map((l) => (
        <li key={l.id} className="border-line/60 flex justify-between gap-3 border-b py-1">
          <span className="first-letter:uppercase">{l.text}</span>
          <span className="text-quiet shrink-0 text-xs">
            <Moment at={l.at} />
          </span>
        </li>
      ))}
    </ol>
  );
}

function Device({ of: m }: { of: Mine }) {
  const d = m.device;
  const [deed, setDeed] = useState<(typeof DEEDS)[number]>();
  const [reporting, setReporting] = useState(false);
  return (
    <section aria-label={d.name} className="border-line bg-sheet space-y-3 border p-5">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-base font-semibold">{d.name}</h2>
        <span className="text-quiet text-sm">
          {d.maker} {d.model}; {d.ownership === 'personal' ? 'your own' : 'of the organisation'}; seen{' '}
          <Moment at={d.lastSeen} />
        </span>
      </div>
      {d.lost && (
        <p className="border-rust border-l-2 pl-3 text-sm">Reported lost; it is being looked for.</p>
      )}
      {d.locked && <p className="text-sm">It is locked.</p>}
      <div className="flex flex-wrap gap-2">
        {DEEDS.filter((x) => m.may.includes(x.key)).map((x) => (
          <Button key={x.key} onClick={() => setDeed(x)}>
            <x.icon className="size-4" /> {x.word}
          </Button>
        ))}
        {!d.lost && (
          <Button weight="danger" onClick={() => setReporting(true)}>
            I lost it
          </Button>
        )}
      </div>
      <details>
        <summary className="text-brass cursor-pointer text-sm">What your organisation sees</summary>
        <div className="mt-2 grid gap-4 text-sm sm:grid-cols-2">
          <div>
            <h3 className="label">Sees</h3>
            <p>{m.visible.join(', ')}</p>
          </div>
          <div>
            <h3 className="label">Never sees</h3>
            <p>{m.never.join(', ')}</p>
          </div>
        </div>
      </details>
      <details>
        <summary className="text-brass cursor-pointer text-sm">Apps</summary>
        <div className="mt-2">
          <MyApps device={d.id} />
        </div>
      </details>
      <details>
        <summary className="text-brass cursor-pointer text-sm">What was done</summary>
        <div className="mt-2 max-h-72 overflow-y-auto">
          <Done device={d.id} />
        </div>
      </details>
      {deed && <Deed of={m} deed={deed} onClose={() => setDeed(undefined)} />}
      {reporting && <Report of={m} onClose={() => setReporting(false)} />}
    </section>
  );
}

/** The page of somebody who holds devices. */
export function MinePage() {
  const mine = useMine();
  const queries = useQueryClient();
  if (mine.data === null) {
    return <SignIn />;
  }
  return (
    <main className="mx-auto max-w-2xl space-y-4 p-4 sm:p-8">
      <Trouble error={mine.error} />
      {mine.data && (
        <>
          <header className="flex items-center gap-3">
            <Mark />
            <h1 className="flex-1 text-lg font-semibold">Devices of {mine.data.name}</h1>
            <Button
              onClick={() =>
                void api.DELETE('/mine/sign-in').then(() => queries.invalidateQueries({ queryKey: ['mine'] }))
              }
            >
              Sign out
            </Button>
          </header>
          {mine.data.devices.length === 0 && (
            <Empty title="You hold no device.">Once one is handed to you, it is here.</Empty>
          )}
          {mine.data.devices.map((m) => (
            <Device key={m.device.id} of={m} />
          ))}
        </>
      )}
    </main>
  );
}
