import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { ago } from '../ui/parts';
import { ofChange, ofDispatch } from './Tray';

describe('what is in flight', () => {
  it('counts a device a later change has moved on as no longer waiting', () => {
    const change = {
      id: 'c',
      title: 'Publish',
      at: '',
      total: 9,
      done: 4,
      waiting: 2,
      failed: 1,
      overtaken: 2,
      devices: 9,
    };
    expect(ofChange(change as Schemas['Change'])).toMatchObject({ done: 6, waiting: 2, failed: 1 });
  });

  it('is done with devices whose settings stayed', () => {
    const change = { total: 2, devices: 9, done: 1, waiting: 1, failed: 0, overtaken: 0 };
    expect(ofChange(change as Schemas['Change'])).toMatchObject({ total: 9, done: 8, waiting: 1 });
  });

  it('holds a delivered command to be waiting until the device says it is done', () => {
    const states = { delivered: 2, queued: 1, done: 3, expired: 1 };
    const dispatch = { id: 'd', title: 'Ring', at: '', total: 7, states, fields: {} };
    expect(ofDispatch(dispatch as unknown as Schemas['Dispatch'])).toMatchObject({
      done: 3,
      waiting: 3,
      failed: 1,
    });
  });
});

describe('how long ago', () => {
  it('speaks in the unit a reader would use', () => {
    const now = Date.parse('2026-01-01T12:00:00Z');
    expect(ago('2026-01-01T11:59:57Z', now)).toBe('just now');
    expect(ago('2026-01-01T11:59:20Z', now)).toBe('40 s ago');
    expect(ago('2026-01-01T09:00:00Z', now)).toBe('3 h ago');
    expect(ago('2026-01-01T14:00:00Z', now)).toBe('in 2 h');
  });
});
