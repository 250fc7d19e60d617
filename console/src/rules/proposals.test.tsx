import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { ProposeButton, useConfirmation } from './confirmation';
import { ProposalsPage } from './ProposalsPage';

const settings: Schemas['Rehearsal'] = {
  devices: 151,
  changing: 151,
  gain: 0,
  change: 151,
  lose: 0,
  effects: [],
  conflicts: [],
  shortages: [],
  unsupported: [],
  reasonWanted: false,
  secondWanted: true,
};
const proposal: Schemas['Proposal'] = {
  id: 'x1',
  version: 0,
  title: 'Publish Gallery tablets',
  note: 'for the new rooms',
  state: 'waiting',
  devices: 148,
  proposedAt: '2026-11-28T10:00:00Z',
  proposedBy: 'maren',
  lapsesAt: '2026-03-16T09:00:00Z',
};
const detail = (more: Partial<Schemas['ProposalDetail']> = {}): Schemas['ProposalDetail'] => ({
  proposal,
  since: ['It was 148, now 151 devices change.'],
  seen: 'abc',
  mine: false,
  rehearsal: {
    devices: 151,
    changing: 151,
    examples: [],
    told: [],
    settings,
    reasonWanted: false,
    secondWanted: true,
  },
  ...more,
});
const me = (role: string) => ({ account: { id: 'a', login: 'bo', name: 'Bo', role }, csrf: '' });

function Asked({ of }: { of: Partial<Schemas['Rehearsal']> }) {
  const c = useConfirmation(of, 'publish');
  return (
    <>
      {c.fields}
      <p>{c.ready ? 'ready' : 'not ready'}</p>
      <p>{JSON.stringify(c.given)}</p>
      {c.second && <ProposeButton intent={{ publish: { id: 'p1' } }} confirmation={c} />}
    </>
  );
}

describe('what is asked before a change', () => {
  it('is the number, exactly', () => {
    show(<Asked of={{ confirmDevices: 30 }} />);
    const field = screen.getByLabelText(/Type 30/);
    fireEvent.change(field, { target: { value: '3' } });
    expect(screen.getByText('not ready')).toBeTruthy();
    fireEvent.change(field, { target: { value: '30' } });
    expect(screen.getByText('ready')).toBeTruthy();
    expect(screen.getByText('{"confirmDevices":30}')).toBeTruthy();
  });

  it('is a reason, from more devices on', () => {
    show(<Asked of={{ reasonWanted: true }} />);
    expect(screen.getByText('not ready')).toBeTruthy();
    fireEvent.change(screen.getByLabelText(/Why/), { target: { value: ' new rooms ' } });
    expect(screen.getByText('ready')).toBeTruthy();
    expect(screen.getByText('{"reason":"new rooms"}')).toBeTruthy();
  });

  it('is somebody else, from many on: then it can only be proposed', async () => {
    const calls = serve({ 'POST /proposals': detail({ mine: true }) });
    show(<Asked of={{ confirmDevices: 300, secondWanted: true }} />);
    expect(screen.queryByLabelText(/Type 300/)).toBeNull();
    fireEvent.change(screen.getByLabelText(/A word/), { target: { value: 'new rooms' } });
    expect(screen.getByText('not ready')).toBeTruthy();
    fireEvent.click(screen.getByText('Ask a second person'));
    expect(await screen.findByText('Follow it')).toBeTruthy();
    expect(calls.at(-1)!.body).toEqual({ intent: { publish: { id: 'p1' } }, note: 'new rooms' });
  });
});

describe('a proposal', () => {
  const served = (d: Schemas['ProposalDetail'], role = 'operator') =>
    serve({
      'GET /me': me(role),
      'GET /proposals': { items: [proposal] },
      'GET /proposals/x1': d,
      'POST /proposals/x1/agreement': d,
      'POST /proposals/x1/refusal': d,
      'POST /proposals/x1/withdrawal': d,
    });

  it('says what it would do now and what became different, and is agreed to as seen', async () => {
    const calls = served(detail());
    show(<ProposalsPage />, '/rules/proposals?card=x1');
    expect(await screen.findByText('It was 148, now 151 devices change.')).toBeTruthy();
    fireEvent.click(await screen.findByText('Agree, for 151 devices'));
    await waitFor(() =>
      expect(calls.find((c) => c.path.endsWith('/agreement'))?.body).toEqual({ seen: 'abc' }),
    );
  });

  it('is refused only with a reason', async () => {
    const calls = served(detail());
    show(<ProposalsPage />, '/rules/proposals?card=x1');
    const refuse = (await screen.findByText('Refuse')) as HTMLButtonElement;
    expect(refuse.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Why not/), { target: { value: 'not on a Friday' } });
    fireEvent.click(refuse);
    await waitFor(() =>
      expect(calls.find((c) => c.path.endsWith('/refusal'))?.body).toEqual({
        reason: 'not on a Friday',
      }),
    );
  });

  it('of one\u2019s own is not agreed to, but withdrawn', async () => {
    const calls = served(detail({ mine: true }));
    show(<ProposalsPage />, '/rules/proposals?card=x1');
    fireEvent.click(await screen.findByText('Withdraw'));
    await waitFor(() => expect(calls.some((c) => c.path.endsWith('/withdrawal'))).toBe(true));
    expect(screen.queryByText(/^Agree/)).toBeNull();
  });

  it('that cannot be done says why and cannot be agreed to', async () => {
    served(detail({ rehearsal: undefined, objection: 'There is no profile p1.', since: [] }));
    show(<ProposalsPage />, '/rules/proposals?card=x1');
    expect(await screen.findByText(/There is no profile p1/)).toBeTruthy();
    expect((screen.getByText(/^Agree/) as HTMLButtonElement).disabled).toBe(true);
  });
});
