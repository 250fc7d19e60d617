import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

/**
 * Runs something that changes the server: remembers what went wrong, says whether it is still going
 * on, and makes the lists named stale.
 */
export function useAct(...keys: string[]) {
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  async function act<T>(work: () => Promise<T>, then?: (result: T) => void) {
    setTrouble(undefined);
    setBusy(true);
    try {
      const result = await work();
      await Promise.all(keys.map((key) => queries.invalidateQueries({ queryKey: [key] })));
      then?.(result);
    } catch (e) {
      setTrouble(e);
    } finally {
      setBusy(false);
    }
  }
  return { act, trouble, busy };
}
