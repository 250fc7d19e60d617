import { act, renderHook } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { after, shownAs, useSelection } from './selection';

describe('a selection', () => {
  const loaded = ['a', 'b', 'c'];

  it('shows the rows that were picked', () => {
    expect(shownAs({ all: false, ids: ['b'] }, loaded)).toEqual({ b: true });
  });

  it('of all that match shows every loaded row but those left out', () => {
    expect(shownAs({ all: true, ids: ['b'] }, loaded)).toEqual({ a: true, c: true });
  });

  it('of all that match remembers what was unticked, also on rows no longer loaded', () => {
    const before = { all: true, ids: ['z', 'b'] };
    expect(after(before, loaded, { b: true, c: true })).toEqual({ all: true, ids: ['z', 'a'] });
  });

  it('starts anew when the filters change, and is not lost when they stay', () => {
    const { result, rerender } = renderHook(({ filters }) => useSelection(filters), {
      initialProps: { filters: '?tag=kiosk' },
    });
    act(() => result.current.update(loaded, { a: true }));
    rerender({ filters: '?tag=kiosk' });
    expect(result.current.selection).toEqual({ all: false, ids: ['a'] });
    rerender({ filters: '?tag=staff' });
    expect(result.current.selection).toEqual({ all: false, ids: [] });
  });
});
