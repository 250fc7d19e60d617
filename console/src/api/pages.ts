import { useInfiniteQuery } from '@tanstack/react-query';
import { useMemo } from 'react';

interface Page<T> {
  items: T[];
  next?: string;
}

/** A keyset-paged list that loads on as it is scrolled. */
export function usePages<T>(
  key: unknown[],
  load: (after: string | undefined) => Promise<Page<T>>,
  enabled = true,
) {
  const query = useInfiniteQuery({
    queryKey: [...key, 'pages'], // whoever asks for the whole under the same key has another answer
    enabled,
    queryFn: ({ pageParam }) => load(pageParam),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last: Page<T>) => last.next,
  });
  const items = useMemo(() => query.data?.pages.flatMap((p) => p.items) ?? [], [query.data]);
  return { ...query, items };
}
