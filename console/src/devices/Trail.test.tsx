import { fireEvent, screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show, type Call } from '../testing/service';
import { metres, siteNear, Trail } from './Trail';

const DEVICE = { id: 'd1', name: 'Dig 02' } as Schemas['DeviceSummary'];
const ME = { account: { id: 'a1', login: 'owner', name: 'Owner', role: 'owner' } };
const LAKE = {
  id: 's1',
  version: 1,
  name: 'Lake Orre',
  address: '',
  outline: [],
  latitude: 47.1985,
  longitude: -20.589,
  devices: 6,
} as Schemas['Site'];
const POINTS: Schemas['Position'][] = [
  { at: '2026-03-02T09:30:00Z', latitude: 47.1986, longitude: -20.5891, accuracy: 6.4, source: 'satellite' },
  { at: '2026-03-01T22:00:00Z', latitude: 47.25, longitude: -20.4, source: 'network' },
];

describe('a trail', () => {
  it('is measured on the ground', () => {
    expect(metres({ lat: 0, lon: 0 }, { lat: 0, lon: 1 })).toBeCloseTo(111_195, 0);
    expect(metres({ lat: 60, lon: 0 }, { lat: 60, lon: 1 })).toBeCloseTo(55_597, 0);
    expect(siteNear(POINTS[0]!, [LAKE])).toBe('Lake Orre');
    expect(siteNear(POINTS[1]!, [LAKE])).toBeUndefined();
  });

  it('is not spoken of where none is kept', async () => {
    const calls = serve({
      'GET /me': ME,
      'GET /devices/d1/trail': { personal: true, points: 0 },
    });
    show(<Trail device={DEVICE} />);
    await expect.poll(() => calls.some((c) => c.path.endsWith('/trail'))).toBe(true);
    expect(screen.queryByLabelText('Trail')).toBeNull();
  });

  it('is looked at once it is asked for, and told day by day', async () => {
    const calls = serve({
      'GET /me': ME,
      'GET /map': { kind: 'none', version: 1, attribution: '' },
      'GET /sites': { items: [LAKE] },
      'GET /devices/d1/trail': { personal: false, points: 2, first: POINTS[1]!.at, last: POINTS[0]!.at },
      'POST /devices/d1/trail': { items: POINTS },
    });
    show(<Trail device={DEVICE} />);
    fireEvent.click(await screen.findByText('Look at the trail'));
    const points = await screen.findByLabelText('Points');
    expect(await within(points).findByText('± 6 m')).toBeTruthy();
    expect((await within(points).findAllByText('Lake Orre')).length).toBe(2);
    expect(within(points).queryByText('47.2500, -20.4000')).toBeNull();
    fireEvent.click(within(points).getAllByRole('button').at(-1)!);
    expect(within(points).getByText('47.2500, -20.4000')).toBeTruthy();
    expect(screen.getByRole('region', { name: 'Way of Dig 02' })).toBeTruthy();
    expect(calls.filter((c) => c.method === 'POST').map((c) => c.body)).toEqual([{ limit: 10_000 }]);
    fireEvent.change(screen.getByLabelText('From'), { target: { value: '2026-03-02' } });
    await expect
      .poll(() => calls.filter((c) => c.method === 'POST').at(-1)!.body)
      .toMatchObject({ from: expect.stringMatching(/^2026-03-0[12]T/), limit: 10_000 });
    const gpx = () => screen.getByText('GPX').closest('a')!.getAttribute('href');
    await expect.poll(gpx).toMatch(/^\/api\/v1\/devices\/d1\/trail\.gpx\?from=2026-03-0[12]T/);
  });

  it('goes on where a page did not hold all of it', async () => {
    const calls = serve({
      'GET /me': ME,
      'GET /map': { kind: 'none', version: 1, attribution: '' },
      'GET /sites': { items: [] },
      'GET /devices/d1/trail': { personal: false, points: 2, first: POINTS[1]!.at, last: POINTS[0]!.at },
      'POST /devices/d1/trail': (call: Call) =>
        (call.body as { after?: string }).after ? { items: [POINTS[1]] } : { items: [POINTS[0]], next: 'c1' },
    });
    show(<Trail device={DEVICE} />);
    fireEvent.click(await screen.findByText('Look at the trail'));
    const slider = (await screen.findByLabelText('Moment')) as HTMLInputElement;
    expect(slider.max).toBe('1');
    expect(calls.filter((c) => c.method === 'POST').map((c) => c.body)).toEqual([
      { limit: 10_000 },
      { limit: 10_000, after: 'c1' },
    ]);
  });
});
