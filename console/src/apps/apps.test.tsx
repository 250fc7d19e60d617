import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show, type Call } from '../testing/service';
import { AppCard } from './AppCard';
import { bring } from './apps';
import { AssignSheet } from './AssignSheet';
import { BehindPage } from './BehindPage';
import { Configuration } from './Configuration';
import { entryOf } from './HandOutDocument';
import { ReleaseSheet } from './ReleaseSheet';
import { fieldsOf, saying, told } from './schema';

const version = (code: number, name: string): Schemas['AppVersion'] => ({
  code,
  version: name,
  lowestOs: { tarn: '7.0', fjell: '0.0' },
  permissions: ['camera'],
  size: 3_000_000,
  installedSize: 0,
  notes: 'Larger letters.',
  sha256: 'ab'.repeat(32),
  broughtAt: '2026-11-29T09:00:00Z',
  broughtBy: 'maren',
  devices: 4,
});

const detail: Schemas['AppDetail'] = {
  app: {
    id: 'a1',
    key: 'rota',
    packageId: 'vellmar.rota',
    name: 'Rota',
    publisher: 'Vellmar Museums',
    summary: 'Who is on when.',
    category: 'staff',
    origin: 'package',
    platforms: ['tarn'],
    forAll: '4.1',
    assigned: 9,
    there: 6,
    failing: 1,
    icon: false,
  },
  version: 7,
  signer: 'Vellmar workshop',
  signerKey: 'cd'.repeat(32),
  forAll: version(1, '4.1'),
  latest: version(2, '4.2'),
  counts: { there: 6, missing: 3, old: 1, underWay: 0, failing: 1 },
  assignments: [
    {
      id: 'p1',
      name: 'Rota for all',
      publishedVersion: 2,
      draftChanged: false,
      devices: 9,
      spreading: 'stopped',
    },
  ],
};

const rehearsal = (more: object = {}) => ({
  ...{
    devices: 9,
    changing: 9,
    gain: 0,
    change: 9,
    lose: 0,
    effects: [],
    conflicts: [],
    shortages: [],
    unsupported: [],
  },
  ...{ reasonWanted: false, secondWanted: false, ...more },
});

describe('the card of an app', () => {
  it('says where it is, and lists the devices behind a number with the reason', async () => {
    const calls = serve({
      'GET /apps/a1/versions': { items: [version(2, '4.2'), version(1, '4.1')] },
      'GET /apps/a1/devices': {
        items: [
          { id: 'd1', name: 'HAR kiosk 3', version: '4.1', attempt: 'failed', reason: 'there is no room' },
        ],
      },
      'POST /apps/a1/push': { devices: 1 },
    });
    show(<AppCard detail={detail} onClose={vi.fn()} />);
    expect(screen.getByText('its waves stopped')).toBeTruthy();
    fireEvent.click(screen.getByText('failing'));
    expect(await screen.findByText('there is no room')).toBeTruthy();
    expect(calls.some((c) => c.path === '/apps/a1/devices' && c.query.get('with') === 'failing')).toBe(true);
    fireEvent.click(screen.getByText('Push to all that lack it now'));
    await waitFor(() => expect(calls.some((c) => c.path === '/apps/a1/push')).toBe(true));
  });

  it('offers to release what is not released', async () => {
    serve({
      'GET /apps/a1/versions': { items: [version(2, '4.2'), version(1, '4.1')] },
      'POST /apps/a1/release-rehearsal': rehearsal(),
    });
    show(<AppCard detail={detail} onClose={vi.fn()} />);
    expect(await screen.findByText('released to all')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Release' }));
    expect(await screen.findByText('Release to 9 devices')).toBeTruthy();
  });
});

describe('a release', () => {
  it('asks for what the rehearsal asks for, and sends the version it was seen in', async () => {
    const calls = serve({
      'POST /apps/a1/release-rehearsal': (c: Call) =>
        (c.body as { channel: string }).channel === 'early'
          ? rehearsal({ devices: 0, changing: 0 })
          : rehearsal({ confirmDevices: 9 }),
      'POST /apps/a1/releases': { app: detail, changes: ['c1'] },
    });
    const close = vi.fn();
    show(<ReleaseSheet detail={detail} version={version(2, '4.2')} onClose={close} />);
    const release = await screen.findByText('Release to 9 devices');
    expect((release as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/^Type 9/), { target: { value: '9' } });
    fireEvent.click(release);
    await waitFor(() => expect(close).toHaveBeenCalled());
    const sent = calls.find((c) => c.path === '/apps/a1/releases')!;
    expect(sent.body).toMatchObject({ code: 2, channel: 'all', confirmDevices: 9 });
    expect(sent.headers.get('If-Match')).toBe('"7"');
  });

  it('says when nobody follows the channel, and when it goes back', async () => {
    serve({ 'POST /apps/a1/release-rehearsal': rehearsal({ devices: 0, changing: 0 }) });
    show(
      <ReleaseSheet
        detail={{ ...detail, forAll: version(3, '4.3') }}
        version={version(2, '4.2')}
        onClose={vi.fn()}
      />,
    );
    expect(await screen.findByText(/No published assignment follows it/)).toBeTruthy();
    expect(screen.getByText(/this goes back/)).toBeTruthy();
  });
});

describe('an assignment', () => {
  it('is made with what the app is to whom, and goes on to its rehearsal', async () => {
    const calls = serve({
      'GET /units': [],
      'GET /groups': { items: [] },
      'GET /tags': { gallery: 12 },
      'POST /profiles': { id: 'p9' },
    });
    show(<AssignSheet app={detail.app} onClose={vi.fn()} />);
    fireEvent.click(screen.getByLabelText(/Offered/));
    expect((screen.getByText('Rehearse it') as HTMLButtonElement).disabled).toBe(true);
    fireEvent.focus(screen.getByLabelText('Goes to: find'));
    const everyone = await screen.findByRole('option', { name: /everyone/i });
    fireEvent.mouseDown(everyone);
    fireEvent.mouseUp(everyone);
    fireEvent.click(everyone);
    fireEvent.click(screen.getByText('Rehearse it'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toMatchObject({
      kind: 'app',
      app: 'a1',
      name: 'Rota, offered for everyone',
      settings: { 'apps[rota].presence': 'offered' },
    });
  });
});

const schema = {
  type: 'object',
  properties: {
    server: { type: 'string', title: 'Server' },
    every: { type: 'integer' },
    quiet: { type: 'boolean', title: 'Quiet' },
    tone: { enum: ['low', 'high'], title: 'Tone' },
    key: { type: 'string', title: 'Key', writeOnly: true },
  },
  required: ['server'],
};

describe('what an app is told', () => {
  it('is a form made from the schema of its version', () => {
    expect(fieldsOf(schema).map((f) => [f.name, f.kind, f.required, f.secret])).toEqual([
      ['server', 'text', true, false],
      ['every', 'whole', false, false],
      ['quiet', 'flag', false, false],
      ['tone', 'choice', false, false],
      ['key', 'text', false, true],
    ]);
    expect(told('[1]')).toBeUndefined();
    expect(saying('{"a":1}', 'a', '')).toBeUndefined();
    expect(saying('{"a":1}', 'b', true)).toBe('{"a":1,"b":true}');
  });

  it('keeps secrets apart, and says what fits the version no longer', () => {
    const set = vi.fn();
    const remove = vi.fn();
    show(
      <Configuration
        app={detail.app}
        schema={schema}
        settings={{
          'apps[rota].configuration': '{"server":"a","colour":"red"}',
          'apps[rota].secrets': '••••••••',
        }}
        onSet={set}
        onRemove={remove}
      />,
    );
    fireEvent.change(screen.getByLabelText('every, if wanted'), { target: { value: '5' } });
    expect(set).toHaveBeenLastCalledWith({
      'apps[rota].configuration': '{"server":"a","colour":"red","every":5}',
    });
    fireEvent.change(screen.getByLabelText('Key, if wanted'), { target: { value: 'word' } });
    expect(set).toHaveBeenLastCalledWith({ 'apps[rota].secrets': '{"key":"word"}' });
    expect(screen.getByText(/does not fit this version/)).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Take colour out'));
    expect(set).toHaveBeenLastCalledWith({ 'apps[rota].configuration': '{"server":"a"}' });
  });
});

describe('a package that comes in parts', () => {
  it('goes on where the line broke', async () => {
    let there = 0;
    let breaks = true;
    const calls = serve({
      'POST /uploads': { id: 'u1', bytes: 3_000_000, there: 0, mostPart: 8_388_608 },
      'GET /uploads/u1': () => ({ id: 'u1', bytes: 3_000_000, there, mostPart: 8_388_608 }),
      'POST /uploads/u1/parts': () => {
        if (there > 1_000_000 && breaks) {
          breaks = false;
          throw new TypeError('the line broke');
        }
        there = Math.min(3_000_000, there + (1 << 20));
        return { id: 'u1', bytes: 3_000_000, there, mostPart: 8_388_608 };
      },
      'POST /uploads/u1/package': {
        app: detail,
        version: version(1, '4.1'),
        before: false,
        newPermissions: [],
      },
    });
    const file = new File([new Uint8Array(3_000_000)], 'rota.pkg');
    const begun = {};
    const shares: number[] = [];
    await expect(bring(file, (s) => shares.push(s), begun)).rejects.toThrow('cannot be reached');
    const brought = await bring(file, (s) => shares.push(s), begun);
    expect(brought.version.version).toBe('4.1');
    expect(shares.at(-1)).toBe(1);
    expect(calls.filter((c) => c.path === '/uploads')).toHaveLength(1);
    expect(calls.filter((c) => c.path === '/uploads/u1/parts').map((c) => c.query.get('from'))).toEqual([
      '0',
      '1048576',
      '1048576',
      '2097152',
    ]);
  });
});

describe('what devices are behind with', () => {
  it('is pushed for one app or for all', async () => {
    const app = { id: 'a1', packageId: 'vellmar.rota', name: 'Rota', icon: false };
    const counts = { devices: 9, missing: 1, old: 2, underWay: 0, failing: 1 };
    const calls = serve({
      'GET /apps/behind': {
        items: [
          { ...app, ...counts },
          { ...app, ...counts, id: 'a2', name: 'Guide' },
        ],
      },
      'POST /apps/a1/push': { devices: 3 },
      'POST /apps/a2/push': { devices: 3 },
    });
    show(<BehindPage />);
    expect((await screen.findAllByRole('img', { name: '6 of 9 as they should be' })).length).toBe(2);
    fireEvent.click(screen.getByLabelText('Push Rota now'));
    await waitFor(() => expect(calls.filter((c) => c.method === 'POST')).toHaveLength(1));
    fireEvent.click(screen.getByText('Push all of them now'));
    await waitFor(() => expect(calls.filter((c) => c.method === 'POST')).toHaveLength(3));
  });
});

describe('a document', () => {
  it('is called in its kit by small letters and hyphens', () => {
    expect(entryOf('House rules, 2027!')).toBe('house-rules-2027');
    expect(entryOf('…')).toBe('document');
  });
});
