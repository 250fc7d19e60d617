import { useState } from 'react';
import type { Schemas } from '../api/client';
import { Asked, type Filters, usePart } from '../ui/filters';
import { Button, Labelled } from '../ui/parts';

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
          className="field min-w-0 flex-1 border-0"
          type={type === 'date' ? 'date' : 'text'}
          placeholder={sign === '=' ? 'none' : ''}
          value={value}
          onChange={(e) => setValue(e.target.value)}
        />
      )}
      <Button type="submit" weight="bare" disabled={sign !== '=' && value.trim() === ''}>
        Ask
      </Button>
    </form>
  );
}

/** Filters by attributes: a word for each condition, and a choice of those there are to add one. */
export function AttributeFilter<N extends string>({
  filters,
  attributes,
}: {
  filters: Filters<N | 'attribute'>;
  attributes: Schemas['Attribute'][];
}) {
  const [adding, setAdding] = useState<Schemas['Attribute']>();
  const part = usePart();
  const asked = conditions(filters.asked.attribute);
  const set = (all: string[]) => filters.set('attribute', all.join('\n'));
  if (attributes.length === 0 || part === 'words') {
    return null;
  }
  if (part === 'asked') {
    return asked.map((c) => (
      <Asked key={c} onForget={() => set(asked.filter((a) => a !== c))}>
        {readable(c, attributes)}
      </Asked>
    ));
  }
  return adding ? (
    <Editor
      of={adding}
      onDone={(c) => {
        set([...asked.filter((a) => a !== c), c]);
        setAdding(undefined);
      }}
      onCancel={() => setAdding(undefined)}
    />
  ) : (
    <Labelled label="Attribute">
      <select
        className="field"
        value=""
        onChange={(e) => setAdding(attributes.find((a) => a.id === e.target.value))}
      >
        <option value="">any</option>
        {attributes.map((a) => (
          <option key={a.id} value={a.id}>
            {a.name}
          </option>
        ))}
      </select>
    </Labelled>
  );
}
