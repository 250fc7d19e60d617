import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Moment, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';

export type Lost = Schemas['LostCase'];

const WORDS: Record<Lost['state'], string> = {
  open: 'being looked for',
  found: 'found',
  'written-off': 'given up',
};

export function CaseState({ of: c }: { of: Lost }) {
  const sign =
    c.state === 'open' ? (c.overdue ? 'drifted' : 'catching-up') : c.state === 'found' ? 'done' : 'retired';
  return <Standing of={sign} word={c.overdue ? `${WORDS[c.state]}, for over a week` : WORDS[c.state]} />;
}

/** Reports a device lost: it is locked, and asked where it is. */
export function ReportLost({ device, onClose }: { device: Schemas['DeviceSummary']; onClose: () => void }) {
  const personal = device.ownership === 'personal';
  const [what, setWhat] = useState('');
  const [text, setText] = useState('');
  const [phone, setPhone] = useState('');
  const [every, setEvery] = useState('10');
  const go = useNavigate();
  const { act, trouble, busy } = useAct('cases', 'device', 'devices', 'notices');
  const report = () =>
    act(
      () =>
        answer(
          api.POST('/cases', {
            body: {
              deviceId: device.id,
              what,
              text,
              phone,
              everyMinutes: personal ? undefined : Number(every),
            },
          }),
        ),
      (c) => go(`/devices/lost/${c.id}`),
    );
  return (
    <Sheet
      title={`${device.name} is lost`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" disabled={busy || !what.trim()} onClick={() => void report()}>
            Report it and lock it
          </Button>
        </>
      }
    >
      <p className="text-quiet text-sm">
        It is locked at once.{' '}
        {personal
          ? 'It is its holder’s own: where it is is never asked for.'
          : 'From now on it is asked where it is, and its holder sees on it that it is. You are told when it is heard.'}
      </p>
      <Labelled label="What happened">
        <textarea
          className="field h-20 py-1"
          maxLength={2000}
          value={what}
          onChange={(e) => setWhat(e.target.value)}
        />
      </Labelled>
      <Labelled label="On its lock screen (if you like)">
        <input
          className="field"
          maxLength={200}
          placeholder="Please hand it in at the museum."
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </Labelled>
      <Labelled label="Number to call (if you like)">
        <input
          className="field w-56"
          maxLength={40}
          value={phone}
          onChange={(e) => setPhone(e.target.value)}
        />
      </Labelled>
      {!personal && <Every value={every} onChange={setEvery} />}
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** How often it is asked where it is. */
export function Every({ value, onChange }: { value: string; onChange: (v: string) => void }) {
  return (
    <Labelled label="Asked where it is">
      <select className="field w-56" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="2">every 2 minutes</option>
        <option value="5">every 5 minutes</option>
        <option value="10">every 10 minutes</option>
        <option value="60">every hour</option>
        <option value="0">never</option>
      </select>
    </Labelled>
  );
}

/** On a device's card: its open case, or the way to report it lost. */
export function LostNote({ device }: { device: Schemas['DeviceSummary'] }) {
  const open = useQuery({
    queryKey: ['cases', 'of', device.id],
    queryFn: () =>
      answer(api.GET('/cases', { params: { query: { device: device.id, state: 'open', limit: 1 } } })),
  });
  const c = open.data?.items[0];
  if (!c) {
    return null;
  }
  return (
    <p className="border-rust border-l-2 pl-3 text-sm">
      Reported lost <Moment at={c.openedAt} /> by {c.openedBy}: {c.what}{' '}
      <Link className="text-brass underline" to={`/devices/lost/${c.id}`}>
        Open the case
      </Link>
    </p>
  );
}
