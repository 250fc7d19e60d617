import { X } from 'lucide-react';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import type { Filters } from '../ui/filters';
import { Button } from '../ui/parts';

const SIGNS: Record<string, string> = { '=': 'is', '<': 'below', '>': 'above' };
const OF_DAYS: Record<string, string> = { '=': 'is', '<': 'before', '>': 'after' };

/** The conditions in an address: one on each line, as the API reads them. */
export const conditions = (asked: string) => asked.split('\n').filter(Boolean);

function readable(condition: string, attributes: Schemas['Attribute'][]) {
  const [, name, sign, value] = /^([^=<>]+)([=<>])(.*)$/s.exec(condition) ?? ['', condition, '=', ''];
  const day = attributes.find((a) => a.name === name)?.type === 'date';
  return value ? `${name} ${(day ? OF_DAYS : SIGNS)[sign]} ${value}` : `${name}: none`;
}

function Editor(props: {
  of: Schemas['Attribute'];
  onDone: (condition: string) => void;
  onCancel: () => void;
}) {
  const { name, type, choices } = props.of;
  const [sign, setSign] = useState('=');
  const [value, setValue] = useState('');
  const ordered = type === 'number' || type === 'date';
  return (
    <form
      className="border-brass bg-sheet flex items-center gap-1 rounded-[3px] border pl-2 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        props.onDone(`${name}${sign}${value.trim()}`);
      }}
      onKeyDown={(e) => e.key === 'Escape' && props.onCancel()}
    >
      <span>{name}</span>
      {ordered && (
        <select
          aria-label={`How ${name} has to be`}
          className="field w-auto border-0"
          value={sign}
          onChange={(e) => setSign(e.target.value)}
        >
          {Object.entries(type === 'date' ? OF_DAYS : SIGNS).map(([s, word]) => (
            <option key={s} value={s}>
              {word}
            </option>
          ))}
        </select>
      )}
      {type === 'choice' ? (
        <select
          autoFocus
          aria-label={name}
          className="field w-auto border-0"
          value={value}
          onChange={(e) => setValue(e.target.value)}
        >
          <option value="">none</option>
          {choices.map((c) => (
            <option key={c}>{c}</option>
          ))}
        </select>
      ) : (
        <input
          autoFocus
          aria-label={name}
          className="field w-32 border-0"
          type={type === 'date' ? 'date' : 'text'}
          placeholder={sign === '=' ? 'none' : ''}
          value={value}
          onChange={(e) => setValue(e.target.value)}
        />
      )}
      <Button type="submit" weight="bare" disabled={sign !== '=' && value.trim() === ''}>
        Filter
      </Button>
    </form>
  );
}

/** Filters by attributes: a chip for each condition, and a choice of those there are to add one. */
export function AttributeFilter<N extends string>({
  filters,
  attributes,
}: {
  filters: Filters<N | 'attribute'>;
  attributes: Schemas['Attribute'][];
}) {
  const [adding, setAdding] = useState<Schemas['Attribute']>();
  const asked = conditions(filters.asked.attribute);
  const set = (all: string[]) => filters.set('attribute', all.join('\n'));
  if (attributes.length === 0) {
    return null;
  }
  return (
    <>
      {asked.map((c) => (
        <span
          key={c}
          className="border-brass bg-sheet inline-flex h-[34px] items-center gap-1 rounded-[3px] border pl-2 text-sm"
        >
          {readable(c, attributes)}
          <Button
            weight="bare"
            aria-label={`Do not filter by ${readable(c, attributes)}`}
            onClick={() => set(asked.filter((a) => a !== c))}
          >
            <X className="size-3.5" />
          </Button>
        </span>
      ))}
      {adding ? (
        <Editor
          of={adding}
          onDone={(c) => {
            set([...asked.filter((a) => a !== c), c]);
            setAdding(undefined);
          }}
          onCancel={() => setAdding(undefined)}
        />
      ) : (
        <select
          aria-label="Attribute"
          className="field w-auto max-w-26"
          value=""
          onChange={(e) => setAdding(attributes.find((a) => a.id === e.target.value))}
        >
          <option value="">Attribute</option>
          {attributes.map((a) => (
            <option key={a.id} value={a.id}>
              {a.name}
            </option>
          ))}
        </select>
      )}
    </>
  );
}
