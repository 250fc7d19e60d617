import { createConfig, lint } from '@redocly/openapi-core';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';

describe('the contract of the API', () => {
  it('is sound, says what every call answers and how it can fail', async () => {
    const config = await createConfig({ extends: ['recommended'] });
    const found = await lint({ ref: resolve(__dirname, '../../../api/openapi.yaml'), config });
    expect(found.map((f) => `${f.location[0]?.pointer}: ${f.message}`)).toEqual([]);
  });

  it('lets nobody write over, or take away, what they have not seen', async () => {
    const { bundle } = await import('@redocly/openapi-core');
    const config = await createConfig({});
    const { bundle: found } = await bundle({ ref: resolve(__dirname, '../../../api/openapi.yaml'), config });
    type Call = { parameters?: { $ref?: string }[]; responses: Record<string, { headers?: object }> };
    const paths = (found.parsed as { paths: Record<string, Record<string, Call>> }).paths;
    const unguarded = Object.entries(paths).flatMap(([path, calls]) =>
      ['put', 'patch', 'delete']
        .filter((m) => calls[m] && (m !== 'delete' || calls.get?.responses['200']?.headers))
        .filter((m) => !calls[m].parameters?.some((p) => p.$ref === '#/components/parameters/ifMatch'))
        .map((m) => `${m} ${path}`),
    );
    expect(unguarded).toEqual([
      'put /accounts/{id}/password', // nobody has seen the one before
      'put /me/password', // which is given with it
      'patch /tags/{id}', // a tag is its name
      'put /me/lists/{id}', // one's own
      'put /roster/imports/{id}/columns', // of a sheet that is read anew
      'put /attributes/{kind}/{id}', // only what is named is written
      'put /devices/{id}/queue', // only what is named is moved, and it has to wait still
    ]);
  });

  it('describes no answer by a word that says nothing', async () => {
    const { readFileSync } = await import('node:fs');
    const text = readFileSync(resolve(__dirname, '../../../api/openapi.yaml'), 'utf8');
    expect(text.match(/description: Done\.$/gm)).toBeNull();
  });
});
