import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { TargetPicker } from '../rules/TargetPicker';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Trouble } from '../ui/parts';
import type { App } from './apps';

type Presence = Schemas['AppPresence'];

const PRESENCES: { key: Presence; title: string; help: string }[] = [
  { key: 'required', title: 'Required', help: 'It installs by itself and comes back when it is removed.' },
  { key: 'offered', title: 'Offered', help: 'It waits on the shelf until the holder picks it.' },
  { key: 'forbidden', title: 'Forbidden', help: 'It is removed where it is, and kept out where it is not.' },
];

/** Begins an assignment of an app; what it would do is shown before anything happens. */
export function AssignSheet({
  app,
  to = [],
  onClose,
}: {
  app: App;
  /** Whom it goes to, where that is known beforehand. */
  to?: Schemas['NamedTarget'][];
  onClose: () => void;
}) {
  const go = useNavigate();
  const { act, trouble, busy } = useAct('apps', 'profiles');
  const [presence, setPresence] = useState<Presence>('required');
  const [targets, setTargets] = useState(to);
  const [name, setName] = useState('');
  const usual = `${app.name}, ${presence}${targets.length > 0 ? ` for ${targets.map((t) => t.name).join(', ')}` : ''}`;
  return (
    <Sheet
      title={`Assign ${app.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || targets.length === 0}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/profiles', {
                      body: {
                        kind: 'app',
                        app: app.id,
                        name: (name.trim() || usual).slice(0, 80),
                        settings: { [`apps[${app.key}].presence`]: presence },
                        targets: targets.map((t) => ({ kind: t.kind, ref: t.ref }) as Schemas['TargetSpec']),
                      },
                    }),
                  ),
                (made) => go(`/apps/assignments/${made.id}?rehearse=1`),
              )
            }
          >
            Rehearse it
          </Button>
        </>
      }
    >
      <fieldset className="space-y-1.5">
        <legend className="label mb-1">What it is to them</legend>
        {PRESENCES.filter((p) => app.origin !== 'system' || p.key !== 'offered').map((p) => (
          <label key={p.key} className="flex items-baseline gap-2 text-sm">
            <input
              type="radio"
              name="presence"
              checked={presence === p.key}
              onChange={() => setPresence(p.key)}
            />
            <span>
              <b>{p.title}</b> <span className="text-quiet">{p.help}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <TargetPicker label="Goes to" value={targets} onChange={setTargets} everyone />
      <Labelled label="Name" hint="What the assignment is called in lists and changes.">
        <input
          className="field"
          maxLength={80}
          placeholder={usual}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}
