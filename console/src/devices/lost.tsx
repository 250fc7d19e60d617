import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useAct } from '../api/act';
import { useSites } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { Labelled, Moment } from '../ui/parts';
import { Standing } from '../ui/Standing';
import { LossSheet, type Loss } from './LossSheet';

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
  const [text, setText] = useState('');
  const [every, setEvery] = useState('10');
  const [ringAt, setRingAt] = useState('');
  const go = useNavigate();
  const { act, trouble, busy } = useAct('cases', 'device', 'devices', 'notices');
  const report = (loss: Loss) =>
    act(
      () =>
        answer(
          api.POST('/cases', {
            body: {
              ...loss,
              deviceId: device.id,
              text,
              everyMinutes: personal ? undefined : Number(every),
              ringSiteId: personal ? undefined : ringAt || undefined,
            },
          }),
        ),
      (c) => go(`/devices/lost/${c.id}`),
    );
  return (
    <LossSheet
      device={device.name}
      note={`It is locked at once. ${
        personal
          ? 'It is its holder’s own: where it is is never asked for.'
          : 'From now on it is asked where it is, and its holder sees on it that it is. You are told when it is heard.'
      }`}
      busy={busy}
      trouble={trouble}
      onClose={onClose}
      onReport={(loss) => void report(loss)}
    >
      <Labelled label="On its lock screen (if you like)">
        <input
          className="field"
          maxLength={200}
          placeholder="Please hand it in at the museum."
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </Labelled>
      {!personal && (
        <>
          <Every value={every} onChange={setEvery} />
          <RingsAt value={ringAt} onChange={setRingAt} />
        </>
      )}
    </LossSheet>
  );
}

/** The site at which it rings by itself: one with an outline. */
export function RingsAt({ value, onChange }: { value: string; onChange: (v: string) => void }) {
  const sites = useSites();
  const drawn = sites.data?.items.filter((s) => s.outline.length > 0) ?? [];
  return (
    <Labelled
      label="Rings by itself"
      hint="Where it may lie within hearing, every quarter of an hour at most."
    >
      <select className="field w-44" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">nowhere</option>
        {drawn.map((s) => (
          <option key={s.id} value={s.id}>
            at {s.name}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

/** How often it is asked where it is. */
export function Every({ value, onChange }: { value: string; onChange: (v: string) => void }) {
  return (
    <Labelled label="Asked where it is">
      <select className="field w-44" value={value} onChange={(e) => onChange(e.target.value)}>
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
