import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show } from '../testing/service';
import { MyApps } from './MyApps';

const apps = {
  items: [
    { packageId: 'vellmar.rota', name: 'Rota', state: 'on-shelf', there: false },
    { packageId: 'vellmar.mail', name: 'Staff Mail', state: 'as-wanted', there: true },
  ],
};

describe('apps for one’s own device', () => {
  it('are taken from its shelf', async () => {
    const calls = serve({
      'GET /mine/devices/d1/apps': apps,
      'POST /mine/devices/d1/app-requests': {},
    });
    show(<MyApps device="d1" />);
    fireEvent.click(await screen.findByLabelText('Put Rota on it'));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ app: 'vellmar.rota' }),
    );
    expect(screen.getByText('on it')).toBeTruthy();
  });

  it('are asked for where they are not on it, and a refusal keeps the words', async () => {
    const answers: Record<string, unknown> = {
      'GET /mine/devices/d1/apps': { items: [] },
      'POST /mine/devices/d1/app-requests': new Refusal(429, 'too-many-tries', 'Wait an hour.'),
    };
    serve(answers);
    show(<MyApps device="d1" />);
    expect(await screen.findByText(/no apps for this device/)).toBeTruthy();
    const field = screen.getByLabelText(/Another app/) as HTMLInputElement;
    fireEvent.change(field, { target: { value: 'Object Records, for the loan list' } });
    fireEvent.click(screen.getByText('Ask for it'));
    expect(await screen.findByText(/Wait an hour/)).toBeTruthy();
    expect(field.value).toContain('Object Records');
    serve({ ...answers, 'POST /mine/devices/d1/app-requests': {} });
    fireEvent.click(screen.getByText('Ask for it'));
    expect((await screen.findByRole('status')).textContent).toContain('Asked for');
  });
});
