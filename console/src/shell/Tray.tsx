import { useQuery } from '@tanstack/react-query';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { Moment } from '../ui/parts';

const UndoSheet = lazy(() => import('../devices/UndoSheet').then((m) => ({ default: m.UndoSheet })));

export interface Flight {
  key: string;
  title: string;
  at: string;
  to: string;
  total: number;
  done: number;
  waiting: number;
  failed: number;
  /** A change that wrote into devices what can be put back. */
  undoable?: boolean;
}

/** A change as something in flight. */
export function ofChange(c: Schemas['Change']): Flight {
  return {
    key: c.id,
    title: c.title,
    at: c.at,
    to: c.profile ? `/rules/profiles/${c.profile}` : '/devices?standing=catching-up',
    // devices whose settings stayed are done with at once
    total: Math.max(c.total, c.devices),
    done: c.done + c.overtaken + Math.max(0, c.devices - c.total),
    waiting: c.waiting,
    failed: c.failed,
    undoable: c.undoable,
  };
}

/** A dispatch as something in flight. */
export function ofDispatch(d: Schemas['Dispatch']): Flight {
  const n = (state: string) => d.states[state] ?? 0;
  return {
    key: d.id,
    title: `${d.title}${d.fields['text'] ? ` “${d.fields['text']}”` : ''}`,
    at: d.at,
    to: `/records/dispatches/${d.id}`,
    total: d.total,
    done: n('done'),
    waiting: n('planned') + n('queued') + n('delivered'),
    failed: n('failed') + n('expired') + n('cancelled'),
  };
}

function Bar({ flight: f }: { flight: Flight }) {
  const part = (n: number) => `${f.total === 0 ? 0 : (100 * n) / f.total}%`;
  return (
    <span className="bg-line flex h-1.5 w-40 overflow-hidden" aria-hidden>
      <span className="bg-moss transition-all" style={{ width: part(f.done) }} />
      <span className="bg-rust transition-all" style={{ width: part(f.failed) }} />
    </span>
  );
}

/** Everything in flight, live: nothing is said to be done before the device said so. */
export function Tray() {
  const [open, setOpen] = useState(false);
  const changes = useQuery({
    queryKey: ['changes'],
    queryFn: () => answer(api.GET('/changes', { params: { query: { limit: 8 } } })),
  });
  const dispatches = useQuery({
    queryKey: ['dispatches', 'tray'],
    queryFn: () => answer(api.GET('/dispatches', { params: { query: { limit: 8 } } })),
  });
  const flights = [
    ...(changes.data?.items ?? []).filter((c) => c.total > 0 || c.devices > 0).map(ofChange),
    ...(dispatches.data?.items ?? []).map(ofDispatch),
  ].sort((a, b) => b.at.localeCompare(a.at));
  const moving = flights.filter((f) => f.waiting > 0);
  const head = moving[0] ?? flights[0];
  const [undoing, setUndoing] = useState<Flight>();
  const rows = open ? flights.slice(0, 8) : head ? [head] : [];
  return (
    <footer className="border-line bg-sheet shrink-0 border-t text-sm" aria-label="Tray">
      <div className="flex">
        <ul className="min-w-0 flex-1" data-testid="tray">
          {rows.map((f) => (
            <li key={f.key} className="flex h-9 items-center gap-4 px-5 max-md:px-4">
              <Link to={f.to} className="w-80 truncate hover:underline max-md:w-auto max-md:flex-1">
                {f.title}
              </Link>
              <Bar flight={f} />
              <span className="text-quiet">
                {f.done} of {f.total} done
                {f.waiting > 0 && `, ${f.waiting} waiting`}
                {f.failed > 0 && <span className="text-rust">, {f.failed} not</span>}
              </span>
              {f.undoable && (
                <button type="button" className="text-brass text-xs underline" onClick={() => setUndoing(f)}>
                  Take back
                </button>
              )}
              <span className="text-quiet ml-auto pr-2 text-xs max-md:hidden">
                <Moment at={f.at} />
              </span>
            </li>
          ))}
          {rows.length === 0 && (
            <li className="text-quiet flex h-9 items-center px-5">Nothing is in flight.</li>
          )}
        </ul>
        <button
          type="button"
          onClick={() => setOpen(!open)}
          aria-expanded={open}
          className="border-line hover:bg-raised flex items-center gap-2 border-l px-4"
        >
          {moving.length > 0 ? `${moving.length} in flight` : 'Tray'}
          {open ? <ChevronDown className="size-4" /> : <ChevronUp className="size-4" />}
        </button>
      </div>
      {undoing && (
        <Suspense>
          <UndoSheet id={undoing.key} title={undoing.title} onClose={() => setUndoing(undefined)} />
        </Suspense>
      )}
    </footer>
  );
}
