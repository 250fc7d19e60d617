import { useSyncExternalStore } from 'react';

const query = typeof matchMedia === 'function' ? matchMedia('(max-width: 767px)') : undefined;

/** Whether the page is as narrow as a phone: sides are drawers then, tables cards. */
export function useNarrow(): boolean {
  return useSyncExternalStore(
    (changed) => {
      query?.addEventListener('change', changed);
      return () => query?.removeEventListener('change', changed);
    },
    () => query?.matches ?? false,
  );
}
