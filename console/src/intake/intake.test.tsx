import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show, type Call, words } from '../testing/service';
import { ArrivalsPage } from './ArrivalsPage';
import { EnrollmentProfilesPage } from './EnrollmentProfilesPage';
import { InvitationsPage } from './InvitationsPage';

const arrival = (n: number, outcome: string, reason: string) => ({
  id: `a${n}`,
  platform: 'tarn',
  model: 'T10',
  identifier: `AR10-${n}`,
  profile: 'Kiosks',
  step: 'asked',
  outcome,
  reason,
  startedAt: '2026-03-01T08:00:00Z',
  changedAt: '2026-03-01T08:00:00Z',
});

const funnel = {
  asked: 10,
  letIn: 6,
  managed: 5,
  waiting: 1,
  refused: 3,
  abandoned: 0,
  refusals: { 'os-too-old': 3 },
};

describe('arrivals', () => {
  it('that wait are let in or refused from the list, the others say why', async () => {
    const calls = serve({
      'GET /arrivals/funnel': funnel,
      'GET /arrivals': {
        items: [arrival(1, 'waiting', 'waits for somebody'), arrival(2, 'refused', 'OS 6.3 is below 7.0')],
      },
      'POST /arrivals/a1/approval': {},
    });
    show(<ArrivalsPage />, '/intake/arrivals');
    expect(await screen.findByText('OS 6.3 is below 7.0')).toBeTruthy();
    expect(screen.getAllByText('Let in')).toHaveLength(1);
    fireEvent.click(screen.getByText('Let in'));
    await waitFor(() => expect(calls.some((c) => c.path === '/arrivals/a1/approval')).toBe(true));
  });

  it('are filtered by outcome and words in the address', async () => {
    const calls = serve({ 'GET /arrivals': { items: [] }, 'GET /arrivals/funnel': funnel });
    const { address } = show(<ArrivalsPage />, '/intake/arrivals');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText('Outcome'), { target: { value: 'refused' } });
    fireEvent.change(screen.getByLabelText('Words'), { target: { value: 'ar10' } });
    expect(address.now).toBe('/intake/arrivals?outcome=refused&q=ar10');
    const last = () => calls.filter((c) => c.path === '/arrivals').at(-1)!.query;
    await waitFor(() => expect(last().get('q')).toBe('ar10'));
    expect(last().get('outcome')).toBe('refused');
    expect(await screen.findByText('No arrival is refused.')).toBeTruthy();
  });

  it('of today are asked for since midnight', async () => {
    const calls = serve({ 'GET /arrivals': { items: [] }, 'GET /arrivals/funnel': funnel });
    show(<ArrivalsPage />, '/intake/arrivals?since=today');
    await waitFor(() => expect(calls.some((c) => c.path === '/arrivals')).toBe(true));
    const since = new Date(calls.find((c) => c.path === '/arrivals')!.query.get('since')!);
    expect([since.getHours(), since.getMinutes(), since.toDateString()]).toEqual([
      0,
      0,
      new Date().toDateString(),
    ]);
  });

  it('that wait are let in together, and the funnel tells where the others stopped', async () => {
    const calls = serve({
      'GET /arrivals': { items: [arrival(1, 'waiting', 'waits'), arrival(2, 'waiting', 'waits')] },
      'GET /arrivals/funnel': funnel,
      'POST /arrivals/settlement': { count: 2 },
    });
    show(<ArrivalsPage />, '/intake/arrivals');
    fireEvent.click(await screen.findByLabelText('Select AR10-1'));
    fireEvent.click(screen.getByLabelText('Select AR10-2'));
    fireEvent.click(screen.getByText('Let in 2'));
    await waitFor(() => expect(calls.some((c) => c.path === '/arrivals/settlement')).toBe(true));
    expect(calls.find((c) => c.path === '/arrivals/settlement')!.body).toEqual({
      ids: ['a1', 'a2'],
      approve: true,
    });
    expect(screen.getByRole('group', { name: 'How far arrivals came' }).textContent).toContain(
      '3 os too old',
    );
  });

  it('say what the service refused', async () => {
    serve({
      'GET /arrivals/funnel': funnel,
      'GET /arrivals': { items: [arrival(1, 'waiting', 'waits')] },
      'POST /arrivals/a1/refusal': new Refusal(409, 'settled-already', 'Somebody let it in meanwhile.'),
    });
    show(<ArrivalsPage />, '/intake/arrivals');
    fireEvent.click(await screen.findByText('Refuse'));
    expect((await screen.findByRole('alert')).textContent).toBe('Somebody let it in meanwhile.');
  });
});

const invitation = {
  id: 'i1',
  profileId: 'p1',
  profile: 'Kiosks',
  code: 'ABCD-EFGH-JKMN',
  link: 'https://127.0.0.1:7443/join/ABCDEFGHJKMN#FP',
  note: 'Glasshouse cart',
  state: 'open',
  uses: 3,
  usesAllowed: 22,
  expiresAt: '2026-04-01T08:00:00Z',
  createdAt: '2026-03-01T08:00:00Z',
  createdBy: 'owner',
};

describe('invitations', () => {
  it('are made for a profile and shown with code and QR at once', async () => {
    const calls = serve({
      'GET /invitations': { items: [] },
      'GET /invitations/i1': invitation,
      'GET /enrollment-profiles': { items: [{ id: 'p1', name: 'Kiosks' }] },
      'POST /invitations': invitation,
    });
    const { address } = show(<InvitationsPage />, '/intake/invitations?new=1');
    await screen.findByRole('option', { name: 'Kiosks' });
    fireEvent.change(screen.getByLabelText('Enrollment profile'), { target: { value: 'p1' } });
    fireEvent.change(screen.getByLabelText('How many devices may use it'), { target: { value: '22' } });
    fireEvent.click(screen.getByText('Make invitation'));
    await waitFor(() => expect(address.now).toBe('/intake/invitations?card=i1'));
    expect((await screen.findByTestId('code')).textContent).toBe('ABCD-EFGH-JKMN');
    expect(screen.getByAltText('QR code of the join link').getAttribute('src')).toBe(
      '/api/v1/invitations/i1/qr.svg',
    );
    const made = calls.find((c: Call) => c.method === 'POST')!.body;
    expect(made).toMatchObject({ profileId: 'p1', uses: 22, expiresInMinutes: 7 * 24 * 60 });
  });

  it('send to the enrollment profiles when there is none to invite to', async () => {
    serve({ 'GET /invitations': { items: [] }, 'GET /enrollment-profiles': { items: [] } });
    show(<InvitationsPage />, '/intake/invitations?new=1');
    expect((await screen.findByText('write an enrollment profile')).getAttribute('href')).toBe(
      '/intake/profiles?new=1',
    );
  });
});

describe('enrollment profiles', () => {
  const service = {
    'GET /enrollment-profiles': { items: [] },
    'GET /terms': [{ version: 2, title: 'Using a device', text: '', createdAt: '' }],
    'GET /groups': { items: [] },
    'GET /units': [],
    'GET /sites': { items: [] },
    'POST /enrollment-profiles/name-preview': [{ device: 'AR10-1 T10', name: 'T10 AR10-1' }],
    'GET /catalogue': {
      ...words,
      platforms: [
        { key: 'tarn', name: 'Tarn', modes: ['supervised', 'standard', 'work-profile'] },
        { key: 'moor', name: 'Moor', modes: ['supervised'] },
      ],
    },
  };

  it('of personal devices know one mode', async () => {
    serve(service);
    show(<EnrollmentProfilesPage />, '/intake/profiles?new=1');
    await screen.findByText('Moor');
    fireEvent.change(screen.getByLabelText('Ownership'), { target: { value: 'personal' } });
    const mode = screen.getByLabelText(/Management mode/) as HTMLSelectElement;
    expect(mode.value).toBe('work-profile');
    expect(mode.disabled).toBe(true);
    expect(screen.queryByText('Moor')).toBeNull();
  });

  it('keep what was written when the service refuses', async () => {
    serve({
      ...service,
      'POST /enrollment-profiles': new Refusal(409, 'name-taken', 'There is one called Kiosks already.'),
    });
    show(<EnrollmentProfilesPage />, '/intake/profiles?new=1');
    fireEvent.change(await screen.findByLabelText('Name'), { target: { value: 'Kiosks' } });
    fireEvent.click(screen.getAllByText('Write enrollment profile').at(-1)!);
    expect((await screen.findByRole('alert')).textContent).toContain('called Kiosks already');
    expect((screen.getByLabelText('Name') as HTMLInputElement).value).toBe('Kiosks');
  });

  it('are compared with what they said earlier, which can be put back', async () => {
    const now = {
      id: 'p1',
      version: 4,
      name: 'Kiosks',
      ownership: 'corporate',
      mode: 'supervised',
      platforms: ['tarn'],
      kinds: [],
      signIn: 'none',
      minimumOs: {},
      approval: true,
      rosterOnly: false,
      namePattern: 'Kiosk {seq:3}',
      fillGaps: false,
      groups: [],
      tags: ['gallery'],
      removable: false,
      comesBack: true,
      invitations: 1,
      identifiers: 0,
      devices: 2,
    };
    const then = { ...now, version: 1, approval: false, tags: ['gallery', 'quay'] };
    const calls = serve({
      ...service,
      'GET /enrollment-profiles/p1': now,
      'GET /enrollment-profiles/p1/uses': [],
      'GET /enrollment-profiles/p1/versions': {
        items: [
          { number: 2, content: now, writtenAt: '2026-03-02T08:00:00Z', writtenBy: 'tova' },
          { number: 1, content: then, writtenAt: '2026-03-01T08:00:00Z', writtenBy: 'owner' },
        ],
      },
      'PUT /enrollment-profiles/p1': now,
    });
    show(<EnrollmentProfilesPage />, '/intake/profiles?card=p1');
    fireEvent.click(await screen.findByRole('tab', { name: 'Uses and versions' }));
    expect((await screen.findByText('version 2')).closest('button')!.textContent).toContain('as now');
    fireEvent.click(screen.getByText('version 1'));
    expect(screen.getByText('gallery, quay').tagName).toBe('INS');
    fireEvent.click(screen.getByText('Put these 2 back into the form'));
    await waitFor(() =>
      expect(screen.getByText('version 1').closest('button')!.textContent).toContain('as now'),
    );
    fireEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(calls.some((c) => c.method === 'PUT')).toBe(true));
    const put = calls.find((c) => c.method === 'PUT')!;
    expect(put.headers.get('If-Match')).toBe('"4"');
    expect(put.body).toMatchObject({ approval: false, tags: ['gallery', 'quay'], name: 'Kiosks' });
  });
});
