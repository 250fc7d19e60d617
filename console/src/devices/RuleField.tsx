import clsx from 'clsx';
import { Plus, X } from 'lucide-react';
import { useId, useRef, useState, type KeyboardEvent } from 'react';
import type { Schemas } from '../api/client';
import { Button, counted } from '../ui/parts';
import {
  composed,
  type Relation,
  rowsOf,
  type Row,
  type Subject,
  turned,
  useLanguage,
  useReading,
} from './rule';

/** Where a rule stops being one: its line with a mark below the place. */
export function Fault({ rule, fault }: { rule: string; fault: Schemas['RuleFault'] }) {
  const before = rule.slice(0, fault.column - 1);
  const line = rule.split('\n')[before.split('\n').length - 1] ?? '';
  const column = before.length - (before.lastIndexOf('\n') + 1);
  const from = Math.max(0, column - 34);
  return (
    <div className="text-rust text-xs" role="alert">
      <pre aria-hidden className="overflow-hidden font-mono leading-4">
        {line.slice(from, from + 68).replace(/\s/g, ' ')}
        {`\n${' '.repeat(column - from)}^`}
      </pre>
      {fault.message}
    </div>
  );
}

/** Completes what stands before the caret from what the service knows could stand there. */
function Completing(props: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** What comes before it in the rule. */
  prefix?: string;
  lines?: number;
  placeholder?: string;
  onSubmit?: () => void;
  className?: string;
}) {
  const { value, onChange, prefix = '' } = props;
  const list = useId();
  const field = useRef<HTMLTextAreaElement>(null);
  const [caret, setCaret] = useState<number>();
  const [at, setAt] = useState(-1);
  const reading = useReading(prefix + value, caret === undefined ? undefined : prefix.length + caret);
  const choices = caret === undefined ? [] : (reading.data?.choices ?? []);
  function choose(choice: Schemas['RuleChoice']) {
    const from = Math.max(0, (reading.data?.from ?? 0) - prefix.length);
    const to = Math.max(from, (reading.data?.to ?? 0) - prefix.length);
    const rest = value.slice(to);
    const text = choice.text + (rest.startsWith(' ') || prefix ? '' : ' ');
    onChange(value.slice(0, from) + text + rest);
    setAt(-1);
    const place = from + text.length;
    setCaret(prefix ? undefined : place);
    requestAnimationFrame(() => {
      field.current?.focus();
      field.current?.setSelectionRange(place, place);
    });
  }
  function onKeyDown(e: KeyboardEvent) {
    const chosen = choices[at];
    if (e.key === 'ArrowDown' && choices.length > 0) {
      e.preventDefault();
      setAt((at + 1) % choices.length);
    } else if (e.key === 'ArrowUp' && at >= 0) {
      e.preventDefault();
      setAt(at - 1);
    } else if (e.key === 'Enter' && chosen) {
      e.preventDefault();
      choose(chosen);
    } else if (e.key === 'Escape' && choices.length > 0) {
      e.stopPropagation();
      setCaret(undefined);
    } else if (e.key === 'Enter' && !e.shiftKey && (props.onSubmit || prefix)) {
      e.preventDefault();
      props.onSubmit?.();
    }
  }
  return (
    <div className={clsx('relative', props.className)}>
      <textarea
        ref={field}
        role="combobox"
        aria-label={props.label}
        aria-expanded={choices.length > 0}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={choices[at] && `${list}-${at}`}
        className={clsx('field block', prefix ? 'h-8! resize-none overflow-hidden' : 'font-mono text-xs')}
        rows={props.lines ?? 1}
        spellCheck={false}
        placeholder={props.placeholder}
        value={value}
        onChange={(e) => {
          onChange(prefix ? e.target.value.replaceAll('\n', ' ') : e.target.value);
          setCaret(e.target.selectionStart);
          setAt(-1);
        }}
        onFocus={(e) => setCaret(e.target.selectionStart)}
        onClick={(e) => setCaret(e.currentTarget.selectionStart)}
        onBlur={() => setCaret(undefined)}
        onKeyDown={onKeyDown}
      />
      <ul
        id={list}
        role="listbox"
        aria-label={`Choices for ${props.label}`}
        className={clsx(
          'frame absolute top-full left-0 z-30 mt-1 max-h-56 w-full min-w-64 overflow-y-auto rounded-[3px] py-1 shadow-lg',
          choices.length === 0 && 'hidden',
        )}
      >
        {choices.map((c, i) => (
          <li
            key={c.text + c.note}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === at}
            className={clsx(
              'flex h-7 cursor-pointer items-center gap-3 px-3 text-sm',
              i === at ? 'bg-raised' : 'hover:bg-raised',
            )}
            onMouseDown={(e) => {
              e.preventDefault();
              choose(c);
            }}
          >
            <span className="font-mono text-xs">{c.text}</span>
            <span className="text-quiet truncate text-xs">{c.note}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

const SPANS = ['minutes', 'hours', 'days', 'weeks'];

function ValueField({
  row,
  relation,
  onChange,
}: {
  row: Row;
  relation: Relation;
  onChange: (v: string) => void;
}) {
  const label = 'Value';
  if (relation.value === 'span') {
    const [n = '', unit = 'days'] = row.value.split(' ');
    return (
      <span className="flex flex-1 gap-2">
        <input
          className="field w-20!"
          inputMode="numeric"
          aria-label="How many"
          value={n}
          onChange={(e) => onChange(`${e.target.value} ${unit}`)}
        />
        <select
          className="field w-28!"
          aria-label="Of what"
          value={unit}
          onChange={(e) => onChange(`${n} ${e.target.value}`)}
        >
          {SPANS.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </select>
      </span>
    );
  }
  if (relation.value === 'day') {
    return (
      <input
        type="date"
        className="field w-40!"
        aria-label={label}
        value={row.value}
        onChange={(e) => onChange(e.target.value)}
      />
    );
  }
  const prefix = [row.subject, row.of && `"${row.of}"`, row.relation].filter(Boolean).join(' ') + ' ';
  return (
    <Completing className="flex-1" label={label} prefix={prefix} value={row.value} onChange={onChange} />
  );
}

/** One condition, put together of what there is to choose. */
function Condition(props: {
  language: Subject[];
  row: Row;
  onChange: (row: Row) => void;
  onRemove: () => void;
}) {
  const { language, row, onChange } = props;
  const subject = language.find((s) => s.word === row.subject);
  const relation = subject?.relations.find((r) => r.word === row.relation);
  return (
    <li className="flex flex-wrap items-start gap-2" aria-label="Condition">
      {row.text !== undefined ? (
        <code className="bg-raised flex-1 rounded-[3px] px-2 py-1.5 text-xs">
          {row.not && 'not '}
          {row.text}
        </code>
      ) : (
        <>
          <select
            className="field w-44!"
            aria-label="What"
            value={row.subject}
            onChange={(e) => {
              const to = language.find((s) => s.word === e.target.value)!;
              onChange({ not: false, subject: to.word, of: '', relation: to.relations[0]!.word, value: '' });
            }}
          >
            {language.map((s) => (
              <option key={s.word} value={s.word}>
                {s.title}
              </option>
            ))}
          </select>
          {subject && subject.of !== 'none' && (
            <Completing
              className="w-44"
              label={`Which ${subject.title.toLowerCase()}`}
              prefix={`${subject.word} `}
              value={row.of}
              onChange={(of) => onChange({ ...row, of: of.replace(/^"|"$/g, '').replaceAll('""', '"') })}
            />
          )}
          <select
            className="field w-40!"
            aria-label="How"
            value={`${row.not}:${row.relation}`}
            onChange={(e) => {
              const [not, word] = e.target.value.split(':');
              const to = subject!.relations.find((r) => r.word === word)!;
              onChange({
                ...row,
                not: not === 'true',
                relation: word!,
                value: to.value === relation?.value ? row.value : '',
              });
            }}
          >
            {[false, true].flatMap((not) =>
              subject?.relations.map((r) => (
                <option key={`${not}${r.word}`} value={`${not}:${r.word}`}>
                  {not ? turned(r.title) : r.title}
                </option>
              )),
            )}
          </select>
          {relation && (
            <ValueField row={row} relation={relation} onChange={(value) => onChange({ ...row, value })} />
          )}
        </>
      )}
      <Button weight="bare" className="px-1.5!" aria-label="Take the condition out" onClick={props.onRemove}>
        <X className="size-4" />
      </Button>
    </li>
  );
}

function Builder({ rule, onChange }: { rule: string; onChange: (rule: string) => void }) {
  const language = useLanguage().data ?? [];
  const reading = useReading(rule).data;
  const [built, setBuilt] = useState<{ any: boolean; rows: Row[]; rule: string }>();
  // what came from elsewhere is taken apart; what was built here stays as it was built
  let now = built;
  const readable = rule.trim() === '' || (reading && !reading.fault && language.length > 0);
  if (built?.rule !== rule && readable) {
    now = {
      rule,
      any: rule.trim() !== '' && reading!.any,
      rows: rule.trim() === '' ? [] : rowsOf(language, reading!),
    };
    setBuilt(now);
  }
  if (!now || now.rule !== rule) {
    return (
      <p className="text-quiet text-sm">Put the words right first; then they are shown as conditions.</p>
    );
  }
  const { any, rows } = now;
  const put = (to: { any?: boolean; rows?: Row[] }) => {
    const next = { any, rows, ...to };
    const text = composed(language, next.any, next.rows);
    setBuilt({ ...next, rule: text });
    onChange(text);
  };
  return (
    <div className="space-y-2">
      {rows.length > 1 && (
        <label className="flex items-center gap-2 text-sm">
          Devices for which
          <select
            className="field w-24!"
            aria-label="All or any"
            value={String(any)}
            onChange={(e) => put({ any: e.target.value === 'true' })}
          >
            <option value="false">all</option>
            <option value="true">any</option>
          </select>
          of these is so:
        </label>
      )}
      <ul className="space-y-2">
        {rows.map((row, i) => (
          <Condition
            key={i}
            language={language}
            row={row}
            onChange={(to) => put({ rows: rows.map((r, j) => (j === i ? to : r)) })}
            onRemove={() => put({ rows: rows.filter((_, j) => j !== i) })}
          />
        ))}
      </ul>
      <Button
        disabled={language.length === 0}
        onClick={() =>
          put({ rows: [...rows, { not: false, subject: 'platform', of: '', relation: 'is', value: '' }] })
        }
      >
        <Plus className="size-4" />
        Add a condition
      </Button>
    </div>
  );
}

/** How many devices a rule finds, and some of them; or where it is wrong. */
export function Found({ rule }: { rule: string }) {
  const reading = useReading(rule).data;
  if (rule.trim() === '' || !reading) {
    return null;
  }
  if (reading.fault) {
    return <Fault rule={rule} fault={reading.fault} />;
  }
  const more = (reading.devices ?? 0) - reading.examples.length;
  return (
    <p className="text-sm" data-testid="found">
      Finds {counted(reading.devices ?? 0, 'device')}
      {reading.examples.length > 0 && `: ${reading.examples.join(', ')}`}
      {more > 0 && ` and ${more.toLocaleString('en')} more`}.
    </p>
  );
}

/** A rule, written in words or put together of conditions: two views of one. */
export function RuleField(props: { value: string; onChange: (rule: string) => void; onSubmit?: () => void }) {
  const [view, setView] = useState<'conditions' | 'words'>('words');
  return (
    <div className="space-y-2">
      <div className="flex items-center gap-3">
        <span className="label flex-1">Rule</span>
        {(['words', 'conditions'] as const).map((v) => (
          <button
            key={v}
            type="button"
            aria-pressed={v === view}
            className={clsx(
              'border-b-2 px-1 pb-0.5 text-sm',
              v === view ? 'border-brass font-semibold' : 'text-quiet border-transparent',
            )}
            onClick={() => setView(v)}
          >
            {v === 'words' ? 'In words' : 'As conditions'}
          </button>
        ))}
      </div>
      {view === 'words' ? (
        <Completing
          label="Rule"
          lines={3}
          placeholder="os < 7.1 and unit in VM-GLA and not tag has spare"
          value={props.value}
          onChange={props.onChange}
          onSubmit={props.onSubmit}
        />
      ) : (
        <Builder rule={props.value} onChange={props.onChange} />
      )}
      <Found rule={props.value} />
    </div>
  );
}
