import { useSyncExternalStore } from 'react';

const AGAIN_MILLIS = 2_000;
let away = '';
const told = new Set<() => void>();
const back = new Set<() => void>();

function say(now: string): void {
  if (now !== away) {
    away = now;
    told.forEach((tell) => tell());
  }
}

async function ask(): Promise<void> {
  try {
    if ((await fetch('/health')).ok) {
      say('');
      back.forEach((go) => go());
      return;
    }
  } catch {
    // it is still away
  }
  setTimeout(() => void ask(), AGAIN_MILLIS);
}

/** Notes that the service, or its database, is away, and asks until it is back. */
export function gone(why: string): void {
  if (!away) {
    setTimeout(() => void ask(), AGAIN_MILLIS);
  }
  say(why);
}

/** Runs something whenever the service is back; returns how to stop. */
export function whenBack(go: () => void): () => void {
  back.add(go);
  return () => back.delete(go);
}

/** Why nothing can be asked at the moment; empty when everything can. */
export function useAway(): string {
  return useSyncExternalStore(
    (tell) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    () => away,
  );
}
