import { useMemo } from 'react';
import { useSearchParams } from 'react-router';

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

/** Filters by words. */
export function Words<N extends string>({
  filters,
  placeholder,
}: {
  filters: Filters<N | 'q'>;
  placeholder: string;
}) {
  return (
    <input
      type="search"
      aria-label="Words"
      placeholder={placeholder}
      className="field w-44"
      value={filters.asked.q}
      onChange={(e) => filters.set('q', e.target.value)}
    />
  );
}

/** Filters by one of some values. */
export function Choice<N extends string>({
  filters,
  name,
  label,
  options,
}: {
  filters: Filters<N>;
  name: N;
  label: string;
  options: [string, string][];
}) {
  return (
    <select
      aria-label={label}
      className={`field w-auto max-w-26 ${filters.asked[name] ? 'border-brass' : ''}`}
      value={filters.asked[name]}
      onChange={(e) => filters.set(name, e.target.value)}
    >
      <option value="">{label}</option>
      {options.map(([value, text]) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </select>
  );
}

/** Words that are their own names, hyphens read as spaces. */
export const plain = (words: string[]): [string, string][] => words.map((w) => [w, w.replace('-', ' ')]);
