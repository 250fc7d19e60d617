import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useSites } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { Labelled } from '../ui/parts';

/** The whole organisation tree, each unit before what is below it. */
export function useUnits() {
  return useQuery({ queryKey: ['units'], queryFn: () => answer(api.GET('/units')) });
}

/** The attributes of devices, people or units. */
export function useAttributes(kind: 'device' | 'person' | 'unit') {
  const all = useQuery({ queryKey: ['attributes'], queryFn: () => answer(api.GET('/attributes')) });
  return useMemo(() => (all.data ?? []).filter((a) => a.kind === kind), [all.data, kind]);
}

/** A unit as it stands in a list to choose from: indented by its depth. */
export const unitLabel = (u: Schemas['Unit']) => `${'\u2003'.repeat(u.depth)}${u.code} ${u.name}`;

/** Chooses a unit, or none. */
export function UnitSelect(props: {
  label: string;
  hint?: string;
  value: string | undefined;
  onChange: (id: string | undefined) => void;
  none?: string;
  /** Units that cannot be chosen. */
  without?: (u: Schemas['Unit']) => boolean;
}) {
  const units = useUnits();
  return (
    <Labelled label={props.label} hint={props.hint}>
      <select
        className="field"
        value={props.value ?? ''}
        onChange={(e) => props.onChange(e.target.value || undefined)}
      >
        <option value="">{props.none ?? 'none'}</option>
        {units.data
          ?.filter((u) => !props.without?.(u))
          .map((u) => (
            <option key={u.id} value={u.id}>
              {unitLabel(u)}
            </option>
          ))}
      </select>
    </Labelled>
  );
}

/** Chooses a site, or none. */
export function SiteSelect(props: {
  label: string;
  value: string | undefined;
  onChange: (id: string | undefined) => void;
  none?: string;
}) {
  const sites = useSites();
  return (
    <Labelled label={props.label}>
      <select
        className="field"
        value={props.value ?? ''}
        onChange={(e) => props.onChange(e.target.value || undefined)}
      >
        <option value="">{props.none ?? 'none'}</option>
        {sites.data?.items.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

/** Finds a person by words and chooses one, or nobody. */
export function PersonPick(props: {
  label: string;
  name: string | undefined;
  onChange: (person: { id: string; name: string } | undefined) => void;
}) {
  const [words, setWords] = useState<string>();
  const found = useQuery({
    queryKey: ['people', 'choice', words],
    enabled: (words ?? '').trim().length > 1,
    queryFn: () => answer(api.GET('/people', { params: { query: { q: words, limit: 6 } } })),
  });
  return (
    <div>
      <Labelled label={props.label} hint="Type two letters of the name; empty for nobody.">
        <input
          className="field"
          value={words ?? props.name ?? ''}
          placeholder="nobody"
          onChange={(e) => {
            setWords(e.target.value);
            if (!e.target.value) {
              props.onChange(undefined);
            }
          }}
        />
      </Labelled>
      {words !== undefined && words !== props.name && (
        <ul className="text-sm">
          {found.data?.items.map((p) => (
            <li key={p.id}>
              <button
                type="button"
                className="hover:bg-raised flex w-full justify-between px-2 py-1 text-left"
                onClick={() => {
                  setWords(undefined);
                  props.onChange({ id: p.id, name: p.name });
                }}
              >
                <span>{p.name}</span>
                <span className="text-quiet text-xs">{p.unit}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
