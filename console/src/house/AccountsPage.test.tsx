import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show } from '../testing/service';
import { AccountsPage } from './AccountsPage';

const owner = { id: '1', login: 'owner', name: 'Owner', role: 'owner', createdAt: '2026-03-01T08:00:00Z' };
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
});
