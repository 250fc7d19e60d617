import { useEffect, useState } from 'react';

/** The value once it has stayed the same for a moment, so that not every key asks the service. */
export function useCalm<T>(value: T): T {
  const [calm, setCalm] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setCalm(value), 350);
    return () => clearTimeout(timer);
  }, [value]);
  return calm;
}
