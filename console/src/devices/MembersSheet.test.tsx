import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { MembersSheet } from './MembersSheet';

const group = { id: 'g1', name: 'Quay', inside: [], devices: 0, picked: 0, version: 0 } as Schemas['Group'];
const rehearsal = (changing: number): Partial<Schemas['Rehearsal']> => ({
  devices: 1,
  changing,
  gain: changing,
  change: 0,
  lose: 0,
  effects: [],
  conflicts: [],
  shortages: [],
  unsupported: [],
  reasonWanted: changing > 0,
  secondWanted: false,
});
const served = (changing: number) =>
  serve({
    'GET /devices': (call: { query: URLSearchParams }) => ({
      items: call.query.get('group') ? [] : [{ id: 'd1', name: 'HAR kiosk 3' }],
    }),
    'POST /groups/g1/members/rehearsal': rehearsal(changing),
    'POST /groups/g1/members': group,
  });
const done = (calls: ReturnType<typeof serve>) => calls.filter((c) => c.path === '/groups/g1/members');

describe('members of a group', () => {
  it('are put in at once where that changes no settings', async () => {
    const calls = served(0);
    show(<MembersSheet group={group} onClose={() => undefined} />);
    fireEvent.click(await screen.findByText('Put in'));
    await waitFor(() => expect(done(calls)[0]?.body).toEqual({ add: ['d1'] }));
  });

  it('that get other settings by it are told of first', async () => {
    const calls = served(1);
    show(<MembersSheet group={group} onClose={() => undefined} />);
    fireEvent.click(await screen.findByText('Put in'));
    expect(await screen.findByText('Put HAR kiosk 3 in')).toBeTruthy();
    expect(done(calls)).toHaveLength(0);
    const go = screen.getByText('Go on: change 1 device') as HTMLButtonElement;
    expect(go.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Why/), { target: { value: 'new room' } });
    fireEvent.click(go);
    await waitFor(() => expect(done(calls)[0]?.body).toEqual({ add: ['d1'], reason: 'new room' }));
  });
});
