import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show, words } from '../testing/service';
import { DevicesPage } from './DevicesPage';

const device = (n: number, more: object = {}) => ({
  id: `d${n}`,
  name: `HAR ${n}`,
  platform: 'tarn',
  kind: 'tablet',
  maker: 'Arbor',
  model: 'T10',
  osVersion: '7.2.1',
  ownership: 'corporate',
  mode: 'supervised',
  standing: 'settled',
  standingReason: '',
  tags: ['gallery'],
  attributes: {},
  enrolledAt: '2026-03-01T08:00:00Z',
  ...more,
});
const refresh = {
  key: 'refresh',
  title: 'Refresh',
  help: 'Reads it now.',
  reasonRequired: false,
  fields: [],
};
const service = {
  'GET /catalogue': { ...words, platforms: [{ key: 'tarn', name: 'Tarn' }], commands: [refresh] },
  'GET /tags': { gallery: 2 },
  'GET /units': [],
  'GET /attributes': [],
  'GET /groups': { items: [{ id: 'g1', name: 'Glasshouse' }] },
  'GET /fleet': { total: 40, online: 39, byStanding: {}, byPlatform: {} },
  'GET /devices/count': { count: 40 },
  'GET /devices': { items: [device(1), device(2, { battery: 64, storageFree: 21e9, serial: 'AR10-2' })] },
  'POST /dispatches/rehearsal': { devices: 39, able: 39, unable: [], losses: [], demands: [] },
  'POST /dispatches': {},
};

describe('the list of devices', () => {
  it('asks the service for what its address says', async () => {
    const calls = serve(service);
    show(<DevicesPage />, '/devices?q=har&standing=blocked&group=g1&sort=last-seen');
    await screen.findByText('HAR 1');
    const query = Object.fromEntries(calls.find((c) => c.path === '/devices')!.query);
    expect(query).toMatchObject({ q: 'har', standing: 'blocked', group: 'g1', sort: 'last-seen' });
    expect(screen.getByText('Standing: blocked')).toBeTruthy();
    expect(screen.getByRole('columnheader', { name: 'Last seen' }).ariaSort).toBe('descending');
    fireEvent.click(screen.getByText('Filter'));
    expect(((await screen.findByLabelText('Standing')) as HTMLSelectElement).value).toBe('blocked');
    expect(await screen.findByText('40 managed, 39 connected now')).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Sheet' }).getAttribute('href')).toBe(
      '/api/v1/organisation/devices.csv?q=har&standing=blocked&group=g1',
    );
  });

  it('shows what is known of a device and a dash for what is not', async () => {
    serve(service);
    show(<DevicesPage />, '/devices');
    const row = (await screen.findByText('HAR 2')).closest('tr')!;
    expect(within(row).getByText('64 %')).toBeTruthy();
    expect(within(row).getByText('21.0 GB')).toBeTruthy();
    expect(within(row).getByText('AR10-2')).toBeTruthy();
    const first = screen.getByText('HAR 1').closest('tr')!;
    expect(within(first).getAllByText('–').length).toBeGreaterThanOrEqual(3);
  });

  it('orders for all that match but those unticked, without naming each', async () => {
    const calls = serve(service);
    show(<DevicesPage />, '/devices?tag=gallery&sort=enrolled');
    await screen.findByText('HAR 1');
    fireEvent.click(screen.getByLabelText('Select all that match'));
    await screen.findByText('All 40 that match are selected');
    fireEvent.click(screen.getByLabelText('Select HAR 2'));
    fireEvent.click(await screen.findByText('Act on 39 devices'));
    fireEvent.click(await screen.findByText('Refresh'));
    await screen.findByText(/can carry it out/);
    fireEvent.click(screen.getByRole('button', { name: /^Refresh \d+ devices$/ }));
    await waitFor(() => expect(calls.some((c) => c.path === '/dispatches')).toBe(true));
    const order = calls.find((c) => c.path === '/dispatches')!.body as { matching: object; targets?: [] };
    expect(order.matching).toEqual({ tag: 'gallery', except: ['d2'] });
    expect(order.targets).toBeUndefined();
  });

  it('has a column for each attribute, and filters and orders by them', async () => {
    const mount = { id: 'a1', name: 'Mount', kind: 'device', type: 'choice', choices: ['wall'], used: 1 };
    const calls = serve({
      ...service,
      'GET /attributes': [mount, { ...mount, id: 'a2', name: 'Keys', kind: 'person' }],
      'GET /devices': { items: [device(1, { attributes: { Mount: 'wall' } }), device(2)] },
    });
    show(<DevicesPage />, '/devices?attribute=Mount%3Dwall');
    const row = (await screen.findByText('HAR 1')).closest('tr')!;
    expect(await screen.findByText('Mount is wall')).toBeTruthy();
    expect(within(row).getByText('wall')).toBeTruthy();
    expect(screen.queryByText('Keys')).toBeNull();
    expect(calls.find((c) => c.path === '/devices')!.query.getAll('attribute')).toEqual(['Mount=wall']);
    fireEvent.click(screen.getByLabelText('Select all that match'));
    fireEvent.click(await screen.findByText('Act on 40 devices'));
    fireEvent.click(await screen.findByText('Refresh'));
    await screen.findByText(/can carry it out/);
    fireEvent.click(screen.getByRole('button', { name: /^Refresh \d+ devices$/ }));
    await waitFor(() => expect(calls.some((c) => c.path === '/dispatches')).toBe(true));
    const order = calls.find((c) => c.path === '/dispatches')!.body as { matching: object };
    expect(order.matching).toEqual({ attributes: ['Mount=wall'], except: [] });
  });

  it('offers the first step when no device has joined, and says so when none matches', async () => {
    serve({ ...service, 'GET /devices': { items: [] } });
    const none = show(<DevicesPage />, '/devices');
    expect((await screen.findByText('Invite the first one')).getAttribute('href')).toBe(
      '/intake/invitations?new=1',
    );
    none.unmount();
    show(<DevicesPage />, '/devices?q=nobody');
    expect(await screen.findByText('No device matches.')).toBeTruthy();
  });
});
