import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef } from 'react';
import { answer, api, type Schemas } from './client';

export type Layout = Schemas['ListLayout'];
export type View = Schemas['SavedView'];

const KEY = ['layouts'];
const PAUSE = 600;
const usual: Layout = { hidden: [], widths: {}, order: [], views: [] };

/** How the account likes a list. Kept with the account a moment after the last change. */
export function useLayout(list: string) {
  const queries = useQueryClient();
  const pending = useRef<ReturnType<typeof setTimeout>>(undefined);
  const all = useQuery({ queryKey: KEY, staleTime: Infinity, queryFn: () => answer(api.GET('/me/lists')) });
  const change = useCallback(
    (make: (before: Layout) => Partial<Layout>) => {
      queries.setQueryData<Schemas['ListLayouts']>(KEY, (before) => {
        const mine = before?.[list] ?? usual;
        return { ...before, [list]: { ...mine, ...make(mine) } };
      });
      clearTimeout(pending.current);
      pending.current = setTimeout(() => {
        const body = queries.getQueryData<Schemas['ListLayouts']>(KEY)?.[list];
        if (body) {
          void api.PUT('/me/lists/{id}', { params: { path: { id: list } }, body });
        }
      }, PAUSE);
    },
    [queries, list],
  );
  return { layout: all.data?.[list] ?? usual, change };
}
