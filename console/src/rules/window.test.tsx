import { fireEvent, render, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { fromField, toField } from '../ui/dates';
import { begins, sayWindow, WindowFields } from './window';

describe('when a profile holds', () => {
  it('goes into a field of local time and comes back as the same moment', () => {
    const at = '2026-12-24T12:00:00.000Z';
    expect(fromField(toField(at))).toBe(at);
    expect(toField(undefined)).toBe('');
    expect(fromField('')).toBeUndefined();
  });

  it('is said in words, and not at all where it is always', () => {
    expect(sayWindow({})).toBeUndefined();
    expect(sayWindow({ until: '2026-12-27T06:00:00Z' })).toMatch(/^until 2026-12-27 /);
    expect(sayWindow({ from: '2026-12-24T12:00:00Z', until: '2026-12-27T06:00:00Z' })).toMatch(
      /^from 2026-12-24 .* until 2026-12-27 /,
    );
  });

  it('is yet to begin or not', () => {
    const now = Date.parse('2026-12-01T00:00:00Z');
    expect(begins({ from: '2026-12-24T12:00:00Z' }, now)).toBe(true);
    expect(begins({ from: '2026-11-24T12:00:00Z' }, now)).toBe(false);
    expect(begins({}, now)).toBe(false);
  });

  it('is typed, and taken away by emptying the field', () => {
    const change = vi.fn();
    render(<WindowFields from="" until="2026-12-27T06:00:00Z" onChange={change} />);
    fireEvent.change(screen.getByLabelText(/From/), { target: { value: '2026-12-24T12:00' } });
    fireEvent.change(screen.getByLabelText(/Until/), { target: { value: '' } });
    expect(change.mock.calls).toEqual([
      [{ from: new Date('2026-12-24T12:00').toISOString() }],
      [{ until: '' }],
    ]);
  });
});
