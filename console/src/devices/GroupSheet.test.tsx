import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { GroupSheet } from './GroupSheet';

const OLD = {
  id: 'g1',
  version: 3,
  name: 'Old tablets',
  rule: 'os < 7.1',
  inside: [{ id: 'g2', name: 'Spares' }],
  devices: 9,
  picked: 0,
};
const READ = { devices: 40, examples: [], any: false, parts: [], from: 0, to: 0, choices: [] };

describe('a group', () => {
  it('says who would come in and go out, and asks for the number before it is saved', async () => {
    const calls = serve({
      'GET /groups': { items: [OLD] },
      'GET /tags': {},
      'GET /units': [],
      'POST /device-rules/reading': READ,
      'POST /groups/g1/rehearsal': {
        devices: 40,
        entering: 31,
        leaving: 0,
        entered: ['VM-GLA kiosk 001'],
        left: [],
        confirmDevices: 31,
        settings: {
          devices: 31,
          changing: 31,
          gain: 31,
          change: 0,
          lose: 0,
          effects: [],
          conflicts: [],
          confirmDevices: 31,
        },
      },
      'PUT /groups/g1': OLD,
    });
    let closed = false;
    show(<GroupSheet group={OLD} onClose={() => (closed = true)} />);
    expect(screen.getByText('group Spares')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Rule'), { target: { value: 'os < 7.2' } });
    expect((await screen.findByTestId('group-rehearsal')).textContent).toContain(
      '31 devices come in: VM-GLA kiosk 001 and 30 more.',
    );
    const save = screen.getByText<HTMLButtonElement>('Save');
    expect(save.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Type 31/), { target: { value: '31' } });
    fireEvent.click(save);
    await waitFor(() => expect(closed).toBe(true));
    const put = calls.find((c) => c.method === 'PUT')!;
    expect(put.headers.get('If-Match')).toBe('"3"');
    expect(put.body).toEqual({ name: 'Old tablets', rule: 'os < 7.2', inside: ['g2'], confirmDevices: 31 });
  });

  it('picked by hand is made without a rule', async () => {
    const calls = serve({
      'GET /groups': { items: [] },
      'GET /tags': {},
      'GET /units': [],
      'POST /groups': OLD,
    });
    show(<GroupSheet onClose={() => undefined} />);
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'Spares' } });
    fireEvent.click(screen.getByText('Make group'));
    await waitFor(() =>
      expect(calls.find((c) => c.method === 'POST')?.body).toEqual({ name: 'Spares', inside: [] }),
    );
  });
});
