import type { Schemas } from '../api/client';
import type { Confirmation } from './confirmation';

/** What a change would do to devices in a few lines, and what it asks for. */
export function RehearsalNote(props: { rehearsal: Schemas['Rehearsal']; confirmation: Confirmation }) {
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
      {props.confirmation.fields}
    </>
  );
}
