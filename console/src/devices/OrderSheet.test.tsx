import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Refusal, serve, show } from '../testing/service';
import { OrderSheet } from './OrderSheet';

const lock: Schemas['CommandSpec'] = {
  key: 'lock',
  title: 'Lock',
  help: 'Locks the screen.',
  reasonRequired: true,
  fields: [
    {
      key: 'text',
      title: 'Text on the lock screen',
      required: false,
      corporateOnly: [],
      spoken: false,
      type: { kind: 'text', min: 1, max: 20, multiline: true },
    },
  ],
  danger: 'disturbs',
  cost: 'Whoever is using it is interrupted.',
  holder: 'The lock screen.',
} as unknown as Schemas['CommandSpec'];
const preview = { devices: 2, able: 2, unable: [], losses: [], demands: [] };

function sheet(answers: Record<string, unknown>, whom = { devices: ['d1', 'd2'], count: 2 }) {
  const calls = serve(answers);
  const close = vi.fn();
  show(<OrderSheet spec={lock} whom={whom} called="2 devices" onClose={close} />);
  return { calls, close };
}

const send = () => screen.getByRole('button', { name: /^Lock \d/ }) as HTMLButtonElement;
const reason = (text: string) =>
  fireEvent.change(screen.getByLabelText(/Reason/), { target: { value: text } });

describe('ordering a command', () => {
  it('waits for the reason, then orders once under one key', async () => {
    const { calls, close } = sheet({ 'POST /dispatches/rehearsal': preview, 'POST /dispatches': {} });
    await screen.findByText(/2 of 2 devices can carry it out/);
    expect(send().disabled).toBe(true);
    reason('missing since Sunday');
    fireEvent.click(send());
    await waitFor(() => expect(close).toHaveBeenCalled());
    const order = calls.find((c) => c.path === '/dispatches')!;
    expect(order.headers.get('Idempotency-Key')).toMatch(/[0-9a-f-]{36}/);
    expect(order.body).toMatchObject({
      command: 'lock',
      reason: 'missing since Sunday',
      targets: [
        { kind: 'device', ref: 'd1' },
        { kind: 'device', ref: 'd2' },
      ],
    });
  });

  it('says who cannot carry it out and why', async () => {
    sheet({
      'POST /dispatches/rehearsal': {
        devices: 2,
        able: 1,
        unable: [{ reason: 'personal devices are not locked', devices: 1 }],
        losses: [],
        demands: [],
      },
    });
    expect(await screen.findByText('1 cannot: personal devices are not locked.')).toBeTruthy();
  });

  it('asks for the number of devices from some number on', async () => {
    sheet({
      'POST /dispatches/rehearsal': {
        devices: 40,
        able: 40,
        unable: [],
        losses: [],
        demands: [],
        confirmDevices: 40,
      },
    });
    const typed = await screen.findByLabelText(/Type 40/);
    reason('recall');
    expect(send().disabled).toBe(true);
    fireEvent.change(typed, { target: { value: '40' } });
    expect(send().disabled).toBe(false);
  });

  it('keeps what was typed when the service refuses, and says why', async () => {
    const { close } = sheet({
      'POST /dispatches/rehearsal': preview,
      'POST /dispatches': new Refusal(409, 'no-devices', 'This reaches no device.'),
    });
    await screen.findByText(/can carry it out/);
    reason('recall');
    fireEvent.click(send());
    expect((await screen.findByRole('alert')).textContent).toBe('This reaches no device.');
    expect(close).not.toHaveBeenCalled();
    expect((screen.getByLabelText(/Reason/) as HTMLInputElement).value).toBe('recall');
  });
});
