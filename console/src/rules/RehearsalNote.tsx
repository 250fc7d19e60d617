import type { Schemas } from '../api/client';
import { Labelled } from '../ui/parts';

/** Whether a change may be done: no number is asked for, or it was repeated. */
export const confirmed = (r: Schemas['Rehearsal'] | undefined, typed: string) =>
  r?.confirmDevices === undefined || Number(typed) === r.confirmDevices;

/** What a change would do to devices in a few lines, and the number it may ask for. */
export function RehearsalNote(props: {
  rehearsal: Schemas['Rehearsal'];
  /** What the number is typed for, such as "move it". */
  doing: string;
  typed: string;
  onType: (typed: string) => void;
}) {
  const r = props.rehearsal;
  return (
    <>
      <p className="text-sm" data-testid="rehearsal">
        {r.changing === 0
          ? 'No device gets other settings by this.'
          : `${r.changing} of ${r.devices} devices get other settings: ${r.gain} gain, ${r.change} change, ${r.lose} lose.`}
      </p>
      {r.effects.slice(0, 6).map((e) => (
        <p key={e.id} className="text-quiet text-xs">
          {e.devices} {e.platform}, {e.mode}:{' '}
          {e.steps
            .map((s) => `${s.title} ${String(s.from ?? 'none')} → ${String(s.to ?? 'none')}`)
            .join('; ')}
        </p>
      ))}
      {r.confirmDevices !== undefined && (
        <Labelled label={`Type ${r.confirmDevices}, the number of devices that change, to ${props.doing}`}>
          <input className="field w-32" value={props.typed} onChange={(e) => props.onType(e.target.value)} />
        </Labelled>
      )}
    </>
  );
}
