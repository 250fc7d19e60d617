import { X } from 'lucide-react';
import type { Schemas } from '../api/client';
import { Button, Labelled } from '../ui/parts';
import { type Field, fieldsOf, saying, told } from './schema';

const MASK = '••••••••';

function OneField({
  field: f,
  value,
  kept,
  onChange,
}: {
  field: Field;
  value: unknown;
  /** Whether a secret is kept that is not shown. */
  kept: boolean;
  onChange: (v: unknown) => void;
}) {
  const label = f.title + (f.required ? '' : ', if wanted');
  const number = (text: string) => (text === '' || Number.isNaN(Number(text)) ? text : Number(text));
  switch (f.kind) {
    case 'flag':
      return (
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            checked={value === true}
            onChange={(e) => onChange(e.target.checked || (f.required ? false : undefined))}
          />
          {f.title}
          {f.help && <span className="text-quiet text-xs">{f.help}</span>}
        </label>
      );
    case 'choice':
      return (
        <Labelled label={label} hint={f.help}>
          <select className="field" value={String(value ?? '')} onChange={(e) => onChange(e.target.value)}>
            <option value="">not said</option>
            {f.choices.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
        </Labelled>
      );
    case 'other':
      return <p className="text-quiet text-sm">{f.title}: no form can draw this; write it below, as JSON.</p>;
    default:
      return (
        <Labelled label={label} hint={f.help}>
          <input
            className="field"
            type={f.secret ? 'password' : 'text'}
            autoComplete="off"
            inputMode={f.kind === 'text' ? 'text' : 'numeric'}
            placeholder={kept ? 'kept; type all secrets anew to change one' : undefined}
            value={value === undefined ? '' : String(value)}
            onChange={(e) => onChange(f.kind === 'text' ? e.target.value : number(e.target.value))}
          />
        </Labelled>
      );
  }
}

/** What an app is told: a form made from the schema of its version, and what fits it no longer. */
export function Configuration({
  app,
  schema,
  settings,
  note = "A text may hold what is each device's own, such as {self:Name} or {self:Unit}; the device fills it in.",
  onSet,
  onRemove,
}: {
  app: Schemas['App'];
  schema?: Record<string, unknown>;
  settings: Record<string, unknown>;
  /** What has to be known of texts. */
  note?: string;
  onSet: (values: Record<string, unknown>) => void;
  onRemove: (keys: string[]) => void;
}) {
  const plainKey = `apps[${app.key}].configuration`;
  const secretKey = `apps[${app.key}].secrets`;
  const plain = settings[plainKey];
  const secrets = settings[secretKey];
  const kept = secrets === MASK;
  const said = told(plain);
  const sealed = kept ? {} : (told(secrets) ?? {});
  const fields = fieldsOf(schema ?? {});
  const strangers = Object.keys(said ?? {}).filter((k) => !fields.some((f) => f.name === k && !f.secret));
  if (!schema && plain === undefined && secrets === undefined) {
    return null;
  }
  const say = (key: string, text: unknown, name: string, value: unknown) => {
    const next = saying(text, name, value);
    if (next === undefined) {
      onRemove([key]);
    } else {
      onSet({ [key]: next });
    }
  };
  return (
    <section className="max-w-xl space-y-4" aria-label="Configuration">
      <h2 className="font-semibold">What the app is told</h2>
      {!schema && <p className="text-rust text-sm">This version of {app.name} cannot be configured.</p>}
      {said &&
        fields.map((f) => (
          <OneField
            key={f.name}
            field={f}
            kept={f.secret && kept}
            value={f.secret ? sealed[f.name] : said[f.name]}
            onChange={(v) =>
              f.secret ? say(secretKey, kept ? '' : secrets, f.name, v) : say(plainKey, plain, f.name, v)
            }
          />
        ))}
      {strangers.map((k) => (
        <p key={k} className="border-rust flex items-center gap-2 border-l-2 pl-3 text-sm">
          <span className="flex-1">
            <b>{k}</b> does not fit this version: it knows no such thing.
          </span>
          <Button
            weight="bare"
            className="px-1.5!"
            aria-label={`Take ${k} out`}
            onClick={() => say(plainKey, plain, k, undefined)}
          >
            <X className="size-4" />
          </Button>
        </p>
      ))}
      {(said === undefined || fields.some((f) => f.kind === 'other')) && (
        <Labelled label="As JSON" error={said === undefined ? 'This is no JSON object.' : undefined}>
          <textarea
            className="field h-32 font-mono text-xs"
            value={String(plain ?? '{}')}
            onChange={(e) => onSet({ [plainKey]: e.target.value })}
          />
        </Labelled>
      )}
      <p className="text-quiet text-xs">{note}</p>
    </section>
  );
}
