import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Refusal, serve, show } from '../testing/service';
import { LastWipe, stageOf, type Wipe } from './wipes';
import { WipesPage } from './WipesPage';

const work: Wipe = {
  ...{
    id: 'c1',
    deviceId: 'd1',
    device: 'Rota phone',
    kind: 'work',
    stage: 'proved',
    reason: 'left on the ferry',
  },
  ...{ actor: 'ada', agreedBy: 'bo', retire: false, command: 'done', outcome: '' },
  ...{
    askedAt: '2026-03-02T09:00:00Z',
    deliveredAt: '2026-03-02T09:00:01Z',
    begunAt: '2026-03-02T09:00:02Z',
  },
  ...{
    provedAt: '2026-03-02T09:00:03Z',
    proof: 'read',
    before: ['App Rota', 'Passcode: 1 setting'],
    after: [],
  },
};
const erased: Wipe = {
  ...{ ...work, id: 'c2', kind: 'device', stage: 'begun', provedAt: undefined, proof: undefined, before: [] },
  notRevocable: 'what was erased with the whole device cannot be brought back',
};
const operator = { 'GET /me': { account: { role: 'operator' } } };

describe('the last wipe of a device', () => {
  it('tells what happened and what it took, and is revoked with a reason', async () => {
    const calls = serve({
      ...operator,
      'GET /wipes': { items: [work] },
      'POST /wipes/c1/revocation': { ...work, stage: 'revoked' },
    });
    show(<LastWipe device="d1" />);
    const ladder = within(await screen.findByLabelText('What happened'));
    expect(ladder.getByText('ada and bo: left on the ferry')).toBeTruthy();
    expect(ladder.getByText(/nothing of the organisation’s was left/)).toBeTruthy();
    expect(screen.getByText('App Rota')).toBeTruthy();
    expect(screen.getByText('nothing of it')).toBeTruthy();
    fireEvent.click(await screen.findByText('Revoke: bring everything back'));
    const go = screen.getByText('Bring everything back') as HTMLButtonElement;
    expect(go.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Reason/), { target: { value: 'found at home' } });
    fireEvent.click(go);
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ reason: 'found at home' }),
    );
  });

  it('says what is not proved, and offers nothing that cannot be', async () => {
    serve({ ...operator, 'GET /wipes': { items: [erased] } });
    show(<LastWipe device="d1" />);
    expect(await screen.findByText('said so, not proved')).toBeTruthy();
    expect(screen.getByText('Proved blank').closest('li')?.className).toContain('text-quiet');
    expect(screen.queryByText(/Revoke/)).toBeNull();
  });

  it('is cancelled until the device has it', async () => {
    const calls = serve({
      ...operator,
      'GET /wipes': { items: [{ ...erased, stage: 'asked', begunAt: undefined, deliveredAt: undefined }] },
      'POST /commands/c2/cancellation': new Refusal(409, 'not-cancellable', 'The command is delivered.'),
    });
    show(<LastWipe device="d1" />);
    fireEvent.click(await screen.findByText('Cancel the wipe'));
    expect(await screen.findByText('The command is delivered.')).toBeTruthy();
    expect(calls.filter((c) => c.method === 'POST')).toHaveLength(1);
  });

  it('is of no interest once everything is back', async () => {
    const calls = serve({ ...operator, 'GET /wipes': { items: [{ ...work, stage: 'restored' }] } });
    show(<LastWipe device="d1" />);
    await waitFor(() => expect(calls.length).toBeGreaterThan(0));
    expect(screen.queryByLabelText('Wipe')).toBeNull();
  });
});

describe('all wipes', () => {
  it('are listed with how far each is, and with their card', async () => {
    const calls = serve({
      ...operator,
      'GET /wipes': { items: [work, erased] },
      'GET /wipes/c2': erased,
    });
    show(<WipesPage />, '/devices/wipes?card=c2');
    expect(await screen.findByText('gone, and looked')).toBeTruthy();
    expect(await screen.findByText('Wipe of the whole device')).toBeTruthy();
    expect(stageOf({ kind: 'device', stage: 'proved' })).toBe('proved blank');
    expect(calls[0].query.get('open')).toBeNull();
  });
});
