import { fireEvent, screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { describe, expect, it } from 'vitest';
import { serve, show, words } from '../testing/service';
import { BenchPage } from './BenchPage';
import { BenchSessionPage } from './BenchSessionPage';
import { EnrollmentEditor } from './EnrollmentEditor';
import { InviteMany } from './InviteMany';
import { PrivacyPage } from './PrivacyPage';
import { RegistrarPage } from './RegistrarPage';
import { TermsPage } from './TermsPage';

const catalogue = {
  ...words,
  platforms: [
    {
      key: 'tarn',
      name: 'Tarn',
      kinds: ['tablet'],
      modes: ['supervised'],
      versions: ['7.1', '7.2'],
      commands: [],
    },
  ],
  sections: [],
  settings: [
    { key: 'appearance.wallpaper', type: { kind: 'choice', choices: [{ key: 'quay', title: 'Quay' }] } },
  ],
  facts: [],
  commands: [],
  firstRun: [
    { key: 'network', title: 'Wi-Fi', text: 'Connect.', platforms: ['tarn'], always: true },
    { key: 'tour', title: 'A short tour', text: 'Look.', platforms: ['tarn'], always: false },
  ],
  languages: [
    { key: 'en', title: 'English' },
    { key: 'nb', title: 'Norwegian' },
  ],
};
const session = {
  ...{ id: 's1', name: 'Cart', profileId: 'p1', profile: 'Kiosks', namePattern: 'Cart {seq:3}' },
  ...{
    firstNumber: 1,
    assetPrefix: 'VM-',
    wifiName: '',
    erase: false,
    racks: 1,
    open: true,
    fault: 'The cable spoke of rack 3.',
    link: 'https://x',
  },
  ...{ devices: 2, prepared: 1, troubled: 1, missing: ['11'], doubled: [] },
  ...{ createdAt: '2026-03-01T08:00:00Z', createdBy: 'owner' },
};
const onBench = (slot: number, state: string, more: object = {}) => ({
  ...{ rack: 1, slot, pluggedIn: true, serial: `AR10-${slot}`, state, reason: '' },
  ...{ changedAt: '2026-03-01T08:00:00Z' },
  ...more,
});

describe('the editor of enrollment profiles', () => {
  it('writes first-run screens and the ready gate, and shows what the holder will see', async () => {
    const calls = serve({
      'GET /catalogue': catalogue,
      'GET /terms': [],
      'GET /groups': { items: [] },
      'GET /units': [],
      'GET /sites': { items: [] },
      'POST /enrollment-profiles/name-preview': [],
      'POST /enrollment-profiles/holder-preview': [
        { kind: 'code', title: 'Hello.', text: 'Scan the code.', lines: [] },
        { kind: 'home', title: 'Ready to use', text: 'Go.', lines: [] },
      ],
      'POST /enrollment-profiles': {},
    });
    show(<EnrollmentEditor onClose={() => {}} />);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Kiosks' } });
    expect(await screen.findByText('Hello.')).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Next screen'));
    expect(await screen.findByText('Ready to use')).toBeTruthy();
    fireEvent.click(screen.getByText('First use'));
    fireEvent.click(await screen.findByLabelText(/A short tour/));
    expect((screen.getByLabelText(/Wi-Fi/) as HTMLInputElement).disabled).toBe(true);
    fireEvent.click(screen.getByLabelText('Its settings are on it'));
    fireEvent.change(screen.getByLabelText(/Tarn has at least/), { target: { value: '7.2' } });
    fireEvent.click(screen.getByRole('button', { name: 'Write enrollment profile' }));
    await waitFor(() => expect(calls.some((c) => c.path === '/enrollment-profiles')).toBe(true));
    expect(calls.find((c) => c.path === '/enrollment-profiles')!.body).toMatchObject({
      name: 'Kiosks',
      firstRun: { skipped: ['tour'] },
      readyGate: { profiles: true, osVersions: { tarn: '7.2' } },
    });
  });
});

describe('inviting many', () => {
  it('is checked first, names who is left out, and then done', async () => {
    const calls = serve({
      'GET /enrollment-profiles': { items: [{ id: 'p1', name: 'Phones' }] },
      'GET /directory/groups': [],
      'GET /units': [{ id: 'u1', code: 'VM-VOL', name: 'Volunteers', depth: 0 }],
      'POST /invitations/many': (call: { body: unknown }) => ({
        saved: (call.body as { save: boolean }).save,
        invited: 33,
        leftOut: 1,
        rows: [{ line: 4, who: 'Teo', fault: 'has no mail address' }],
      }),
    });
    show(<InviteMany onClose={() => {}} />);
    await screen.findByText('Phones');
    fireEvent.change(screen.getByLabelText('Enrollment profile'), { target: { value: 'p1' } });
    await screen.findByText(/VM-VOL/);
    fireEvent.change(screen.getByLabelText(/Unit/), { target: { value: 'u1' } });
    expect((screen.getByText('Invite') as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByText('Check'));
    expect(await screen.findByText('has no mail address')).toBeTruthy();
    fireEvent.click(screen.getByText('Invite 33 people'));
    expect(await screen.findByText(/33 people are invited; the letters/)).toBeTruthy();
    expect(calls.filter((c) => c.method === 'POST').map((c) => c.body)).toEqual([
      { profileId: 'p1', unitId: 'u1', mail: true, expiresInMinutes: 10080, save: false },
      { profileId: 'p1', unitId: 'u1', mail: true, expiresInMinutes: 10080, save: true },
    ]);
  });
});

describe('the bench', () => {
  it('shows a big state for each slot and names missing numbers', async () => {
    const calls = serve({
      'GET /bench-sessions/s1': session,
      'GET /bench-sessions/s1/slots': [
        onBench(1, 'ready', { deviceId: 'd1', name: 'Cart 001', asset: 'VM-0001' }),
        onBench(3, 'refused', { reason: 'OS 6.3 is below 7.0' }),
        onBench(5, 'held', { serial: 'AR10-0005', reason: 'is managed as Quay door; it is erased when' }),
      ],
      'POST /bench-sessions/s1/devices/AR10-0005/erasure': {},
      'POST /bench-sessions/s1/close': {},
    });
    show(
      <Routes>
        <Route path="/intake/bench/:id" element={<BenchSessionPage />} />
      </Routes>,
      '/intake/bench/s1',
    );
    expect(await screen.findByText('Cart 001')).toBeTruthy();
    expect(screen.getByText('OS 6.3 is below 7.0')).toBeTruthy();
    expect(screen.getByText('Missing: number 11')).toBeTruthy();
    expect(screen.getAllByRole('listitem')).toHaveLength(16);
    expect(screen.getByRole('alert').textContent).toBe('The cable spoke of rack 3.');
    fireEvent.click(screen.getByText('Erase …'));
    expect(screen.getByText(/It is managed as Quay door/)).toBeTruthy();
    fireEvent.click(screen.getByText('Yes, erase …'));
    await waitFor(() => expect(calls.some((c) => c.path.endsWith('/AR10-0005/erasure'))).toBe(true));
    expect(screen.getByText('Sound off')).toBeTruthy();
    fireEvent.click(screen.getByText('Close session'));
    await waitFor(() => expect(calls.some((c) => c.path === '/bench-sessions/s1/close')).toBe(true));
  });

  it('is opened for profiles that ask no sign-in', async () => {
    const calls = serve({
      'GET /bench-sessions': { items: [] },
      'GET /enrollment-profiles': {
        items: [
          { id: 'p1', name: 'Kiosks', signIn: 'none', namePattern: 'K {seq:3}' },
          { id: 'p2', name: 'Phones', signIn: 'directory', namePattern: '{person}' },
        ],
      },
      'GET /groups': { items: [] },
      'GET /units': [],
      'GET /sites': { items: [] },
      'POST /enrollment-profiles/name-preview': [],
      'POST /bench-sessions': session,
    });
    const { address } = show(<BenchPage />, '/intake/bench?new=1');
    await screen.findByText('Kiosks');
    expect(screen.queryByText('Phones')).toBeNull();
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Cart' } });
    fireEvent.change(screen.getByLabelText(/Enrollment profile/), { target: { value: 'p1' } });
    fireEvent.change(screen.getByLabelText(/First number/), { target: { value: '40' } });
    fireEvent.click(screen.getByText('Open session'));
    await waitFor(() => expect(address.now).toBe('/intake/bench/s1'));
    expect(calls.find((c) => c.path === '/bench-sessions' && c.method === 'POST')!.body).toEqual({
      name: 'Cart',
      profileId: 'p1',
      firstNumber: 40,
      racks: 1,
    });
  });
});

describe('the registrar', () => {
  it('leads to connecting one when there is none', async () => {
    serve({ 'GET /gateways': [] });
    show(<RegistrarPage />, '/intake/registrar');
    expect(await screen.findByText('No registrar is connected.')).toBeTruthy();
  });

  const gateway = {
    platform: 'tarn',
    name: 'Tarn',
    registrar: { state: 'connected', registered: 2, assigned: 1, defaultProfileId: 'p1' },
  };
  const registered = (serial: string, more: object) => ({
    ...{ platform: 'tarn', serial, model: 'T10', kind: 'tablet', order: 'VM-2026-114' },
    ...{ registeredAt: '2026-03-01T08:00:00Z', assigned: false },
    ...more,
  });
  const service = {
    'GET /gateways': [gateway],
    'GET /enrollment-profiles/p1': { id: 'p1', name: 'Lighthouse kiosks' },
    'GET /enrollment-profiles': { items: [{ id: 'p1', name: 'Lighthouse kiosks', platforms: ['tarn'] }] },
    'GET /gateways/tarn/registrar/devices': {
      items: [
        registered('AR10-1', { assigned: true, deviceId: 'd1', deviceName: 'VM-LIG kiosk 001' }),
        registered('AR10-2', {}),
      ],
    },
    'POST /gateways/tarn/registrar/reading': { registered: 2, assigned: 1, listed: 0, withdrawn: 0 },
    'POST /gateways/tarn/registrar/assignment': { count: 1 },
  };

  it('says how many are assigned, how they join, and who has arrived', async () => {
    const calls = serve(service);
    show(<RegistrarPage />, '/intake/registrar');
    expect(await screen.findByText(/of 2 registered devices assigned here/)).toBeTruthy();
    expect(await screen.findByText('Lighthouse kiosks')).toBeTruthy();
    const arrived = await screen.findByText('VM-LIG kiosk 001');
    expect(arrived.getAttribute('href')).toBe('/devices?card=d1');
    fireEvent.click(screen.getByText('Read now'));
    await waitFor(() => expect(calls.some((c) => c.path.endsWith('/reading'))).toBe(true));
  });

  it('assigns what is picked, by its default or another profile', async () => {
    const calls = serve(service);
    show(<RegistrarPage />, '/intake/registrar');
    fireEvent.click(await screen.findByLabelText('Select AR10-2'));
    fireEvent.click(screen.getByText('Assign 1 here'));
    await screen.findByRole('option', { name: 'Lighthouse kiosks' });
    fireEvent.change(screen.getByLabelText('They join by'), { target: { value: 'p1' } });
    fireEvent.click(screen.getByText('Assign 1 device'));
    await waitFor(() => expect(calls.some((c) => c.path.endsWith('/assignment'))).toBe(true));
    expect(calls.find((c) => c.path.endsWith('/assignment'))!.body).toEqual({
      serials: ['AR10-2'],
      assign: true,
      profileId: 'p1',
    });
  });

  it('takes devices back, and says what becomes of them first', async () => {
    const calls = serve(service);
    show(<RegistrarPage />, '/intake/registrar');
    fireEvent.click(await screen.findByLabelText('Select AR10-1'));
    fireEvent.click(screen.getByText('Take 1 back'));
    expect(await screen.findByText(/stay as they are, until they are reset/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Take 1 device back' }));
    await waitFor(() => expect(calls.some((c) => c.path.endsWith('/assignment'))).toBe(true));
    expect(calls.find((c) => c.path.endsWith('/assignment'))!.body).toEqual({
      serials: ['AR10-1'],
      assign: false,
    });
  });
});

describe('privacy', () => {
  it('says what is seen and done for the ownership and mode chosen', async () => {
    const calls = serve({
      'GET /catalogue': catalogue,
      'GET /privacy': { visible: ['Model'], never: ['calls'], may: ['Lock'], mayNot: ['Restart'] },
    });
    show(<PrivacyPage />, '/intake/privacy');
    expect(await screen.findByText('calls')).toBeTruthy();
    fireEvent.click(await screen.findByText('corporate, supervised'));
    await waitFor(() => expect(calls.at(-1)!.query.get('mode')).toBe('supervised'));
    expect(calls.find((c) => c.path === '/privacy')!.query.get('ownership')).toBe('personal');
  });
});

describe('terms', () => {
  it('are written with their translations', async () => {
    const calls = serve({ 'GET /catalogue': catalogue, 'GET /terms': [], 'POST /terms': {} });
    show(<TermsPage />, '/intake/terms');
    await screen.findByText('English');
    fireEvent.change(screen.getByLabelText('Title'), { target: { value: 'Using it' } });
    fireEvent.change(screen.getByLabelText(/^Text/), { target: { value: 'Bring it back.' } });
    fireEvent.click(screen.getByText('Add a translation'));
    fireEvent.change(screen.getAllByLabelText('Title')[1], { target: { value: 'Bruk' } });
    fireEvent.change(screen.getAllByLabelText(/^Text/)[1], { target: { value: 'Lever den.' } });
    fireEvent.click(screen.getByText('Write version 1'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({
      language: 'en',
      title: 'Using it',
      text: 'Bring it back.',
      translations: [{ language: 'nb', title: 'Bruk', text: 'Lever den.' }],
    });
  });
});
