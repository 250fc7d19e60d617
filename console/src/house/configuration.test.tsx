import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { createHash } from 'node:crypto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Refusal, serve, show } from '../testing/service';
import { read } from './configuration';
import { ConfigurationPage } from './ConfigurationPage';

const OWNER = {
  account: { id: 'a1', login: 'owner', name: 'Owner', role: 'owner', createdAt: '2026-01-01T00:00:00Z' },
};
const ALL: Schemas['ConfigurationFiles'] = {
  texts: {
    'pinwright.yaml': 'format: pinwright-configuration/1\n',
    'rules/groups.yaml': '[]\n',
    'rules/profiles/quiet.yaml': 'name: Quiet\n',
  },
  files: [],
  leftOut: [],
};
const STEPS: Schemas['ConfigurationStep'][] = [
  {
    part: 'profile',
    name: 'Quiet',
    file: 'rules/profiles/quiet.yaml',
    verb: 'change',
    differences: [{ where: 'settings sound.volume', before: '20', after: '10' }],
  },
  { part: 'group', name: 'Old', file: '', verb: 'stay', differences: [] },
];
const WOULD: Schemas['ConfigurationRehearsal'] = {
  steps: STEPS,
  filesWanted: ['quay.png'],
  leftOut: ['Quiet goes to the device X, which is not here; that is left out.'],
  outOfOrder: 0,
  reasonWanted: false,
  secondWanted: false,
};

function inFolder(path: string, text: string): File {
  const file = new File([text], path.split('/').pop()!);
  Object.defineProperty(file, 'webkitRelativePath', { value: `house/${path}` });
  return file;
}

const HOUSE = [
  inFolder('pinwright.yaml', ALL.texts['pinwright.yaml']!),
  inFolder('rules/profiles/quiet.yaml', 'name: Quiet\n'),
  inFolder('files/quay.png', 'abc'),
  inFolder('README.md', 'ours'),
];

// Node's own takes no bytes of the realm the stand-in for a browser makes them in
beforeEach(() => {
  vi.stubGlobal('crypto', {
    subtle: {
      digest: (_: string, bytes: ArrayBuffer) =>
        Promise.resolve(createHash('sha256').update(new Uint8Array(bytes)).digest()),
    },
  });
});

describe('a folder', () => {
  it('is read with the digests of its files, and nothing else that lies in it', async () => {
    const folder = await read(HOUSE);
    expect(Object.keys(folder.texts)).toEqual(['pinwright.yaml', 'rules/profiles/quiet.yaml']);
    expect(folder.files['quay.png']!.digest).toBe(
      'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad',
    );
    await expect(read([inFolder('README.md', 'ours')])).rejects.toThrow('no pinwright.yaml in house');
  });
});

describe('all as files', () => {
  const chosen = () =>
    fireEvent.change(screen.getByLabelText('Folder to load'), { target: { files: HOUSE } });

  it('shows what is in each file', async () => {
    serve({ 'GET /me': OWNER, 'GET /configuration': ALL });
    show(<ConfigurationPage />);
    expect((await screen.findByTestId('text')).textContent).toBe('name: Quiet\n');
    fireEvent.click(screen.getByText('groups.yaml'));
    expect(screen.getByText('None yet.')).toBeTruthy();
    expect(screen.getByText('Save all').closest('a')!.getAttribute('href')).toBe('/api/v1/configuration.zip');
  });

  it('says what loading would do, stores what is wanted and loads it', async () => {
    const calls = serve({
      'GET /me': OWNER,
      'GET /configuration': ALL,
      'POST /configuration/rehearsal': WOULD,
      'POST /files': { id: 'x' },
      'POST /configuration': { steps: STEPS, leftOut: [] },
    });
    show(<ConfigurationPage />);
    await screen.findByTestId('text');
    chosen();
    const changed = await screen.findByRole('region', { name: 'Changed' });
    expect(within(changed).getByText('settings sound.volume')).toBeTruthy();
    expect(screen.getByRole('region', { name: 'In no file; stays' }).textContent).toContain('Old');
    expect(screen.getByText(/which is not here/)).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Delete what is in no file'));
    await waitFor(() =>
      expect(calls.filter((c) => c.path.endsWith('/rehearsal')).at(-1)!.body).toMatchObject({
        delete: true,
        files: { 'quay.png': expect.stringMatching(/^ba78/) },
      }),
    );
    fireEvent.click(await screen.findByText('Load all of it'));
    await screen.findByText(/No device gets other settings/);
    const stored = calls.find((c) => c.path === '/files')!;
    expect(stored.query.get('name')).toBe('ba7816bf8f01 quay.png');
    expect(
      calls.find((c) => c.path === '/configuration' && c.method === 'POST')!.headers.get('Content-Type'),
    ).toBe('application/vnd.pinwright.configuration+json');
  });

  it('asks for the secrets that are not here', async () => {
    const calls = serve({
      'GET /me': OWNER,
      'GET /configuration': ALL,
      'POST /configuration/rehearsal': (call: { body: unknown }) =>
        (call.body as { secrets?: object }).secrets
          ? { ...WOULD, filesWanted: [] }
          : new Refusal(409, 'secrets-wanted', 'Secrets are in no file.', {
              secrets: [{ part: 'profile', name: 'Staff', key: 'wifi[staff].passphrase' }],
            }),
    });
    show(<ConfigurationPage />);
    await screen.findByTestId('text');
    chosen();
    fireEvent.change(await screen.findByLabelText('wifi[staff].passphrase of Staff'), {
      target: { value: 'lantern' },
    });
    fireEvent.click(screen.getByText('Go on'));
    await screen.findByText('Load all of it');
    expect(calls.at(-1)!.body).toMatchObject({
      secrets: { profile: { Staff: { 'wifi[staff].passphrase': 'lantern' } } },
    });
  });

  it('is asked of a second person without secrets', async () => {
    const calls = serve({
      'GET /me': OWNER,
      'GET /configuration': ALL,
      'POST /configuration/rehearsal': { ...WOULD, filesWanted: [], secondWanted: true },
      'POST /proposals': { proposal: { id: 'p1' } },
    });
    show(<ConfigurationPage />);
    await screen.findByTestId('text');
    chosen();
    fireEvent.click(await screen.findByText('Ask a second person'));
    await screen.findByText('Follow it');
    expect(calls.find((c) => c.path === '/proposals')!.body).toMatchObject({
      intent: { load: { delete: false, texts: { 'pinwright.yaml': expect.any(String) } } },
    });
  });
});
