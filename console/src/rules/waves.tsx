import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { useGroups } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { UndoSheet } from '../devices/UndoSheet';
import { Button, counted, Labelled, Moment, Trouble } from '../ui/parts';

export type WavesSpec = Schemas['WavesSpec'];
type Step = Schemas['WaveStepSpec'];

/** A handful, then more and more. */
export const USUAL: WavesSpec = {
  steps: [{ devices: 5 }, { share: 5 }, { share: 25 }],
  hold: 60,
  bound: 5,
};

/** What is wrong with waves, in words; nothing where they may be followed. */
export function wavesFault(w: WavesSpec): string | undefined {
  if (w.steps.length === 0) {
    return 'Name at least one wave before everybody, or publish to all at once.';
  }
  if (w.steps.some((s) => s.share !== undefined && (s.share < 1 || s.share > 99))) {
    return 'A share is from 1 to 99 percent.';
  }
  if (w.steps.some((s) => s.devices !== undefined && s.devices < 1)) {
    return 'A wave reaches at least one device.';
  }
  return w.steps.some((s) => s.group === '') ? 'Say which group.' : undefined;
}

const kindOf = (s: Step) => (s.share !== undefined ? 'share' : s.group !== undefined ? 'group' : 'devices');

function StepField({
  step,
  nr,
  onChange,
  onRemove,
}: {
  step: Step;
  nr: number;
  onChange: (step: Step) => void;
  onRemove: () => void;
}) {
  const groups = useGroups();
  const kind = kindOf(step);
  const name = `Wave ${nr}`;
  const number = (text: string) => Number(text.replace(/\D/g, '') || 0);
  return (
    <li className="flex items-center gap-2 text-sm" aria-label={name}>
      <span className="text-quiet w-16">wave {nr}</span>
      <select
        className="field w-40!"
        aria-label={`${name}: by`}
        value={kind}
        onChange={(e) =>
          onChange(
            e.target.value === 'share'
              ? { share: 10 }
              : e.target.value === 'group'
                ? { group: '' }
                : { devices: 5 },
          )
        }
      >
        <option value="devices">about so many</option>
        <option value="share">a share</option>
        <option value="group">a group</option>
      </select>
      {kind === 'group' ? (
        <select
          className="field flex-1"
          aria-label={`${name}: group`}
          value={step.group}
          onChange={(e) => onChange({ group: e.target.value })}
        >
          <option value="">which?</option>
          {groups.data?.items.map((g) => (
            <option key={g.id} value={g.id}>
              {g.name}, {counted(g.devices, 'device')}
            </option>
          ))}
        </select>
      ) : (
        <label className="flex flex-1 items-center gap-2">
          <input
            className="field w-20!"
            inputMode="numeric"
            aria-label={`${name}: ${kind === 'share' ? 'percent' : 'devices'}`}
            value={kind === 'share' ? step.share : step.devices}
            onChange={(e) =>
              onChange(
                kind === 'share' ? { share: number(e.target.value) } : { devices: number(e.target.value) },
              )
            }
          />
          {kind === 'share' ? '%' : 'devices'}
        </label>
      )}
      <Button weight="bare" className="px-1.5!" aria-label={`Take wave ${nr} out`} onClick={onRemove}>
        <X className="size-4" />
      </Button>
    </li>
  );
}

/** Whether a publication goes to all at once, or wave by wave; and how. */
export function WaveFields({
  value,
  onChange,
}: {
  value?: WavesSpec;
  onChange: (waves?: WavesSpec) => void;
}) {
  const fault = value && wavesFault(value);
  const steps = value?.steps ?? [];
  const put = (to: Step[]) => value && onChange({ ...value, steps: to });
  const whole = (text: string) => Number(text.replace(/\D/g, '') || 0);
  return (
    <fieldset className="space-y-2">
      <legend className="label mb-1">It goes</legend>
      <div className="flex gap-6 text-sm">
        <label className="flex items-center gap-2">
          <input
            type="radio"
            name="waves"
            checked={value === undefined}
            onChange={() => onChange(undefined)}
          />
          to all at once
        </label>
        <label className="flex items-center gap-2">
          <input type="radio" name="waves" checked={value !== undefined} onChange={() => onChange(USUAL)} />
          wave by wave
        </label>
      </div>
      {value && (
        <>
          <ol className="space-y-1.5">
            {steps.map((step, i) => (
              <StepField
                key={i}
                nr={i + 1}
                step={step}
                onChange={(to) => put(steps.map((s, j) => (i === j ? to : s)))}
                onRemove={() => put(steps.filter((_, j) => i !== j))}
              />
            ))}
            <li className="flex items-center gap-2 text-sm">
              <span className="text-quiet w-16">wave {steps.length + 1}</span> everybody
              {steps.length < 10 && (
                <Button weight="bare" className="ml-auto" onClick={() => put([...steps, { share: 50 }])}>
                  <Plus className="size-4" />
                  Add a wave
                </Button>
              )}
            </li>
          </ol>
          <div className="grid grid-cols-2 gap-4">
            <Labelled
              label="Minutes from one to the next"
              hint="The next begins when they are over and half of the devices have it."
            >
              <input
                className="field"
                inputMode="numeric"
                value={value.hold ?? 0}
                onChange={(e) => onChange({ ...value, hold: whole(e.target.value) })}
              />
            </Labelled>
            <Labelled label="Percent that may fail" hint="When more do, it stops by itself and you are told.">
              <input
                className="field"
                inputMode="numeric"
                value={value.bound ?? 0}
                onChange={(e) => onChange({ ...value, bound: Math.min(100, whole(e.target.value)) })}
              />
            </Labelled>
          </div>
          {fault && <p className="text-rust text-xs">{fault}</p>}
        </>
      )}
    </fieldset>
  );
}

/** How far the latest publication has spread, and what can be done about it; nothing where it went to all. */
export function ProfileWaves({ profile }: { profile: Schemas['Profile'] }) {
  const path = { id: profile.id };
  const waves = useQuery({
    queryKey: ['changes', 'waves', profile.id, profile.publishedVersion],
    enabled: profile.publishedVersion !== undefined && profile.kind === 'profile',
    queryFn: () => answer(api.GET('/profiles/{id}/waves', { params: { path } })),
  });
  const { act, trouble, busy } = useAct('changes', 'devices', 'notices');
  const [undoing, setUndoing] = useState(false);
  const w = waves.data?.spreading;
  if (!w) {
    return null;
  }
  const last = w.changes.at(-1);
  const doing = (verb: Schemas['WaveAct']['verb']) => () =>
    void act(() => answer(api.POST('/profiles/{id}/waves', { params: { path }, body: { verb, at: w.at } })));
  return (
    <section
      aria-label="Waves"
      className={clsx('space-y-2 border-l-2 pl-3 text-sm', w.stopped ? 'border-rust' : 'border-brass')}
    >
      <p className="flex flex-wrap items-baseline gap-x-4">
        <b>
          Version {w.version} {w.stopped ? 'stopped' : 'spreads'}: wave {w.at + 1} of {w.waves.length}
        </b>
        {w.stopped ? (
          <span className="text-rust">{w.reason}.</span>
        ) : (
          <span className="text-quiet">
            the next may begin <Moment at={w.next} />, when half of the devices have it
          </span>
        )}
      </p>
      <ol className="flex gap-1" aria-label="Waves so far">
        {w.waves.map((step, i) => (
          <li key={i} className="min-w-0 flex-1">
            <span
              className={clsx(
                'block h-2 rounded-[2px]',
                !step.begun ? 'bg-raised' : i < w.at ? 'bg-moss' : w.stopped ? 'bg-rust' : 'bg-brass',
              )}
            />
            <span className={clsx('block truncate pt-0.5 text-xs', !step.begun && 'text-quiet')}>
              {step.words}
            </span>
          </li>
        ))}
      </ol>
      <p className="text-quiet">
        {w.reached} of {counted(w.devices, 'device')} reached: {w.done} have it, {w.waiting} wait,{' '}
        <span className={w.failed > 0 ? 'text-rust' : ''}>{w.failed} failed</span>
        {w.bound > 0 && ` (it stops above ${w.bound} %)`}.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button disabled={busy} onClick={doing('next')}>
          {w.at === w.waves.length - 2 ? 'Let everybody have it now' : 'Begin the next wave now'}
        </Button>
        {w.stopped ? (
          <Button disabled={busy} onClick={doing('go-on')}>
            Go on
          </Button>
        ) : (
          <Button disabled={busy} onClick={doing('stop')}>
            Stop here
          </Button>
        )}
        {last && <Button onClick={() => setUndoing(true)}>Take it back</Button>}
      </div>
      <Trouble error={trouble} />
      {undoing && last && (
        <UndoSheet
          id={last}
          title={`version ${w.version} of ${profile.name}`}
          onClose={() => setUndoing(false)}
        />
      )}
    </section>
  );
}
