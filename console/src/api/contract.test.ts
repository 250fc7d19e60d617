import { createConfig, lint } from '@redocly/openapi-core';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';

describe('the contract of the API', () => {
  it('is sound, says what every call answers and how it can fail', async () => {
    const config = await createConfig({ extends: ['recommended'] });
    const found = await lint({ ref: resolve(__dirname, '../../../api/openapi.yaml'), config });
    expect(found.map((f) => `${f.location[0]?.pointer}: ${f.message}`)).toEqual([]);
  });

  it('describes no answer by a word that says nothing', async () => {
    const { readFileSync } = await import('node:fs');
    const text = readFileSync(resolve(__dirname, '../../../api/openapi.yaml'), 'utf8');
    expect(text.match(/description: Done\.$/gm)).toBeNull();
  });
});
