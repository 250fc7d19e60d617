import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { Brought } from './Brought';

const command = (key: string, more: Partial<Schemas['Command']> = {}) =>
  ({
    ...{ id: 'c1', dispatchId: 'o1', deviceId: 'd1', device: 'VM laptop 08', command: key, title: key },
    ...{ state: 'done', reason: '', queuedAt: '2026-03-02T09:00:00Z', expiresAt: '2026-03-02T10:00:00Z' },
    ...more,
  }) as Schemas['Command'];

describe('what a command brought back', () => {
  it('is what a script wrote, also where it ended badly', async () => {
    serve({
      'GET /commands/c1/output': {
        ...{ commandId: 'c1', deviceId: 'd1', command: 'run-script', exit: 3, text: 'half', processes: [] },
      },
    });
    show(<Brought by={command('run-script', { state: 'failed', reason: 'the script ended with 3' })} />);
    fireEvent.click(screen.getByText('What it wrote'));
    expect(await screen.findByText('half')).toBeTruthy();
    expect(screen.getByText(/It ended with 3/)).toBeTruthy();
  });

  it('is what runs, of which one is ended', async () => {
    const calls = serve({
      'GET /commands/c1/output': {
        ...{ commandId: 'c1', deviceId: 'd1', command: 'processes' },
        processes: [{ number: 812, name: 'Object Records', owner: 'ines', cpu: 14.5, memory: 310 }],
      },
      'POST /dispatches': { id: 'o2' },
    });
    show(<Brought by={command('processes')} />);
    fireEvent.click(screen.getByText('See what ran'));
    expect(await screen.findByText('14.5 %')).toBeTruthy();
    fireEvent.click(screen.getByLabelText('End Object Records'));
    await waitFor(() => expect(screen.getByText('End ordered')).toBeTruthy());
    expect(calls.find((c) => c.method === 'POST')?.body).toMatchObject({
      command: 'end-process',
      fields: { process: '812' },
      targets: [{ kind: 'device', ref: 'd1' }],
    });
  });

  it('is nothing where it brought nothing, or was no such command', () => {
    serve({});
    const { container } = show(<Brought by={command('screenshot', { state: 'failed' })} />);
    expect(container.textContent).toBe('');
    expect(show(<Brought by={command('lock')} />).container.textContent).toBe('');
  });
});
