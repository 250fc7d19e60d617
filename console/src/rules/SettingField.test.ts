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

  it('counts characters, not code units', () => {
    const text = setting({ kind: 'text', min: 1, max: 3 });
    expect(objection(text, '🗝🗝🗝')).toBeUndefined();
    expect(objection(text, '')).toBe('1 to 3 characters; this has 0.');
  });
});
