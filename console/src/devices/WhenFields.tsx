import type { Schemas } from '../api/client';
import { Labelled } from '../ui/parts';
import { zone } from './Repeating';

/** When an order is sent, as it is filled in. */
export interface When {
  kind: 'now' | 'at' | 'there' | 'hours';
  at: string;
  from: string;
  to: string;
  notInUse: boolean;
}

export const AT_ONCE: When = { kind: 'now', at: '', from: '22:00', to: '05:00', notInUse: false };

const KINDS: [When['kind'], string][] = [
  ['now', 'At once'],
  ['at', 'At a time, everywhere at that moment'],
  ['there', 'At a time, as clocks show it where each device is'],
  ['hours', 'At night, or at other hours where each device is'],
];

const TIME = /^\d\d:\d\d$/;

/** Whether all is said that is asked for. */
export function said(w: When): boolean {
  if (w.kind === 'hours') {
    return TIME.test(w.from) && TIME.test(w.to) && w.from !== w.to;
  }
  return w.kind === 'now' || w.at !== '';
}

/** As the service is told it. */
export function asOrdered(w: When): Pick<Schemas['DispatchOrder'], 'at' | 'there' | 'notInUse'> {
  return {
    at: w.kind === 'at' && w.at ? new Date(w.at).toISOString() : undefined,
    there:
      w.kind === 'there' && w.at
        ? { local: w.at, zone: zone() }
        : w.kind === 'hours'
          ? { window: { from: w.from, to: w.to }, zone: zone() }
          : undefined,
    notInUse: w.notInUse || undefined,
  };
}

/** Asks when an order is sent, and whether devices wait until nobody uses them. */
export function WhenFields({
  when,
  onChange,
  timed,
  idle,
}: {
  when: When;
  onChange: (when: When) => void;
  /** Whether a time is asked for. */
  timed: boolean;
  /** Whether it can wait for nobody to use a device. */
  idle: boolean;
}) {
  return (
    <div className="space-y-3">
      {timed && (
        <Labelled label="When" hint={when.kind === 'at' && when.at ? 'In your own time.' : undefined}>
          <select
            className="field w-full"
            value={when.kind}
            onChange={(e) => onChange({ ...when, kind: e.target.value as When['kind'] })}
          >
            {KINDS.map(([kind, title]) => (
              <option key={kind} value={kind}>
                {title}
              </option>
            ))}
          </select>
        </Labelled>
      )}
      {timed && (when.kind === 'at' || when.kind === 'there') && (
        <input
          type="datetime-local"
          aria-label="Time"
          className="field w-56"
          value={when.at}
          onChange={(e) => onChange({ ...when, at: e.target.value })}
        />
      )}
      {timed && when.kind === 'hours' && (
        <div className="flex items-center gap-2 text-sm">
          <input
            type="time"
            aria-label="From"
            className="field w-28"
            value={when.from}
            onChange={(e) => onChange({ ...when, from: e.target.value })}
          />
          until
          <input
            type="time"
            aria-label="Until"
            className="field w-28"
            value={when.to}
            onChange={(e) => onChange({ ...when, to: e.target.value })}
          />
          <span className="text-quiet">every night anew until a device has it</span>
        </div>
      )}
      {idle && (
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            checked={when.notInUse}
            onChange={(e) => onChange({ ...when, notInUse: e.target.checked })}
          />
          Not while somebody uses it
        </label>
      )}
    </div>
  );
}
