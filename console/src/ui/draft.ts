import { useState } from 'react';

type Fields = Record<string, unknown>;

/** A field that somebody else saved with another value than the one typed here. */
export interface Clash {
  field: string;
  mine: unknown;
  theirs: unknown;
}

/** What is being written, and what it was begun on. */
export interface Begun<T extends Fields> {
  /** As it was saved when the draft was begun, or met last. */
  base: T;
  version: number;
  draft: T;
  clashes: Clash[];
  /** Whether somebody saved it meanwhile. */
  meanwhile: boolean;
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/**
 * The draft after somebody saved the thing: what was not touched here is as they saved it, what was
 * touched stays as it was typed, and what both changed is a clash.
 */
export function meet<T extends Fields>(begun: Begun<T>, saved: T, version: number): Begun<T> {
  const draft: Fields = {};
  const clashes: Clash[] = [];
  let meanwhile = false;
  for (const field of new Set([...Object.keys(saved), ...Object.keys(begun.draft)])) {
    const mine = begun.draft[field];
    const theirs = saved[field];
    const touched = !same(mine, begun.base[field]);
    const changed = !same(theirs, begun.base[field]) || begun.clashes.some((c) => c.field === field);
    const value = touched ? mine : theirs;
    if (value !== undefined) {
      draft[field] = value;
    }
    if (touched && changed && !same(mine, theirs)) {
      clashes.push({ field, mine, theirs });
    }
    meanwhile ||= changed && !same(mine, theirs);
  }
  const dirty = !same(begun.draft, begun.base);
  return { base: saved, version, draft: draft as T, clashes, meanwhile: meanwhile && dirty };
}

/**
 * A draft of something saved that others may save too: nothing typed is ever lost. Save with its
 * `version`, and not while there are clashes.
 */
export function useDraft<T extends Fields>(saved: T, version = 0) {
  const [kept, setKept] = useState<Begun<T>>({
    base: saved,
    version,
    draft: saved,
    clashes: [],
    meanwhile: false,
  });
  let now = kept;
  if (version !== kept.version) {
    now = meet(kept, saved, version);
    setKept(now);
  }
  return {
    ...now,
    dirty: !same(now.draft, now.base),
    set: (change: Partial<T>) => setKept((k) => ({ ...k, draft: { ...k.draft, ...change } })),
    replace: (draft: T) => setKept((k) => ({ ...k, draft })),
    /** Says which of two values counts. */
    settle: (clash: Clash, whose: 'mine' | 'theirs') =>
      setKept((k) => ({
        ...k,
        draft: { ...k.draft, [clash.field]: clash[whose] },
        clashes: k.clashes.filter((c) => c.field !== clash.field),
      })),
    /** It was saved as it is here; this is what it is now. */
    saved: (as: T, at: number) =>
      setKept({ base: as, version: at, draft: as, clashes: [], meanwhile: false }),
  };
}

export type Draft<T extends Fields> = ReturnType<typeof useDraft<T>>;
