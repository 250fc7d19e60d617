import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { ActMenu } from './ActMenu';

const command = (key: string, title: string) => ({
  ...{ key, title, help: `${title} it.`, fields: [], reasonRequired: false, danger: 'none', cost: '' },
  ...{ holder: '', expiresInMinutes: 60, role: 'helpdesk', modes: [], ownerships: [] },
});

describe('what can be ordered to one device', () => {
  it('is greyed with the reason where it cannot be done', async () => {
    serve({
      'GET /catalogue': { commands: [command('ring', 'Ring'), command('locate', 'Locate')] },
      'GET /me': { account: { role: 'operator' } },
      'GET /devices/d1/cannot': { items: [{ command: 'locate', reason: 'never done on a personal device' }] },
      'POST /dispatches/rehearsal': { devices: 1, able: 1, unable: [], losses: [], demands: [] },
    });
    show(<ActMenu whom={{ devices: ['d1'], count: 1 }} name="this device" device="d1" />);
    fireEvent.click(screen.getByText('Act on this device'));
    const reason = await screen.findByText('never done on a personal device');
    expect(reason.closest('[role=menuitem]')?.getAttribute('aria-disabled')).toBe('true');
    expect(screen.getByText('Ring').closest('[role=menuitem]')?.getAttribute('aria-disabled')).toBeNull();
    fireEvent.click(reason);
    expect(screen.queryByRole('dialog')).toBeNull();
    fireEvent.click(screen.getByText('Ring'));
    expect(await screen.findByText('Ring: this device')).toBeTruthy();
  });

  it('leads to its name and to the apps it is to have', async () => {
    const app = { id: 'a1', key: 'rota', packageId: 'vellmar.rota', name: 'Rota', publisher: 'Trust' };
    const calls = serve({
      'GET /catalogue': { commands: [command('ring', 'Ring')] },
      'GET /me': { account: { role: 'operator' } },
      'GET /devices/d1/cannot': { items: [] },
      'GET /devices/d1': { device: { id: 'd1', name: 'Kiosk 003' } },
      'GET /apps': { items: [{ ...app, origin: 'package', platforms: [], hue: 3 }] },
      'POST /profiles': { id: 'p1' },
    });
    let renamed = false;
    show(
      <ActMenu
        whom={{ devices: ['d1'], count: 1 }}
        name="this device"
        device="d1"
        onRename={() => (renamed = true)}
      />,
    );
    fireEvent.click(screen.getByText('Act on this device'));
    fireEvent.click(await screen.findByText('Rename'));
    expect(renamed).toBe(true);
    fireEvent.click(screen.getByText('Act on this device'));
    fireEvent.click(await screen.findByText('Install or remove an app'));
    fireEvent.click(await screen.findByText('Rota'));
    expect(await screen.findByText('Assign Rota')).toBeTruthy();
    expect(screen.getAllByText(/Kiosk 003/).length).toBeGreaterThan(0);
    fireEvent.click(screen.getByText('Forbidden'));
    fireEvent.click(screen.getByText('Rehearse it'));
    await expect
      .poll(() => calls.find((c) => c.method === 'POST')?.body)
      .toMatchObject({
        app: 'a1',
        settings: { 'apps[rota].presence': 'forbidden' },
        targets: [{ kind: 'device', ref: 'd1' }],
      });
  });

  it('does not edit for those who may not', async () => {
    serve({
      'GET /catalogue': { commands: [command('ring', 'Ring')] },
      'GET /me': { account: { role: 'helpdesk' } },
      'GET /devices/d1/cannot': { items: [] },
    });
    show(<ActMenu whom={{ devices: ['d1'], count: 1 }} name="this device" device="d1" onRename={() => {}} />);
    fireEvent.click(screen.getByText('Act on this device'));
    await screen.findByText('Ring');
    expect(screen.queryByText('Rename')).toBeNull();
    expect(screen.queryByText('Install or remove an app')).toBeNull();
  });
});
