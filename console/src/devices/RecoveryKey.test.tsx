import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { RecoveryKey } from './RecoveryKey';

const laptop = { id: 'd1', name: 'VM laptop 08', kind: 'laptop' } as Schemas['DeviceSummary'];

describe('the key of a disk', () => {
  it('is said to be kept, and shown with a reason alone', async () => {
    const calls = serve({
      'GET /devices/d1/recovery-key': {
        number: 2,
        receivedAt: '2026-03-01T08:00:00Z',
        shownAt: '2026-03-01T09:00:00Z',
        shownBy: 'bo',
        wanted: 3,
      },
      'POST /devices/d1/recovery-key': {
        key: '011223-445566',
        number: 2,
        receivedAt: '2026-03-01T08:00:00Z',
      },
    });
    show(<RecoveryKey device={laptop} />);
    expect((await screen.findByLabelText('Recovery key')).textContent).toContain('it is asked for another');
    fireEvent.click(screen.getByText('Show the key'));
    const button = screen.getByText<HTMLButtonElement>('Show it');
    expect(button.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Why it has to be seen/), { target: { value: 'forgotten' } });
    fireEvent.click(button);
    expect((await screen.findByTestId('recovery-key')).textContent).toBe('011223-445566');
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({ reason: 'forgotten' });
    fireEvent.click(screen.getByText('Done'));
    await waitFor(() => expect(screen.queryByTestId('recovery-key')).toBeNull());
  });

  it('is not spoken of where there is none', async () => {
    const calls = serve({ 'GET /devices/d1/recovery-key': { wanted: 1 } });
    show(<RecoveryKey device={laptop} />);
    await waitFor(() => expect(calls).toHaveLength(1));
    expect(screen.queryByLabelText('Recovery key')).toBeNull();
  });
});
