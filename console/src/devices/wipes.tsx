import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Moment, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';

export type Wipe = Schemas['Wipe'];

const WORDS: Record<Wipe['stage'], string> = {
  asked: 'waits for the device',
  delivered: 'the device has it',
  begun: 'said so, not proved',
  proved: 'proved',
  failed: 'did not happen',
  cancelled: 'cancelled',
  expired: 'not heard in time',
  revoked: 'coming back',
  restored: 'everything is back',
};

const SIGNS: Record<Wipe['stage'], string> = {
  asked: 'queued',
  delivered: 'delivered',
  begun: 'catching-up',
  proved: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  expired: 'expired',
  revoked: 'catching-up',
  restored: 'settled',
};

/** What is known of a wipe, in a word. */
export function stageOf(w: Pick<Wipe, 'stage' | 'kind'>): string {
  return w.stage === 'proved' ? (w.kind === 'device' ? 'proved blank' : 'gone, and looked') : WORDS[w.stage];
}

export const whatOf = (w: Pick<Wipe, 'kind'>) => (w.kind === 'device' ? 'Whole device' : 'Work part');

export function Stage({ of: w }: { of: Wipe }) {
  return <Standing of={SIGNS[w.stage]} word={stageOf(w)} reason={w.outcome} />;
}

const PROOFS: Record<NonNullable<Wipe['proof']>, string> = {
  blank: 'the blank device showed itself by its maker’s certificate',
  joined: 'it asked to join anew, by its maker’s certificate',
  read: 'it was read, and nothing of the organisation’s was left',
};

type Step = { word: string; at?: string; by?: string; bad?: boolean };

/** What happened, in order; what is still to come has no time. */
function steps(w: Wipe): Step[] {
  const by = `${w.actor}${w.agreedBy ? ` and ${w.agreedBy}` : ''}: ${w.reason}`;
  const list: Step[] = [{ word: 'Ordered', at: w.askedAt, by }];
  if (w.stage === 'cancelled' || w.stage === 'expired' || (w.stage === 'failed' && !w.deniedAt)) {
    return [...list, { word: WORDS[w.stage], at: w.askedAt, by: w.outcome, bad: true }];
  }
  list.push({ word: 'With the device', at: w.deliveredAt });
  list.push({ word: w.kind === 'device' ? 'It says that it begins' : 'It says that it did', at: w.begunAt });
  if (w.deniedAt) {
    return [...list, { word: 'It spoke as if nothing had happened', at: w.deniedAt, bad: true }];
  }
  if (w.provedAt || !w.revokedAt) {
    list.push({
      word: w.kind === 'device' ? 'Proved blank' : 'Looked at afterwards',
      at: w.provedAt,
      by: w.proof && PROOFS[w.proof],
    });
  }
  if (w.revokedAt) {
    list.push({ word: 'Revoked', at: w.revokedAt, by: w.revokedBy });
    list.push({ word: 'Everything is back', at: w.restoredAt });
  }
  return list;
}

function Ladder({ of: w }: { of: Wipe }) {
  return (
    <ol className="border-line ml-1 border-l" aria-label="What happened">
      {steps(w).map((s) => (
        <li key={s.word} className={`relative py-1 pl-4 text-sm ${s.at ? '' : 'text-quiet'}`}>
          <span
            className={`absolute top-2.5 -left-[4px] size-[7px] rounded-full border ${
              s.bad ? 'border-rust bg-rust' : s.at ? 'border-ink bg-ink' : 'border-slate bg-sheet'
            }`}
            aria-hidden
          />
          <span className="flex justify-between gap-3">
            <span className={s.bad ? 'text-rust' : ''}>{s.word}</span>
            <span className="text-quiet shrink-0 text-xs">{s.at && <Moment at={s.at} />}</span>
          </span>
          {s.by && <span className="text-quiet block text-xs">{s.by}</span>}
        </li>
      ))}
    </ol>
  );
}

function Named({ title, names }: { title: string; names: string[] }) {
  return (
    <div>
      <h4 className="label mb-1">{title}</h4>
      <ul className="text-sm">
        {names.map((n) => (
          <li key={n}>{n}</li>
        ))}
      </ul>
    </div>
  );
}

function Revoke({ wipe: w, onClose }: { wipe: Wipe; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const { act, trouble, busy } = useAct('wipes', 'device', 'devices');
  return (
    <Sheet
      title={`Revoke the wipe of ${w.device}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !reason.trim()}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/wipes/{id}/revocation', { params: { path: { id: w.id } }, body: { reason } }),
                  ),
                onClose,
              )
            }
          >
            Bring everything back
          </Button>
        </>
      }
    >
      <p className="text-sm">
        Its apps, accounts, files and settings come back by themselves, as soon as the device is heard. What
        its apps kept on it and nowhere else does not.
      </p>
      <Labelled label="Reason" hint="Kept in the journal.">
        <input className="field" maxLength={300} value={reason} onChange={(e) => setReason(e.target.value)} />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** All that is known of a wipe, and what can be done about it. */
export function WipeDetail({ wipe: w }: { wipe: Wipe }) {
  const [revoking, setRevoking] = useState(false);
  const me = useMe();
  const may = ['owner', 'operator'].includes(me.data?.account.role ?? '');
  const { act, trouble, busy } = useAct('wipes', 'device', 'dispatches');
  return (
    <div className="space-y-3">
      <Ladder of={w} />
      {w.kind === 'device' && w.stage === 'begun' && (
        <p className="text-quiet text-sm">
          The device said so itself. It is proved once the blank device shows its maker’s certificate; whether
          it can be retired before that is up to you.
        </p>
      )}
      {w.retire && w.stage !== 'proved' && (
        <p className="text-quiet text-sm">It is retired by itself once it is proved blank.</p>
      )}
      {(w.before.length > 0 || w.after.length > 0) && (
        <details>
          <summary className="text-brass cursor-pointer text-sm">
            What it took
            {w.after.length > 0 && <span className="text-rust"> and what is still there</span>}
          </summary>
          <div className="mt-2 grid grid-cols-2 gap-4">
            <Named title="Before" names={w.before} />
            <Named
              title="After"
              names={w.after.length > 0 ? w.after : [w.provedAt ? 'nothing of it' : 'not looked at yet']}
            />
          </div>
        </details>
      )}
      <div className="flex flex-wrap gap-2">
        {w.stage === 'asked' && (
          <Button
            weight="danger"
            disabled={busy}
            onClick={() =>
              void act(() =>
                answer(api.POST('/commands/{id}/cancellation', { params: { path: { id: w.id } } })),
              )
            }
          >
            Cancel the wipe
          </Button>
        )}
        {w.kind === 'work' && !w.notRevocable && may && (
          <Button weight="main" onClick={() => setRevoking(true)}>
            Revoke: bring everything back
          </Button>
        )}
      </div>
      <Trouble error={trouble} />
      {revoking && <Revoke wipe={w} onClose={() => setRevoking(false)} />}
    </div>
  );
}

/** The last wipe of a device, on its card, for as long as it matters. */
export function LastWipe({ device }: { device: string }) {
  const last = useQuery({
    queryKey: ['wipes', 'of', device],
    queryFn: () => answer(api.GET('/wipes', { params: { query: { device, limit: 1 } } })),
  });
  const w = last.data?.items[0];
  if (!w || w.stage === 'cancelled' || w.stage === 'restored') {
    return null;
  }
  return (
    <section aria-label="Wipe" className="border-rust space-y-2 border-l-2 pl-3">
      <h3 className="flex items-center gap-3 text-sm font-semibold">
        {w.kind === 'device' ? 'Wipe of the whole device' : 'Wipe of the work part'}
        <span className="font-normal">
          <Stage of={w} />
        </span>
      </h3>
      <WipeDetail wipe={w} />
    </section>
  );
}
