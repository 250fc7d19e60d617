import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show } from '../testing/service';
import type { Schemas } from '../api/client';
import { AccountsPage } from './AccountsPage';
import { MyAccountPage } from './MyAccountPage';

const owner = {
  id: '1',
  login: 'owner',
  name: 'Owner',
  role: 'owner',
  disabled: false,
  version: 4,
  createdAt: '2026-03-01T08:00:00Z',
};
const laptop = {
  id: 's1',
  label: 'console',
  createdAt: '2026-03-01T08:00:00Z',
  expiresAt: '2026-03-02T08:00:00Z',
  here: false,
};
const fill = (label: RegExp, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });

describe('accounts', () => {
  it('are listed with what their role may do', async () => {
    serve({ 'GET /accounts': [owner] });
    show(<AccountsPage />, '/house/accounts');
    expect(await screen.findByText('everything, accounts too')).toBeTruthy();
  });

  it('are made with a first password, and a refusal keeps the form', async () => {
    let taken = true;
    const calls = serve({
      'GET /accounts': [owner],
      'POST /accounts': () => (taken ? new Refusal(409, 'login-taken', 'The login ines is taken.') : owner),
    });
    const { address } = show(<AccountsPage />, '/house/accounts?new=1');
    fill(/Name/, 'Ines');
    fill(/Login/, 'ines');
    fill(/First password/, 'a long enough password');
    fireEvent.click(screen.getByText('Make account'));
    expect((await screen.findByRole('alert')).textContent).toBe('The login ines is taken.');
    taken = false;
    fill(/Login/, 'ines2');
    fireEvent.click(screen.getByText('Make account'));
    await waitFor(() => expect(address.now).toBe('/house/accounts'));
    expect(calls.filter((c) => c.method === 'POST').at(-1)!.body).toEqual({
      login: 'ines2',
      name: 'Ines',
      role: 'operator',
      password: 'a long enough password',
    });
  });

  it('are disabled on their card, and signed out one by one', async () => {
    const calls = serve({
      'GET /accounts': [owner],
      'GET /accounts/1': owner,
      'GET /accounts/1/sign-ins': [laptop, { ...laptop, id: 's2', here: true }],
      'DELETE /accounts/1/sign-ins/s1': null,
      'PATCH /accounts/1': new Refusal(409, 'last-owner', 'Nobody else owns this house.'),
    });
    show(<AccountsPage />, '/house/accounts?card=1');
    fireEvent.click(await screen.findByLabelText('Sign out console'));
    await waitFor(() => expect(calls.some((c) => c.method === 'DELETE')).toBe(true));
    expect(screen.getByText('here')).toBeTruthy();
    fireEvent.click(screen.getByLabelText(/Disabled/));
    fireEvent.click(screen.getByText('Save'));
    expect((await screen.findByRole('alert')).textContent).toBe('Nobody else owns this house.');
    const change = calls.find((c) => c.method === 'PATCH')!;
    expect(change.body).toEqual({ name: 'Owner', role: 'owner', disabled: true });
    expect(change.headers.get('If-Match')).toBe('"4"');
  });

  it('have a password of their own, which is changed by knowing it', async () => {
    const calls = serve({ 'GET /me/sign-ins': [laptop], 'PUT /me/password': null });
    const me = { account: owner, csrf: '', organisation: 'Vellmar Museums' } as Schemas['Me'];
    show(<MyAccountPage me={me} />, '/me');
    fill(/Password so far/, 'the first password');
    fill(/New password/, 'a better password yet');
    fireEvent.click(screen.getByText('Change password'));
    expect(await screen.findByText('Your password is changed.')).toBeTruthy();
    expect(calls.find((c) => c.method === 'PUT')!.body).toEqual({
      soFar: 'the first password',
      password: 'a better password yet',
    });
  });
});
