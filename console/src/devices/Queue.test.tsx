import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { Queue } from './Queue';

const catalogue = {
  commands: [
    { key: 'ring', title: 'Ring' },
    { key: 'restart', title: 'Restart' },
  ],
};
const two = {
  items: [
    { id: 'c1', command: 'ring' },
    { id: 'c2', command: 'restart' },
  ],
};

describe('what waits for a device', () => {
  it('is put in order', async () => {
    const calls = serve({
      'GET /catalogue': catalogue,
      'GET /devices/d1/queue': two,
      'PUT /devices/d1/queue': two,
    });
    show(<Queue id="d1" />);
    fireEvent.click(await screen.findByLabelText('Restart earlier'));
    expect(screen.queryByLabelText('Ring earlier')).toBeNull();
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'PUT')?.body).toEqual({ commands: ['c2', 'c1'] }),
    );
  });

  it('is cancelled as a whole, after a question', async () => {
    const calls = serve({
      'GET /catalogue': catalogue,
      'GET /devices/d1/queue': two,
      'DELETE /devices/d1/queue': { cancelled: 2 },
    });
    show(<Queue id="d1" />);
    fireEvent.click(await screen.findByText('Cancel all'));
    expect(calls.some((c) => c.method === 'DELETE')).toBe(false);
    fireEvent.click(screen.getByText('Yes, cancel all'));
    await waitFor(() => expect(calls.some((c) => c.method === 'DELETE')).toBe(true));
  });

  it('is not shown where there is nothing to put in order', async () => {
    const calls = serve({ 'GET /catalogue': catalogue, 'GET /devices/d1/queue': { items: [two.items[0]] } });
    const { container } = show(<Queue id="d1" />);
    await waitFor(() => expect(calls.length).toBeGreaterThan(1));
    expect(container.textContent).toBe('');
  });
});
