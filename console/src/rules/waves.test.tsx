import { fireEvent, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { serve, show } from '../testing/service';
import { RehearsalSheet } from './RehearsalSheet';
import { ProfileWaves, USUAL, WaveFields, wavesFault, type WavesSpec } from './waves';

const PROFILE = {
  id: 'p1',
  kind: 'profile',
  version: 7,
  name: 'Galleries',
  publishedVersion: 3,
  window: {},
} as unknown as Schemas['Profile'];
const REHEARSAL = {
  devices: 100,
  changing: 100,
  gain: 100,
  change: 0,
  lose: 0,
  effects: [],
  conflicts: [],
  shortages: [],
  unsupported: [],
  reasonWanted: false,
  secondWanted: false,
};
const SPREADING: Schemas['Waves'] = {
  version: 4,
  waves: [
    { words: 'about 5 devices', begun: true },
    { words: '25 %', begun: true },
    { words: 'everybody', begun: false },
  ],
  at: 1,
  stopped: true,
  reason: '3 of 20 devices failed',
  next: '2026-03-02T10:00:00Z',
  hold: 60,
  bound: 5,
  devices: 100,
  reached: 20,
  done: 15,
  waiting: 2,
  failed: 3,
  changes: ['c1', 'c2'],
};

function Fields({ seen }: { seen: (w?: WavesSpec) => void }) {
  const [waves, setWaves] = useState<WavesSpec>();
  return (
    <WaveFields
      value={waves}
      onChange={(w) => {
        setWaves(w);
        seen(w);
      }}
    />
  );
}

describe('waves', () => {
  it('are a handful, 5 and 25 percent at first, and changed step by step', () => {
    serve({ 'GET /groups': { items: [{ id: 'g1', name: 'Brave', devices: 4 }] } });
    const seen = vi.fn();
    show(<Fields seen={seen} />);
    fireEvent.click(screen.getByLabelText('wave by wave'));
    expect(seen).toHaveBeenLastCalledWith(USUAL);
    fireEvent.change(screen.getByLabelText('Wave 1: devices'), { target: { value: '3' } });
    fireEvent.click(screen.getByLabelText('Take wave 2 out'));
    fireEvent.change(screen.getByLabelText('Wave 2: by'), { target: { value: 'group' } });
    expect(screen.getByText('Say which group.')).toBeTruthy();
    fireEvent.change(screen.getByLabelText(/Percent that may fail/), { target: { value: '10' } });
    expect(seen).toHaveBeenLastCalledWith({
      steps: [{ devices: 3 }, { group: '' }],
      hold: 60,
      bound: 10,
    });
    fireEvent.click(screen.getByLabelText('to all at once'));
    expect(seen).toHaveBeenLastCalledWith(undefined);
    expect(wavesFault({ steps: [] })).toContain('at least one wave');
    expect(wavesFault({ steps: [{ share: 100 }] })).toContain('1 to 99');
    expect(wavesFault({ steps: [{ devices: 0 }] })).toContain('at least one device');
  });

  it('are begun from the rehearsal', async () => {
    const calls = serve({
      'GET /profiles/p1/rehearsal': REHEARSAL,
      'GET /groups': { items: [] },
      'POST /profiles/p1/publication': {},
    });
    show(<RehearsalSheet profile={PROFILE} onClose={() => undefined} />);
    fireEvent.click(await screen.findByLabelText('wave by wave'));
    fireEvent.click(screen.getByText('Begin the first wave of 100 devices'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({ waves: USUAL });
  });

  it('say how far they are, why they stopped, and go on where they were seen', async () => {
    const calls = serve({
      'GET /profiles/p1/waves': { spreading: SPREADING },
      'POST /profiles/p1/waves': {},
    });
    show(<ProfileWaves profile={PROFILE} />);
    expect(await screen.findByText('Version 4 stopped: wave 2 of 3')).toBeTruthy();
    expect(screen.getByText('3 of 20 devices failed.')).toBeTruthy();
    expect(screen.getByText(/20 of 100 devices reached/).textContent).toContain('15 have it, 2 wait');
    fireEvent.click(screen.getByText('Let everybody have it now'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({ verb: 'next', at: 1 });
    fireEvent.click(screen.getByText('Go on'));
    await waitFor(() => expect(calls.filter((c) => c.method === 'POST')).toHaveLength(2));
  });
});
