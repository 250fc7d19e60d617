import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { OrderSheet } from './OrderSheet';
import { complete, daysOf, DAYS, zone } from './Repeating';
import { StandingOrdersPage } from './StandingOrdersPage';

const restart = {
  ...{ key: 'restart', title: 'Restart', help: '', fields: [], reasonRequired: false, danger: 'disturbs' },
  ...{ cost: '', holder: '', expiresInMinutes: 60, role: 'helpdesk', modes: [], ownerships: [] },
} as never;
const preview = { devices: 1, able: 1, unable: [], named: [], losses: [], demands: [] };

describe('a command that repeats', () => {
  it('is kept with its days, its time and the zone of whoever orders it', async () => {
    const calls = serve({ 'POST /dispatches/rehearsal': preview, 'POST /standing-orders': {} });
    show(
      <OrderSheet
        spec={restart}
        whom={{ devices: ['d1'], count: 1 }}
        called="this device"
        onClose={() => undefined}
      />,
    );
    await screen.findByText(/can carry it out/);
    fireEvent.click(screen.getByText('Again and again, every week'));
    expect(screen.queryByText('When')).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'sunday' }));
    fireEvent.change(screen.getByLabelText(/^At/), { target: { value: '03:30' } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep it: Restart 1 device' }));
    await waitFor(() => expect(calls.some((c) => c.path === '/standing-orders')).toBe(true));
    expect(calls.find((c) => c.path === '/standing-orders')!.body).toMatchObject({
      name: 'Restart',
      days: ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday'],
      time: '03:30',
      zone: zone(),
      order: { command: 'restart', targets: [{ kind: 'device', ref: 'd1' }] },
    });
    expect(calls.some((c) => c.path === '/dispatches')).toBe(false);
  });

  it('says its days in a word, and is complete with a name, a day and a time', () => {
    expect(daysOf(DAYS.map(([d]) => d))).toBe('every day');
    expect(daysOf(['thursday', 'monday'])).toBe('Mo, Th');
    expect(complete({ name: 'x', days: ['monday'], time: '02:00' })).toBe(true);
    expect(complete({ name: ' ', days: ['monday'], time: '02:00' })).toBe(false);
    expect(complete({ name: 'x', days: [], time: '02:00' })).toBe(false);
  });

  it('is listed with when it is next and why it failed, and deleted', async () => {
    const order = {
      ...{ id: 's1', version: 4, name: 'Nightly', command: 'restart', title: 'Restart', whom: '36 devices' },
      ...{ days: ['monday'], time: '02:30', zone: 'UTC', minutes: 120, paused: false, madeBy: 'ada' },
      ...{ nextAt: '2030-03-02T02:30:00Z', lastAt: '2026-03-02T02:30:00Z', fault: 'This reaches no device.' },
    };
    const calls = serve({
      'GET /me': { account: { role: 'operator' } },
      'GET /standing-orders': { items: [order] },
      'DELETE /standing-orders/s1': {},
    });
    show(<StandingOrdersPage />);
    expect(await screen.findByText('This reaches no device.')).toBeTruthy();
    expect(screen.getByText('Mo at 02:30')).toBeTruthy();
    fireEvent.click(await screen.findByLabelText('Delete Nightly'));
    await waitFor(() => expect(calls.some((c) => c.method === 'DELETE')).toBe(true));
    expect(calls.find((c) => c.method === 'DELETE')!.headers.get('If-Match')).toBe('"4"');
  });
});
