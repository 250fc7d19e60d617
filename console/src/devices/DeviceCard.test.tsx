import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { JournalPage } from '../records/JournalPage';
import { type Call, serve, show, words } from '../testing/service';
import { DeviceCard } from './DeviceCard';

const detail = {
  device: {
    id: 'd1',
    name: 'VM-HAR kiosk 003',
    platform: 'tarn',
    kind: 'tablet',
    maker: 'Arbor',
    model: 'T10',
    osVersion: '7.2.1',
    ownership: 'corporate',
    mode: 'supervised',
    serial: 'AR10-1032-3408',
    standing: 'blocked',
    standingReason: 'the device refused 1 setting',
    tags: ['gallery'],
    unit: 'VM-HAR',
    site: 'Norhaven quay',
    person: 'Ines Orrin',
    enrolledAt: '2026-03-01T08:00:00Z',
  },
  asset: 'VM-00132',
  enrollmentProfile: 'Gallery kiosks',
  unitId: 'u1',
  personId: 'p1',
  groups: [],
  facts: [
    { key: 'battery/level', title: 'Battery', unit: 'percent', value: '9', words: '9 %' },
    { key: 'security/encrypted', title: 'Encrypted', unit: '', value: 'true', words: 'yes' },
  ],
  upToDate: false,
  refused: [{ setting: 's', title: 'Brightness', code: 406, reason: 'not supported', at: '' }],
};
const service = {
  'GET /devices/d1': detail,
  'GET /catalogue': { ...words, platforms: [], commands: [] },
  'GET /units': [{ id: 'u1', version: 0, code: 'VM-HAR', name: 'Harbour', depth: 0, devices: 0, people: 0 }],
  'GET /sites': { items: [] },
  'GET /devices/d1/settings': {
    inEffect: [
      {
        setting: 'passcode.min-length',
        title: 'Least length',
        section: 'passcode',
        value: 6,
        words: '6 characters',
        from: [{ profileId: 'a', profile: 'Baseline', version: 1 }],
        overruled: [
          {
            from: { profileId: 'b', profile: 'Easy', version: 2 },
            value: 4,
            words: '4 characters',
            reason: 'the stricter wins',
          },
        ],
      },
    ],
    unavailable: [],
  },
  'GET /devices/d1/activity': {
    items: [{ id: 1, at: '2026-03-01T08:00:00Z', kind: 'joined', text: 'Joined' }],
  },
  'PUT /devices/d1/place': detail,
  'POST /devices/d1/retirement': {},
};

describe('the card of a device', () => {
  it('says where it belongs, who holds it and what it refused', async () => {
    serve(service);
    show(<DeviceCard id="d1" />);
    expect(await screen.findByText('VM-HAR, Norhaven quay')).toBeTruthy();
    expect(screen.getByText('Ines Orrin')).toBeTruthy();
    expect(screen.getByText('VM-00132')).toBeTruthy();
    expect(screen.getByText('Refused Brightness: not supported.')).toBeTruthy();
    expect(screen.getByTestId('standing').textContent).toContain('the device refused 1 setting');
  });

  it('tells where a value comes from and what it overruled', async () => {
    serve(service);
    show(<DeviceCard id="d1" />);
    fireEvent.click(await screen.findByRole('tab', { name: 'Settings' }));
    expect((await screen.findByText('Baseline')).getAttribute('href')).toBe('/rules/profiles/a');
    expect(screen.getByText('over Easy (4 characters): the stricter wins')).toBeTruthy();
    fireEvent.click(screen.getByRole('tab', { name: 'Activity' }));
    expect(await screen.findByText('Joined')).toBeTruthy();
  });

  it('tells what would be others if it were in a group', async () => {
    const one = service['GET /devices/d1/settings'].inEffect[0]!;
    serve({
      ...service,
      'GET /groups': { items: [{ id: 'g1', name: 'Staff phones', devices: 27 }] },
      'GET /tags': {},
      'GET /devices/d1/settings': (call: Call) =>
        call.query.getAll('inGroup').includes('g1')
          ? { inEffect: [{ ...one, value: 8, words: '8 characters' }], unavailable: [] }
          : service['GET /devices/d1/settings'],
    });
    show(<DeviceCard id="d1" />);
    fireEvent.click(await screen.findByRole('tab', { name: 'Settings' }));
    const field = await screen.findByRole('combobox', { name: /What if it were in/ });
    fireEvent.focus(field);
    fireEvent.change(field, { target: { value: 'staff' } });
    await screen.findByRole('option', { name: /Staff phones/ });
    fireEvent.keyDown(field, { key: 'Enter' });
    expect(await screen.findByText('1 setting would be different:')).toBeTruthy();
    expect(screen.getByText('8 characters')).toBeTruthy();
    expect(screen.getByText('now 6 characters')).toBeTruthy();
  });

  it('places it, keeping what was not touched', async () => {
    const calls = serve(service);
    show(<DeviceCard id="d1" />);
    fireEvent.click(await screen.findByText('Place'));
    await screen.findByRole('option', { name: 'VM-HAR Harbour' });
    fireEvent.change(screen.getByLabelText(/^Unit/), { target: { value: '' } });
    fireEvent.click(screen.getByText('Place 1 device'));
    await waitFor(() => expect(calls.some((c) => c.method === 'PUT')).toBe(true));
    expect(calls.find((c) => c.method === 'PUT')!.body).toEqual({ personId: 'p1' });
  });

  it('retires it only with a reason', async () => {
    const calls = serve(service);
    show(<DeviceCard id="d1" onClose={vi.fn()} />);
    fireEvent.click(await screen.findByText('Retire'));
    const button = screen.getByText('Retire 1 device') as HTMLButtonElement;
    expect(button.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Reason'), { target: { value: 'fell off its stand' } });
    fireEvent.click(button);
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({ reason: 'fell off its stand' });
  });
});

describe('a device that is replaced', () => {
  it('goes for one that was found by its words, with a reason', async () => {
    const calls = serve({
      ...service,
      'GET /search': [
        { kind: 'device', id: 'd1', name: 'VM-HAR kiosk 003', detail: 'T10, AR10-1032-3408' },
        { kind: 'device', id: 'd2', name: 'T10', detail: 'T10, AR10-7777' },
        { kind: 'device', id: 'd3', name: 'T10 (2)', detail: 'T10, AR10-8888, retired' },
      ],
      'POST /devices/d1/replacement': {},
    });
    show(<DeviceCard id="d1" onClose={vi.fn()} />);
    fireEvent.click(await screen.findByText('Replace'));
    fireEvent.change(screen.getByLabelText(/^By/), { target: { value: 'AR10' } });
    fireEvent.click(await screen.findByText('T10, AR10-7777'));
    expect(screen.queryByText('T10, AR10-8888, retired')).toBeNull();
    fireEvent.change(screen.getByLabelText('Reason'), { target: { value: 'broken screen' } });
    fireEvent.click(screen.getByText('Replace it by T10'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({ by: 'd2', reason: 'broken screen' });
  });
});

describe('the journal', () => {
  const entry = {
    number: 7,
    at: '2026-03-01T08:00:00Z',
    actor: 'device:d1',
    who: 'VM-HAR kiosk 003',
    action: 'device.joined',
    subject: 'device:d1',
    summary: 'joined by Gallery kiosks',
    previous: 'a',
    hash: 'b'.repeat(64),
  };

  it('names who did it and says whether the chain holds', async () => {
    serve({
      'GET /journal': { items: [entry] },
      'GET /journal/verification': { intact: false, entries: 9, firstBroken: 4 },
    });
    show(<JournalPage />, '/records/journal');
    expect(await screen.findByText('VM-HAR kiosk 003')).toBeTruthy();
    fireEvent.click(screen.getByText('Verify the chain'));
    expect(
      await screen.findByText('The chain is broken at entry 4: it was changed, or is gone.'),
    ).toBeTruthy();
  });
});
