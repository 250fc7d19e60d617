import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show, type Call } from '../testing/service';
import { RehearsalSheet } from './RehearsalSheet';

const profile = {
  id: 'p1',
  version: 3,
  name: 'Gallery tablets',
  publishedVersion: 1,
  window: {},
} as Schemas['Profile'];
const named = (n: number) => ({ id: `d${n}`, name: `HAR ${n}` });
const rehearsal = {
  devices: 9,
  changing: 7,
  gain: 0,
  change: 7,
  lose: 0,
  effects: [
    {
      id: 'e1',
      platform: 'tarn',
      mode: 'supervised',
      osLevel: '7.0',
      devices: 7,
      steps: [
        { setting: 'passcode.min-length', title: 'Least length', from: 6, to: 8 },
        { setting: 'restrictions.camera-off', title: 'Camera off', to: true },
      ],
      examples: [1, 2, 3, 4, 5].map(named),
    },
  ],
  conflicts: [{ setting: 's', title: 'Lock-screen text', wins: 'Quay', loses: ['Ridge'], devices: 2 }],
  shortages: [],
  unsupported: [
    {
      setting: 'u',
      title: 'USB data off',
      profile: 'Gallery tablets',
      reason: 'works supervised only',
      devices: 1,
    },
  ],
};

function sheet(more: object = {}, answers: Record<string, unknown> = {}) {
  const calls = serve({ 'GET /profiles/p1/rehearsal': { ...rehearsal, ...more }, ...answers });
  const close = vi.fn();
  show(<RehearsalSheet profile={profile} onClose={close} />);
  return { calls, close };
}

describe('a rehearsal', () => {
  it('tells who changes, how, what conflicts and what cannot be', async () => {
    sheet();
    expect((await screen.findByTestId('rehearsal')).textContent).toBe(
      '0 gain settings7 change0 lose settings2 stay as they are',
    );
    expect(screen.getByText('Least length').parentElement!.textContent).toBe('Least length68');
    expect(screen.getByText('Camera off').parentElement!.textContent).toBe('Camera offon');
    expect(screen.getByText('Conflict on Lock-screen text')).toBeTruthy();
    expect(screen.getByText(/1 device cannot have USB data off: it works supervised only/)).toBeTruthy();
  });

  it('opens the whole list of devices behind an effect, page by page', async () => {
    const pages = (call: Call) =>
      call.query.get('after') ? { items: [named(7)] } : { items: [1, 2, 3, 4, 5, 6].map(named), next: 'c' };
    sheet({}, { 'GET /profiles/p1/rehearsal/e1/devices': pages });
    fireEvent.click(await screen.findByText('and 2 more: show all'));
    fireEvent.click(await screen.findByText('show the next of 1 more'));
    await screen.findByText('HAR 7');
    expect(screen.queryByText(/more/)).toBeNull();
  });

  it('publishes what was rehearsed, under the version it was read in', async () => {
    const { calls, close } = sheet({}, { 'POST /profiles/p1/publication': {} });
    fireEvent.click(await screen.findByText('Publish to 7 devices'));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(calls.find((c) => c.method === 'POST')!.headers.get('If-Match')).toBe('"3"');
  });

  it('asks for the number where many change', async () => {
    const { calls } = sheet({ confirmDevices: 7 }, { 'POST /profiles/p1/publication': {} });
    const button = (await screen.findByText('Publish to 7 devices')) as HTMLButtonElement;
    fireEvent.change(screen.getByLabelText(/Type 7/), { target: { value: '6' } });
    expect(button.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Type 7/), { target: { value: '7' } });
    fireEvent.click(button);
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({ confirmDevices: 7 });
  });
});
