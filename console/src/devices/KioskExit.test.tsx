import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { KioskExit } from './KioskExit';

const device = (facts: Record<string, string>) =>
  ({
    device: { id: 'D1', name: 'Kiosk 007' },
    facts: Object.entries(facts).map(([key, value]) => ({ key, value })),
  }) as unknown as Schemas['DeviceDetail'];

describe('leaving a kiosk on the spot', () => {
  it('shows the code of the moment, and only when it is asked for', async () => {
    const calls = serve({
      'POST /devices/D1/exit-code': {
        code: '048213',
        until: new Date(Date.now() + 20_000).toISOString(),
        minutes: 30,
      },
    });
    show(<KioskExit detail={device({ 'kiosk/state': 'in', 'kiosk/missing': 'system.web' })} />);
    expect(screen.getByText('In its kiosk')).toBeTruthy();
    expect(screen.getByText('Not on it: system.web')).toBeTruthy();
    expect(calls).toHaveLength(0);
    fireEvent.click(screen.getByRole('button', { name: 'Show exit code' }));
    expect((await screen.findByRole('status')).textContent).toContain('048 213');
    expect(screen.getByRole('button', { name: 'Show the next code' })).toBeTruthy();
  });

  it('shows a code for as long as the device takes it, also the one that is about to be followed', async () => {
    const code = (seconds: number) => ({
      'POST /devices/D1/exit-code': {
        ...{ code: '048213', until: new Date(Date.now() + seconds * 1000).toISOString(), minutes: 30 },
      },
    });
    const kiosk = <KioskExit detail={device({ 'kiosk/state': 'in' })} />;
    serve(code(0));
    const { unmount } = show(kiosk);
    fireEvent.click(screen.getByRole('button', { name: 'Show exit code' }));
    expect((await screen.findByRole('status')).textContent).toMatch(/048 213(29|30) s/);
    unmount();
    serve(code(-31));
    show(kiosk);
    fireEvent.click(screen.getByRole('button', { name: 'Show exit code' }));
    expect(await screen.findByText('That code has lapsed.')).toBeTruthy();
  });

  it('is not spoken of where there is no kiosk', () => {
    serve({});
    show(<KioskExit detail={device({})} />);
    expect(screen.queryByLabelText('Kiosk')).toBeNull();
  });
});
