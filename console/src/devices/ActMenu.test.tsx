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
});
