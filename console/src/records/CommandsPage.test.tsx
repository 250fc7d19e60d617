import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { CommandsPage } from './CommandsPage';

const locked = {
  ...{ id: 'x1-1', dispatchId: 'x1', deviceId: 'd1', device: 'Kiosk 003', command: 'lock', title: 'Lock' },
  ...{ state: 'failed', reason: 'the device said: not now', by: 'tova' },
  ...{ queuedAt: '2026-03-02T09:00:00Z', expiresAt: '2026-03-09T09:00:00Z' },
};

describe('commands over all devices', () => {
  it('say what was ordered to which, by whom, and how it ended, and lead on', async () => {
    serve({
      'GET /commands': { items: [locked] },
      'GET /catalogue': { commands: [{ key: 'lock', title: 'Lock' }] },
    });
    show(<CommandsPage />, '/records/commands?state=failed&command=lock&since=week');
    const device = await screen.findByText('Kiosk 003');
    expect(device.getAttribute('href')).toBe('/devices/d1');
    expect(screen.getByText('the device said: not now')).toBeTruthy();
    expect(screen.getByText('tova').getAttribute('href')).toBe('/records/commands?by=tova');
    expect(screen.getByRole('link', { name: 'Lock' }).getAttribute('href')).toBe('/records/dispatches/x1');
    const sheet = screen.getByText('Sheet').closest('a')!.getAttribute('href')!;
    expect(sheet).toContain('/api/v1/commands.csv?');
    expect(sheet).toContain('command=lock');
    expect(sheet).toMatch(/since=\d{4}-/);
  });

  it('are asked for as the address says, and no longer once that is taken away', async () => {
    const calls = serve({
      'GET /commands': { items: [] },
      'GET /catalogue': { commands: [{ key: 'lock', title: 'Lock' }] },
    });
    show(<CommandsPage />, '/records/commands?by=tova&q=kiosk');
    expect(await screen.findByText('No command is like that.')).toBeTruthy();
    const first = calls.find((c) => c.path === '/commands')!;
    expect(first.query.get('by')).toBe('tova');
    expect(first.query.get('q')).toBe('kiosk');
    fireEvent.click(screen.getByLabelText('Do not filter by Ordered by: tova'));
    await expect
      .poll(() =>
        calls
          .filter((c) => c.path === '/commands')
          .at(-1)!
          .query.get('by'),
      )
      .toBeNull();
  });
});
