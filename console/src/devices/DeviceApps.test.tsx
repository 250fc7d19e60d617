import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { DeviceApps } from './DeviceApps';

describe('the apps of a device', () => {
  it('are those assigned to it and those that are there besides', async () => {
    serve({
      'GET /devices/d1/apps': {
        told: true,
        apps: [
          {
            ...{
              packageId: 'vellmar.rota',
              name: 'Rota',
              presence: 'required',
              wanted: '4.2',
              version: '4.1',
            },
            ...{ managed: true, size: 0, source: 'pinwright', state: 'failing', reason: 'there is no room' },
          },
          {
            ...{ packageId: 'holder.game', name: 'A game', version: '1', managed: false, size: 9_000_000 },
            ...{ source: 'store', state: 'not-assigned' },
          },
        ],
      },
    });
    show(<DeviceApps id="d1" />);
    expect(await screen.findByText('4.1, 4.2 wanted')).toBeTruthy();
    expect(screen.getByText('there is no room')).toBeTruthy();
    expect(screen.getByText('There besides')).toBeTruthy();
  });

  it('are not known before it told them', async () => {
    serve({ 'GET /devices/d1/apps': { told: false, apps: [] } });
    show(<DeviceApps id="d1" />);
    expect(await screen.findByText(/has not told yet/)).toBeTruthy();
  });
});
