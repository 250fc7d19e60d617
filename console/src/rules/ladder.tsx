import { useId, useState } from 'react';
import type { Schemas } from '../api/client';
import { counted } from '../ui/parts';

export type Ladder = Schemas['Ladder'];

/** Hours in words: at once, after 3 days, after 5 hours. */
export function sayHours(hours: number | undefined): string {
  if (hours === undefined) {
    return 'never';
  }
  if (hours === 0) {
    return 'at once';
  }
  return `after ${hours % 24 === 0 ? counted(hours / 24, 'day') : counted(hours, 'hour')}`;
}

/** A ladder in one sentence. */
export function sayLadder(l: Ladder): string {
  return [
    `out of order ${sayHours(l.grace)}`,
    l.holder === undefined ? 'the holder is not told' : `holder told ${sayHours(l.holder)}`,
    l.house !== undefined && `administrators told ${sayHours(l.house)}`,
    l.withhold !== undefined && `kits withheld ${sayHours(l.withhold)}`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** One step: whether it is taken, and when. */
function Step(props: {
  title: string;
  help: string;
  hours?: number;
  /** Whether it may be left out. */
  optional?: boolean;
  onChange: (hours?: number) => void;
}) {
  const { hours, onChange } = props;
  const id = useId();
  const [unit, setUnit] = useState(hours && hours % 24 === 0 ? 'days' : 'hours');
  const days = unit === 'days' && hours !== undefined && hours % 24 === 0;
  const put = (n: number, inDays: boolean) => onChange(Math.max(0, Math.round(n)) * (inDays ? 24 : 1));
  return (
    <li className="border-line/60 grid grid-cols-[1fr_15rem] items-center gap-4 border-b py-2 max-md:grid-cols-1">
      <label htmlFor={id} className="flex items-start gap-2 text-sm">
        {props.optional && (
          <input
            type="checkbox"
            className="mt-1"
            aria-label={props.title}
            checked={hours !== undefined}
            onChange={(e) => onChange(e.target.checked ? 0 : undefined)}
          />
        )}
        <span>
          {props.title}
          <span className="text-quiet block text-xs">{props.help}</span>
        </span>
      </label>
      {hours === undefined ? (
        <span className="text-quiet text-sm">never</span>
      ) : (
        <span className="flex items-center gap-2 text-sm">
          after
          <input
            id={id}
            className="field w-20!"
            inputMode="numeric"
            value={days ? hours / 24 : hours}
            onChange={(e) => put(Number(e.target.value.replace(/\D/g, '')), days)}
          />
          <select
            className="field w-24!"
            aria-label={`${props.title}: unit`}
            value={days ? 'days' : 'hours'}
            onChange={(e) => {
              setUnit(e.target.value);
              put(days ? hours / 24 : hours, e.target.value === 'days');
            }}
          >
            <option value="hours">hours</option>
            <option value="days">days</option>
          </select>
        </span>
      )}
    </li>
  );
}

/** What is wrong with a ladder, in words; nothing where it is right. */
export const ladderFault = (l: Ladder): string | undefined =>
  l.withhold !== undefined && l.withhold < l.grace
    ? 'Nothing is withheld before a device is out of order.'
    : undefined;

/** What follows from what a check finds, and when. */
export function LadderFields({ value, onChange }: { value: Ladder; onChange: (ladder: Ladder) => void }) {
  const fault = ladderFault(value);
  return (
    <fieldset>
      <legend className="label mb-1">What follows, from when it is found</legend>
      <ol>
        <Step
          title="Tell the holder"
          help="The device shows what is to be done, and until when."
          optional
          hours={value.holder}
          onChange={(holder) => onChange({ ...value, holder })}
        />
        <Step
          title="Out of order"
          help="Until then the device still counts as in order."
          hours={value.grace}
          onChange={(grace) => onChange({ ...value, grace: grace ?? 0 })}
        />
        <Step
          title="Tell the administrators"
          help="A notice here and by mail, as long as it lasts."
          optional
          hours={value.house}
          onChange={(house) => onChange({ ...value, house })}
        />
        <Step
          title="Withhold"
          help="It loses what kits give only to devices in order, and gets it back by itself."
          optional
          hours={value.withhold}
          onChange={(withhold) => onChange({ ...value, withhold })}
        />
      </ol>
      {fault && <p className="text-rust mt-1 text-xs">{fault}</p>}
    </fieldset>
  );
}
