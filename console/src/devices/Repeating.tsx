import type { Schemas } from '../api/client';
import { Labelled } from '../ui/parts';

export type Again = Pick<Schemas['StandingOrderDraft'], 'name' | 'days' | 'time'>;

export const DAYS: [Schemas['DayOfWeek'], string][] = [
  ['monday', 'Mo'],
  ['tuesday', 'Tu'],
  ['wednesday', 'We'],
  ['thursday', 'Th'],
  ['friday', 'Fr'],
  ['saturday', 'Sa'],
  ['sunday', 'Su'],
];

/** The zone whoever looks is in. */
export const zone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Whether all is said that a standing order needs. */
export const complete = (a: Again) => a.name.trim() !== '' && a.days.length > 0 && /^\d\d:\d\d$/.test(a.time);

/** The days it repeats on, in a word where there is one. */
export function daysOf(days: Schemas['DayOfWeek'][]): string {
  if (days.length === 7) {
    return 'every day';
  }
  return DAYS.filter(([d]) => days.includes(d))
    .map(([, short]) => short)
    .join(', ');
}

/** Whether a command is ordered again and again, and when. */
export function Repeating({
  title,
  again,
  onChange,
}: {
  title: string;
  again?: Again;
  onChange: (again: Again | undefined) => void;
}) {
  return (
    <div className="space-y-3">
      <label className="flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          checked={again !== undefined}
          onChange={(e) =>
            onChange(
              e.target.checked ? { name: title, days: DAYS.map(([d]) => d), time: '02:00' } : undefined,
            )
          }
        />
        Again and again, every week
      </label>
      {again && (
        <>
          <fieldset className="flex flex-wrap gap-1" aria-label="Days">
            {DAYS.map(([day, short]) => {
              const on = again.days.includes(day);
              return (
                <button
                  key={day}
                  type="button"
                  aria-pressed={on}
                  aria-label={day}
                  className={`h-8 w-10 rounded-[3px] border text-sm ${on ? 'border-brass text-brass font-semibold' : 'border-line text-quiet'}`}
                  onClick={() =>
                    onChange({
                      ...again,
                      days: DAYS.map(([d]) => d).filter((d) => (d === day ? !on : again.days.includes(d))),
                    })
                  }
                >
                  {short}
                </button>
              );
            })}
          </fieldset>
          <div className="grid grid-cols-[8rem_1fr] gap-4">
            <Labelled label="At" hint={zone()}>
              <input
                type="time"
                className="field"
                value={again.time}
                onChange={(e) => onChange({ ...again, time: e.target.value })}
              />
            </Labelled>
            <Labelled label="What it is called">
              <input
                className="field"
                maxLength={80}
                value={again.name}
                onChange={(e) => onChange({ ...again, name: e.target.value })}
              />
            </Labelled>
          </div>
        </>
      )}
    </div>
  );
}
