import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import type { AppDetail } from './apps';
import { CodesOf } from './Codes';

const detail = {
  app: { id: 'a1', key: 'rota', name: 'Rota' },
  latest: { schema: { type: 'object', properties: { team: { type: 'string', title: 'Team' } } } },
} as unknown as AppDetail;
const code = {
  ...{ id: 'c1', name: 'Rota, Volunteers', state: 'open', codeEnds: 'N084', unitCode: 'VM-VOL' },
  ...{ unit: 'Volunteers', until: '2027-02-27T12:00:00Z', readTimes: 3, configuration: { team: 'Day' } },
};

describe('the printed codes of an app', () => {
  it('are made for a unit with what the app is told, shown to be printed, and revoked', async () => {
    let state = 'open';
    const calls = serve({
      'GET /app-codes': { items: [code] },
      'GET /units': [{ id: 'u1', code: 'VM-VOL', name: 'Volunteers', depth: 0 }],
      'POST /app-codes': code,
      'GET /app-codes/c1': () => ({ ...code, state, link: 'https://h/app-configuration/X#f' }),
      'POST /app-codes/c1/revocation': () => {
        state = 'revoked';
        return { ...code, state };
      },
    });
    show(<CodesOf detail={detail} />);
    expect(await screen.findByText('until 2027-02-27, read 3 times')).toBeTruthy();
    fireEvent.click(screen.getByText('Make a code'));
    await screen.findByRole('option', { name: 'VM-VOL Volunteers' });
    fireEvent.change(screen.getByLabelText('Hangs in'), { target: { value: 'u1' } });
    fireEvent.change(screen.getByLabelText('Team, if wanted'), { target: { value: 'Day' } });
    fireEvent.click(screen.getByText('Make the code'));
    expect(await screen.findByRole('img', { name: 'QR code of Rota, Volunteers' })).toBeTruthy();
    expect(calls.find((c) => c.method === 'POST' && c.path === '/app-codes')!.body).toMatchObject({
      appId: 'a1',
      unitId: 'u1',
      configuration: { team: 'Day' },
    });
    fireEvent.click(screen.getByText('Revoke'));
    fireEvent.click(await screen.findByText('Yes, revoke'));
    await waitFor(() => expect(calls.some((c) => c.path === '/app-codes/c1/revocation')).toBe(true));
    await waitFor(() => expect(screen.queryByRole('img', { name: /QR code/ })).toBeNull());
  });
});
