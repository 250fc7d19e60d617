import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { AssistPage } from './AssistPage';

type Shown = Schemas['AssistShown'];

const assist: Schemas['Assist'] = {
  ...{ id: 'a1', deviceId: 'd1', device: 'Rota phone', actor: 'priya', shows: 'whole', taps: true },
  ...{ command: 'delivered', outcome: '', askedAt: '2026-03-02T09:00:00Z' },
};
const at = (stage: Shown['stage'], more: Partial<Schemas['Assist']> = {}): Shown => ({
  stage,
  assist: { ...assist, ...more },
});
const me = { 'GET /me': { account: { login: 'priya', role: 'helpdesk' } } };

function page(open: Parameters<typeof AssistPage>[0]['open']) {
  show(
    <Routes>
      <Route path="/devices/screens/:id" element={<AssistPage open={open} />} />
    </Routes>,
    '/devices/screens/a1',
  );
}

describe('a screen that is looked at', () => {
  it('waits for the holder, shows what comes, and is ended', async () => {
    const home = vi.fn();
    const close = vi.fn();
    let come = () => {};
    const open = vi.fn((_e: HTMLElement, _id: string, _taps: boolean, onCome: () => void) => {
      come = onCome;
      return { home, close };
    });
    const calls = serve({ ...me, 'GET /assists/a1': at('asked'), 'POST /assists/a1/end': at('ended') });
    page(open);
    expect((await screen.findByRole('status')).textContent).toContain('Nothing is seen before they agree');
    await waitFor(() => expect(open).toHaveBeenCalledTimes(1));
    expect(open.mock.calls[0]!.slice(1, 3)).toEqual(['a1', true]);
    expect(screen.queryByText('Home')).toBeNull();
    act(() => come());
    expect(screen.queryByRole('status')).toBeNull();
    fireEvent.click(screen.getByText('Home'));
    expect(home).toHaveBeenCalled();
    fireEvent.click(screen.getByText('End'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
  });

  it('says how it went once it is over, and looks no more', async () => {
    const open = vi.fn();
    serve({
      ...me,
      'GET /assists/a1': at('ended', {
        begunAt: '2026-03-02T09:00:10Z',
        endedAt: '2026-03-02T09:03:12Z',
        endedBy: 'its holder',
      }),
    });
    page(open);
    expect((await screen.findByRole('status')).textContent).toBe('Ended by its holder, after 3:02.');
    expect(screen.queryByText('End')).toBeNull();
    expect(open).not.toHaveBeenCalled();
  });

  it('shows the screen to nobody but whoever ordered it', async () => {
    const open = vi.fn();
    serve({ ...me, 'GET /assists/a1': at('on', { actor: 'ada', begunAt: '2026-03-02T09:00:10Z' }) });
    page(open);
    expect((await screen.findByRole('status')).textContent).toBe(
      'Only ada, who ordered it, sees this screen.',
    );
    expect(open).not.toHaveBeenCalled();
  });

  it('tells why it did not come to it', async () => {
    serve({ ...me, 'GET /assists/a1': at('not', { outcome: 'the holder cancelled it' }) });
    page(vi.fn());
    expect((await screen.findByRole('status')).textContent).toBe(
      'It did not come to it: the holder cancelled it.',
    );
  });
});
