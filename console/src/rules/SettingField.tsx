import type { Schemas } from '../api/client';
import { FileField } from './FileField';

/** A setting, or a field of a command: what takes a value of a type. */
type Setting = Pick<Schemas['Setting'], 'key' | 'type' | 'sensitive'>;

/** How a secret that is kept is shown; sent back, it stays as it is. */
const KEPT = '••••••••';

/** What is wrong with a value, or nothing. The server has the last word. */
export function objection(setting: Setting, value: unknown): string | undefined {
  const t = setting.type;
  if (setting.sensitive && value === KEPT) {
    return undefined;
  }
  if (t.kind === 'whole') {
    const n = Number(value);
    if (value === '' || !Number.isInteger(n) || n < (t.min ?? 0) || n > (t.max ?? 0)) {
      return `A whole number from ${t.min} to ${t.max}${t.unit && ` ${t.unit}`}.`;
    }
  }
  if (t.kind === 'file' && !value) {
    return `Choose a ${t.file}.`;
  }
  if (t.wanted && String(value).trim() === '') {
    return `Has to be ${t.wanted}.`;
  }
  if (t.kind === 'text' || t.kind === 'secret') {
    const length = [...String(value)].length;
    if (length < (t.min ?? 0) || length > (t.max ?? 0)) {
      return `${t.min} to ${t.max} characters; this has ${length}.`;
    }
  }
  return undefined;
}

/** What a text may name that is each device's own. */
const OWN = ['Name', 'Unit', 'Site', 'Person', 'Login', 'Mail', 'Asset'];

/** Puts a placeholder at the end of a text, to be filled in by each device. */
function OwnPlaces({ onPick }: { onPick: (place: string) => void }) {
  return (
    <select
      className="text-quiet mt-1 h-6 border-0 bg-transparent p-0 text-xs"
      aria-label="Add what is each device's own"
      value=""
      onChange={(e) => onPick(`{self:${e.target.value}}`)}
    >
      <option value="">+ what is each device’s own …</option>
      {OWN.map((name) => (
        <option key={name} value={name}>
          {name.toLowerCase()}
        </option>
      ))}
    </select>
  );
}

/** The form field of a setting, made from the catalogue. */
export function SettingField({
  setting: s,
  value,
  own = false,
  onChange,
}: {
  setting: Setting;
  value: unknown;
  /** Whether a text may hold placeholders that each device fills in. */
  own?: boolean;
  onChange: (value: unknown) => void;
}) {
  const id = `setting-${s.key}`;
  switch (s.type.kind) {
    case 'flag':
      return (
        <select
          id={id}
          className="field w-32"
          value={String(value)}
          onChange={(e) => onChange(e.target.value === 'true')}
        >
          <option value="true">on</option>
          <option value="false">off</option>
        </select>
      );
    case 'whole':
      return (
        <span className="flex items-center gap-2">
          <input
            id={id}
            type="number"
            min={s.type.min}
            max={s.type.max}
            className="field w-24"
            value={String(value)}
            onChange={(e) => onChange(e.target.value === '' ? '' : Number(e.target.value))}
          />
          <span className="text-quiet text-sm">{s.type.unit}</span>
        </span>
      );
    case 'choice':
      return (
        <select
          id={id}
          className="field w-56"
          value={String(value)}
          onChange={(e) => onChange(e.target.value)}
        >
          {s.type.choices?.map((c) => (
            <option key={c.key} value={c.key}>
              {c.title}
            </option>
          ))}
        </select>
      );
    case 'items':
      return s.type.of?.choices ? (
        <span id={id} role="group" className="grid grid-cols-2 gap-x-6 gap-y-1 text-sm">
          {s.type.of.choices.map((c) => {
            const list = value as string[];
            return (
              <label key={c.key} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={list.includes(c.key)}
                  onChange={(e) =>
                    onChange(e.target.checked ? [...list, c.key] : list.filter((x) => x !== c.key))
                  }
                />
                {c.title}
              </label>
            );
          })}
        </span>
      ) : (
        <textarea
          id={id}
          rows={3}
          className="field"
          placeholder={s.type.of?.wanted ? `one a line: ${s.type.of.wanted}` : 'one a line'}
          value={(value as string[]).join('\n')}
          onChange={(e) => onChange(e.target.value === '' ? [] : e.target.value.split('\n'))}
        />
      );
    case 'file':
      return <FileField id={id} kind={s.type.file!} value={value} onChange={onChange} />;
    default:
      return (
        <>
          {s.type.multiline ? (
            <textarea
              id={id}
              rows={3}
              className="field"
              value={String(value)}
              onChange={(e) => onChange(e.target.value)}
            />
          ) : (
            <input
              id={id}
              type={s.sensitive ? 'password' : 'text'}
              autoComplete="off"
              placeholder={s.type.wanted}
              className="field w-72"
              value={String(value)}
              onChange={(e) => onChange(e.target.value)}
            />
          )}
          {own && s.type.kind === 'text' && (
            <OwnPlaces onPick={(place) => onChange(`${String(value).trimEnd()} ${place}`.trimStart())} />
          )}
        </>
      );
  }
}
