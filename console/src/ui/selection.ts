import type { RowSelectionState, Updater } from '@tanstack/react-table';
import { useMemo, useState } from 'react';

/** Rows picked one by one, or all that match but for some. */
export interface Selection {
  all: boolean;
  /** With `all` the rows left out, otherwise the rows picked. */
  ids: string[];
}

const nothing: Selection = { all: false, ids: [] };

/** What the table should show as picked among the rows that are loaded. */
export function shownAs(selection: Selection, loaded: string[]): RowSelectionState {
  const named = new Set(selection.ids);
  const picked = selection.all ? loaded.filter((id) => !named.has(id)) : selection.ids;
  return Object.fromEntries(picked.map((id) => [id, true]));
}

/** What is picked once the table says these rows are. */
export function after(before: Selection, loaded: string[], state: RowSelectionState): Selection {
  if (!before.all) {
    return { all: false, ids: Object.keys(state).filter((id) => state[id]) };
  }
  const out = loaded.filter((id) => !state[id]);
  const kept = before.ids.filter((id) => !loaded.includes(id));
  return { all: true, ids: [...kept, ...out] };
}

/** The selection of a list; it starts anew when the filters change. */
export function useSelection(filters: string) {
  const [kept, setKept] = useState({ filters, selection: nothing });
  const selection = kept.filters === filters ? kept.selection : nothing;
  return useMemo(
    () => ({
      selection,
      set: (next: Selection) => setKept({ filters, selection: next }),
      update: (loaded: string[], change: Updater<RowSelectionState>) => {
        const shown = shownAs(selection, loaded);
        const state = typeof change === 'function' ? change(shown) : change;
        setKept({ filters, selection: after(selection, loaded, state) });
      },
    }),
    [selection, filters],
  );
}
