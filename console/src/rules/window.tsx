import type { Schemas } from '../api/client';
import { fromField, moment, toField } from '../ui/dates';
import { Labelled } from '../ui/parts';

type Window = Schemas['Window'];

/** When a profile goes to whom it is assigned to, in words; nothing where that is always. */
export function sayWindow(w: Window): string | undefined {
  const parts = [w.from && `from ${moment(w.from)}`, w.until && `until ${moment(w.until)}`];
  return parts.filter(Boolean).join(' ') || undefined;
}

/** Whether it is yet to begin. */
export const begins = (w: Window, now = Date.now()): boolean =>
  w.from !== undefined && new Date(w.from).getTime() > now;

/** The fields of the beginning and the end. */
export function WindowFields({
  from,
  until,
  onChange,
}: {
  from: string;
  until: string;
  onChange: (changed: { from?: string; until?: string }) => void;
}) {
  return (
    <>
      <Labelled label="From" hint="In your time zone; at once where it is empty.">
        <input
          type="datetime-local"
          className="field w-60"
          value={toField(from)}
          onChange={(e) => onChange({ from: fromField(e.target.value) ?? '' })}
        />
      </Labelled>
      <Labelled label="Until" hint="Devices lose it again then; never where it is empty.">
        <input
          type="datetime-local"
          className="field w-60"
          value={toField(until)}
          onChange={(e) => onChange({ until: fromField(e.target.value) ?? '' })}
        />
      </Labelled>
    </>
  );
}
