import { fireEvent, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { MapChoice } from './MapChoice';
import { MapPage } from './MapPage';
import { OutlineEditor, type Corners } from './OutlineEditor';

const cluster = (name: string, away: boolean) => ({
  ...{
    latitude: 47.2,
    longitude: -20.4,
    devices: 1,
    deviceId: name,
    name,
    accuracy: 12,
    source: 'wifi',
    away,
  },
});
const extent = { south: 47.1, north: 47.3, west: -20.7, east: -20.1 };
const service = (role: string) => ({
  'GET /me': { account: { role } },
  'GET /sites': { items: [] },
  'GET /map': { version: 1, kind: 'none', address: '', layers: '', attribution: '', extent },
  'GET /map/away': {
    items: [
      {
        ...{ deviceId: 'Lantern', device: 'Lantern', site: 'Tollen point', now: 'Ulby' },
        ...{ latitude: 47.2, longitude: -20.4, at: '2026-03-02T09:00:00Z' },
      },
    ],
  },
  'GET /map/devices': { devices: 3, items: [cluster('Quay door', false), cluster('Lantern', true)] },
});

describe('the map', () => {
  it('asks for what is shown, and names first who is not at their site', async () => {
    const calls = serve(service('operator'));
    show(<MapPage />, '/devices/map');
    expect(await screen.findByText('1 not at their site')).toBeTruthy();
    expect(screen.getByText('at Ulby; never seen at Tollen point')).toBeTruthy();
    const asked = Object.fromEntries(calls.find((c) => c.path === '/map/devices')!.query);
    expect(Number(asked.south)).toBeLessThan(47.1);
    expect(Number(asked.east)).toBeGreaterThan(-20.1);
    expect(Number(asked.north) - Number(asked.south)).toBeLessThan(0.6);
    const names = screen.getAllByRole('link').map((l) => l.textContent!.replace(/at Ulby.*/, ''));
    expect(names).toEqual(['Lantern', 'Quay door']);
  });

  it('shows a reader nobody', async () => {
    const calls = serve(service('reader'));
    show(<MapPage />, '/devices/map');
    expect(await screen.findByText('Where devices are is for operators.')).toBeTruthy();
    expect(calls.some((c) => c.path === '/map/devices')).toBe(false);
  });

  it('is chosen, tiles with their address', async () => {
    const calls = serve({ ...service('owner'), 'PUT /map': {} });
    show(<MapChoice onClose={() => undefined} />);
    await waitFor(() => expect(calls.some((c) => c.path === '/map')).toBe(true));
    fireEvent.change(screen.getByLabelText('What is drawn'), { target: { value: 'xyz' } });
    fireEvent.change(screen.getByLabelText(/Address/), {
      target: { value: 'https://t.example/{z}/{x}/{y}' },
    });
    fireEvent.click(screen.getByText('Use this map'));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'PUT')?.body).toMatchObject({
        kind: 'xyz',
        address: 'https://t.example/{z}/{x}/{y}',
      }),
    );
  });
});

describe('the outline of a site', () => {
  it('gets a corner with each click, and loses the last', async () => {
    function Drawn() {
      const [outline, setOutline] = useState<Corners>([
        [1, 1],
        [2, 1],
      ]);
      return <OutlineEditor outline={outline} at={[1, 1]} onChange={setOutline} />;
    }
    serve(service('operator'));
    show(<Drawn />);
    expect(screen.getByText('2 corners; it takes three.')).toBeTruthy();
    fireEvent.click(screen.getByRole('region'), { clientX: 20, clientY: 20 });
    expect(await screen.findByText('3 corners; drag one to move it.')).toBeTruthy();
    fireEvent.click(screen.getByText('Take the last away'));
    expect(await screen.findByText('2 corners; it takes three.')).toBeTruthy();
  });
});
