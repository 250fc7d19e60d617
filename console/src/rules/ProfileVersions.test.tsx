import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { compared, ProfileVersions, said } from './ProfileVersions';
import { FromFile } from './ProfileFile';

const CATALOGUE = {
  sections: [],
  settings: [
    { key: 'passcode.min-length', title: 'Least length', section: 'passcode' },
    { key: 'wifi.network', title: 'Network name', section: 'wifi' },
  ],
} as unknown as Schemas['Catalogue'];

const version = (number: number, words: Record<string, string>) => ({
  number,
  name: 'Galleries',
  publishedAt: '2026-03-01T08:00:00Z',
  publishedBy: 'owner',
  settings: words,
  words,
  parts: [],
  targets: [{ kind: 'tag' as const, ref: 'gallery', name: 'gallery' }],
  exclusions: [],
  window: {},
});

const PROFILE = {
  id: 'p1',
  version: 7,
  name: 'Galleries',
  words: { 'passcode.min-length': '8 characters' },
  parts: [],
  targets: [],
  exclusions: [],
  window: {},
} as unknown as Schemas['Profile'];

describe('versions of a profile', () => {
  it('are compared side by side, any two of them, and one is put back', async () => {
    const calls = serve({
      'GET /profiles/p1/versions': {
        items: [
          version(2, { 'passcode.min-length': '6 characters' }),
          version(1, { 'passcode.min-length': '6 characters', 'wifi[staff].network': 'Vellmar-Staff' }),
        ],
      },
      'POST /profiles/p1/versions/1/restoration': PROFILE,
    });
    show(<ProfileVersions profile={PROFILE} catalogue={CATALOGUE} />);
    fireEvent.click(await screen.findByLabelText('Compare version 1 with the draft'));
    const table = within(screen.getByTestId('compared'));
    expect(table.getByText('Least length')).toBeTruthy();
    expect(table.getByText('Network name (staff)')).toBeTruthy();
    expect(table.getByText('8 characters')).toBeTruthy();
    fireEvent.change(table.getByLabelText('With'), { target: { value: '2' } });
    expect(table.queryByText('Least length')).toBeNull();
    expect(table.getByText('says nothing')).toBeTruthy();
    fireEvent.click(table.getByLabelText('what is the same too'));
    expect(table.getByText('Least length')).toBeTruthy();
    fireEvent.click(table.getByText('Put version 1 back into the draft'));
    await waitFor(() => expect(calls.find((c) => c.method === 'POST')?.headers.get('If-Match')).toBe('"7"'));
  });

  it('are in the order of the catalogue, whom they go to first', () => {
    const lines = compared(
      said(version(1, { 'wifi[b].network': 'B', 'passcode.min-length': '6' })),
      said(PROFILE),
      CATALOGUE.settings.map((s) => s.key),
    );
    expect(lines.map((l) => l.key)).toEqual(['except', 'goes to', 'passcode.min-length', 'wifi[b].network']);
    expect(lines[1]).toEqual({ key: 'goes to', left: 'tag gallery', right: 'nobody' });
    const along = { profile: 'p2', name: 'Guest Wi-Fi', whenInOrder: true };
    expect(said({ ...version(1, {}), parts: [along] })['goes along']).toBe(
      'Guest Wi-Fi, while the device is in order',
    );
  });
});

describe('a profile from a file', () => {
  it('says what is not in it, and is written under the name that is typed', async () => {
    const calls = serve({ 'POST /profile-files': { id: 'p2', kind: 'profile' } });
    const { address } = show(<FromFile onClose={() => undefined} />);
    const file = {
      format: 'pinwright-profile/1',
      name: 'Galleries',
      settings: { a: 1 },
      secretsLeftOut: ['x'],
    };
    fireEvent.change(screen.getByLabelText('Profile file'), {
      target: { files: [new File([JSON.stringify(file)], 'g.json')] },
    });
    expect(await screen.findByText(/have to be set: x/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Elsewhere' } });
    fireEvent.click(screen.getByText('Write profile'));
    await waitFor(() => expect(address.now).toBe('/rules/profiles/p2'));
    expect(calls[0]!.body).toEqual({ ...file, name: 'Elsewhere' });
  });

  it('that is none is said so', async () => {
    serve({});
    show(<FromFile onClose={() => undefined} />);
    fireEvent.change(screen.getByLabelText('Profile file'), {
      target: { files: [new File(['nothing'], 'g.txt')] },
    });
    expect((await screen.findByRole('alert')).textContent).toContain('g.txt is no profile file.');
  });
});
