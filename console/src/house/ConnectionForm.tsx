import { type ReactNode, useState } from 'react';
import { useAct } from '../api/act';
import { Button, Heading, Labelled, Moment, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';

export interface Field {
  name: string;
  label: string;
  hint?: string;
  placeholder?: string;
  secret?: boolean;
  lines?: number;
  choices?: string[];
}

/** How an outside service of the house is reached: what is so, and a form that tries it first. */
export function ConnectionForm(props: {
  title: string;
  note: string;
  topic: string;
  state: string | undefined;
  checkedAt?: string;
  fault?: string;
  secretKept?: boolean;
  fields: Field[];
  kept: Record<string, string>;
  needed: string[];
  tryIt: string;
  /** Which one the form was filled from. */
  version: number;
  onSave: (draft: Record<string, string>, on: { version: number }) => Promise<{ version: number }>;
  error: unknown;
  children?: ReactNode;
}) {
  const { act, trouble, busy } = useAct(props.topic, 'set-up');
  const [draft, setDraft] = useState<Record<string, string>>(props.kept);
  const [on, setOn] = useState({ version: props.version });
  const whole = props.needed.every((n) => draft[n]?.trim());
  const field = (f: Field) => {
    const common = {
      className: 'field',
      value: draft[f.name] ?? '',
      placeholder: f.secret && props.secretKept ? 'kept; type to change it' : f.placeholder,
      onChange: (e: { target: { value: string } }) => setDraft({ ...draft, [f.name]: e.target.value }),
    };
    if (f.choices) {
      return (
        <select {...common}>
          {f.choices.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      );
    }
    return f.lines ? (
      <textarea {...common} rows={f.lines} />
    ) : (
      <input {...common} type={f.secret ? 'password' : 'text'} autoComplete="off" />
    );
  };
  return (
    <section className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <Heading title={props.title} note={props.note} />
      <div className="max-w-3xl space-y-5 px-5 pb-8">
        <Trouble error={props.error} />
        {props.state && (
          <p className="flex items-center gap-3 text-sm">
            <Standing of={props.state} />
            {props.checkedAt && (
              <span className="text-quiet">
                last used <Moment at={props.checkedAt} />
              </span>
            )}
            {props.fault && <span className="text-rust">{props.fault}</span>}
          </p>
        )}
        <form
          className="grid grid-cols-2 max-md:grid-cols-1 gap-x-6 gap-y-4"
          onSubmit={(e) => {
            e.preventDefault();
            void act(async () => setOn(await props.onSave(draft, on)));
          }}
        >
          {props.fields.map((f) => (
            <div key={f.name} className={f.lines ? 'md:col-span-2' : ''}>
              <Labelled label={f.label} hint={f.hint}>
                {field(f)}
              </Labelled>
            </div>
          ))}
          <div className="md:col-span-2 space-y-3">
            <Trouble error={trouble} />
            <Button type="submit" weight="main" disabled={busy || !whole}>
              {props.tryIt}
            </Button>
          </div>
        </form>
        {props.children}
      </div>
    </section>
  );
}

/** Fields that are filled in, as a draft. */
export const filled = (draft: Record<string, string>): Record<string, string> =>
  Object.fromEntries(Object.entries(draft).filter(([, v]) => v.trim() !== ''));
