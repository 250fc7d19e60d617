import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { objection } from './SettingField';

const setting = (type: Schemas['ValueType']) => ({ type }) as Schemas['Setting'];

describe('what is wrong with a value', () => {
  it('names the bounds of a number', () => {
    const length = setting({ kind: 'whole', min: 4, max: 16, unit: 'characters' });
    expect(objection(length, 8)).toBeUndefined();
    expect(objection(length, 3)).toBe('A whole number from 4 to 16 characters.');
    expect(objection(length, '')).toBe('A whole number from 4 to 16 characters.');
  });

  it('takes a secret that is kept, and says how long a new one has to be', () => {
    const secret = { ...setting({ kind: 'secret', min: 12, max: 63 }), sensitive: true };
    expect(objection(secret, '••••••••')).toBeUndefined();
    expect(objection(secret, 'short')).toBe('12 to 63 characters; this has 5.');
  });

  it('says what a value with a form of its own has to be when there is none', () => {
    const hours = setting({ kind: 'hours', wanted: 'times of the week, such as Mon-Fri 08:00-17:30' });
    expect(objection(hours, '')).toBe('Has to be times of the week, such as Mon-Fri 08:00-17:30.');
    expect(objection(hours, 'Mon 08:00-12:00')).toBeUndefined();
  });

  it('counts characters, not code units', () => {
    const text = setting({ kind: 'text', min: 1, max: 3 });
    expect(objection(text, '🗝🗝🗝')).toBeUndefined();
    expect(objection(text, '')).toBe('1 to 3 characters; this has 0.');
  });
});
