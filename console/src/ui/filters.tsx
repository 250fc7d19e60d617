import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { ListFilter, X } from 'lucide-react';
import { createContext, type ReactNode, useContext, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { Sheet } from './Dialog';
import { useNarrow } from './narrow';
import { Button, Labelled } from './parts';

export interface Filters<N extends string> {
  /** What is asked for; empty where nothing is. */
  asked: Record<N, string>;
  /** Those that are not empty, as the API wants them. */
  query: Partial<Record<N, string>>;
  set: (name: N, value: string | undefined) => void;
}

/** The filters of a list, kept in the page's address. */
export function useFilters<N extends string>(names: readonly N[]): Filters<N> {
  const [search, setSearch] = useSearchParams();
  const key = names.map((n) => search.get(n) ?? '').join('\u0000');
  const { asked, query } = useMemo(() => {
    const values = key.split('\u0000');
    const pairs = names.map((n, i) => [n, values[i]] as const);
    return {
      asked: Object.fromEntries(pairs) as Record<N, string>,
      query: Object.fromEntries(pairs.filter(([, v]) => v !== '')) as Partial<Record<N, string>>,
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the names never change, the values do
  }, [key]);
  const set = (name: N, value: string | undefined) =>
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        if (value) {
          next.set(name, value);
        } else {
          next.delete(name);
        }
        return next;
      },
      { replace: name === 'q' },
    );
  return { asked, query, set };
}

/**
 * What a filter shows of itself: the field of words always, what is asked for as a word that can be
 * taken away, the choices behind a button.
 */
export type Part = 'words' | 'asked' | 'choices';
const Shown = createContext<Part>('words');

/** Which part of the filters is drawn here. */
export const usePart = () => useContext(Shown);

/** The filters of a list in one row: words, what is asked for, and the rest behind one button. */
export function FilterRow({ children }: { children: ReactNode }) {
  const narrow = useNarrow();
  const [open, setOpen] = useState(false);
  const choices = <Shown value="choices">{children}</Shown>;
  const name = (
    <>
      <ListFilter className="size-4" /> Filter
    </>
  );
  return (
    <>
      <Shown value="words">{children}</Shown>
      {narrow ? (
        <Button onClick={() => setOpen(true)}>{name}</Button>
      ) : (
        <Popover>
          <PopoverButton as={Button}>{name}</PopoverButton>
          <PopoverPanel
            anchor={{ to: 'bottom start', gap: 4 }}
            className="frame z-30 grid grid-cols-[16rem] gap-x-5 gap-y-3 rounded-[3px] p-4 shadow-lg has-[>:nth-child(4)]:grid-cols-[16rem_16rem]"
          >
            {choices}
          </PopoverPanel>
        </Popover>
      )}
      <Shown value="asked">{children}</Shown>
      {open && narrow && (
        <Sheet
          title="Filter"
          onClose={() => setOpen(false)}
          actions={
            <Button weight="main" onClick={() => setOpen(false)}>
              Show the list
            </Button>
          }
        >
          {choices}
        </Sheet>
      )}
    </>
  );
}

/** Something asked for, as a word that can be taken away. */
export function Asked({ children, onForget }: { children: string; onForget: () => void }) {
  return (
    <span className="border-brass bg-sheet inline-flex h-8 items-center gap-1 rounded-[3px] border pl-2 text-sm whitespace-nowrap">
      {children}
      <button
        type="button"
        className="hover:bg-raised flex h-full items-center px-1.5"
        aria-label={`Do not filter by ${children}`}
        onClick={onForget}
      >
        <X className="size-3.5" />
      </button>
    </span>
  );
}

/** Filters by words. */
export function Words<N extends string>({
  filters,
  placeholder,
}: {
  filters: Filters<N | 'q'>;
  placeholder: string;
}) {
  return usePart() === 'words' ? (
    <input
      type="search"
      aria-label="Words"
      placeholder={placeholder}
      className="field w-60 max-md:w-auto max-md:min-w-48 max-md:flex-1"
      value={filters.asked.q}
      onChange={(e) => filters.set('q', e.target.value)}
    />
  ) : null;
}

/** Filters by one of some values; {@code any} is what stands for none of them. */
export function Choice<N extends string>({
  filters,
  name,
  label,
  any = 'any',
  options,
}: {
  filters: Filters<N>;
  name: N;
  label: string;
  any?: string;
  options: [string, string][];
}) {
  const part = usePart();
  const value = filters.asked[name];
  if (part === 'words' || (part === 'asked' && !value)) {
    return null;
  }
  if (part === 'asked') {
    const text = options.find(([v]) => v === value)?.[1] ?? value;
    return <Asked onForget={() => filters.set(name, undefined)}>{`${label}: ${text}`}</Asked>;
  }
  return (
    <Labelled label={label}>
      <select className="field" value={value} onChange={(e) => filters.set(name, e.target.value)}>
        <option value="">{any}</option>
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

/** Words that are their own names, hyphens read as spaces. */
export const plain = (words: string[]): [string, string][] => words.map((w) => [w, w.replace('-', ' ')]);
