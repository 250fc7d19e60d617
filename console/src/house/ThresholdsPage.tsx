import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { Button, Heading, Labelled, Trouble } from '../ui/parts';
import { onVersion, Read } from '../ui/RecordSheet';

const ASKED = [
  ['number', 'The number is typed', 'Whoever changes so many types how many it is.'],
  ['reason', 'A reason is given', 'It is kept with the change and in the journal.'],
  [
    'second',
    'A second person agrees',
    'It can only be proposed; somebody else sees what it would do and agrees or refuses.',
  ],
  [
    'wiping',
    'A second person agrees to wipes',
    'To wipes and releases, which are the hardest to undo, from fewer devices on.',
  ],
] as const;

type Draft = Record<(typeof ASKED)[number][0] | 'alone', string>;

const number = (text: string) => (text.trim() === '' ? undefined : Number(text));

function Form({ set }: { set: Schemas['Thresholds'] }) {
  const { act, trouble, busy } = useAct('thresholds');
  const me = useMe();
  const owner = me.data?.account.role === 'owner';
  const before: Draft = {
    number: String(set.number),
    reason: set.reason?.toString() ?? '',
    second: set.second?.toString() ?? '',
    wiping: set.wiping?.toString() ?? '',
    alone: String(set.alone),
  };
  const [password, setPassword] = useState('');
  const [draft, setDraft] = useState(before);
  const never = Number.MAX_SAFE_INTEGER;
  const eased = Number(draft.alone) > set.alone || (number(draft.wiping) ?? never) > (set.wiping ?? never);
  const dirty = JSON.stringify(draft) !== JSON.stringify(before);
  return (
    <div className="max-w-xl space-y-6 px-5 py-2 text-sm">
      <p className="text-quiet">
        Every change of devices is rehearsed first. The more devices it is, the more is asked before it is
        made. Where a field is empty, it is never asked.
      </p>
      {ASKED.map(([key, title, help]) => (
        <Labelled key={key} label={title} hint={help}>
          <span className="flex items-center gap-2">
            from
            <input
              className="field w-28"
              type="number"
              min={1}
              aria-label={title}
              disabled={!owner}
              placeholder="never"
              value={draft[key]}
              onChange={(e) => setDraft({ ...draft, [key]: e.target.value })}
            />
            devices on
          </span>
        </Labelled>
      ))}
      <Labelled
        label="One person alone wipes up to"
        hint="Whatever runs away, and whoever has stolen a sign-in, is stopped there. 0 where two are always needed."
      >
        <span className="flex items-center gap-2">
          <input
            className="field w-28"
            type="number"
            min={0}
            aria-label="One person alone wipes up to"
            disabled={!owner}
            value={draft.alone}
            onChange={(e) => setDraft({ ...draft, alone: e.target.value })}
          />
          devices in an hour
        </span>
      </Labelled>
      {owner && eased && (
        <Labelled
          label="Your password"
          hint="This lets one person alone wipe more than before; a sign-in that is open is not enough for it."
        >
          <input
            className="field w-64"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </Labelled>
      )}
      <Trouble error={trouble} />
      {owner ? (
        <Button
          weight="main"
          disabled={busy || !dirty || draft.number.trim() === '' || (eased && password === '')}
          onClick={() =>
            void act(() =>
              answer(
                api.PUT('/house/thresholds', {
                  params: { header: onVersion(set) },
                  body: {
                    number: Number(draft.number),
                    reason: number(draft.reason),
                    second: number(draft.second),
                    wiping: number(draft.wiping),
                    alone: number(draft.alone),
                    password: eased ? password : undefined,
                  },
                }),
              ),
            )
          }
        >
          Save
        </Button>
      ) : (
        <p className="text-quiet">Owners set this.</p>
      )}
    </div>
  );
}

/** What is asked before devices are changed. */
export function ThresholdsPage() {
  return (
    <section className="flex min-w-0 flex-1 flex-col">
      <Heading title="Before changes" note="what is asked before devices are changed" />
      <Read query={['thresholds']} load={() => answer(api.GET('/house/thresholds'))}>
        {(set) => <Form key={set.version} set={set} />}
      </Read>
    </section>
  );
}
