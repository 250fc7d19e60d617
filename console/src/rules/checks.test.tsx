import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { DeviceOrder } from '../devices/DeviceOrder';
import { serve, show } from '../testing/service';
import { ChecksPage } from './ChecksPage';
import { CheckSheet } from './CheckSheet';
import { ladderFault, sayHours, sayLadder } from './ladder';

const CHECK: Schemas['Check'] = {
  id: 'c1',
  version: 3,
  name: 'Encryption',
  advice: 'Turn it on.',
  ladder: { grace: 72, holder: 0, house: 72 },
  group: { id: 'g1', name: 'Encryption (check)' },
  ownGroup: true,
  rule: 'fact security/encrypted is "false"',
  inGrace: 2,
  outOfOrder: 5,
  withheld: 0,
};
const READ = { devices: 7, examples: [], any: false, parts: [], from: 0, to: 0, choices: [] };
const GOES: Schemas['CheckRehearsal'] = {
  found: 7,
  outOfOrder: 0,
  inOrder: 5,
  withheld: 0,
  reasonWanted: false,
  secondWanted: false,
};
const service = {
  'GET /checks': [CHECK],
  'GET /checks/c1': CHECK,
  'GET /checks/templates': [
    {
      key: 'encryption',
      title: 'Encryption',
      help: 'Devices that say they are not encrypted.',
      rule: 'fact security/encrypted is "false"',
      advice: 'Turn it on.',
      grace: 24,
    },
  ],
  'GET /groups': { items: [] },
  'GET /tags': {},
  'GET /units': [],
  'POST /device-rules/reading': READ,
  'POST /checks/c1/deletion/rehearsal': GOES,
};

describe('a ladder', () => {
  it('is said in words', () => {
    expect([sayHours(0), sayHours(5), sayHours(24), sayHours(72), sayHours(undefined)]).toEqual([
      'at once',
      'after 5 hours',
      'after 1 day',
      'after 3 days',
      'never',
    ]);
    expect(sayLadder(CHECK.ladder)).toBe(
      'out of order after 3 days, holder told at once, administrators told after 3 days',
    );
    expect(ladderFault({ grace: 5, withhold: 4 })).toContain('before');
    expect(ladderFault({ grace: 5, withhold: 5 })).toBeUndefined();
  });
});

describe('checks', () => {
  it('are listed with what they find, each number with the devices behind it', async () => {
    serve(service);
    show(<ChecksPage />);
    const out = await screen.findByText('5');
    expect(out.getAttribute('href')).toBe('/devices?group=g1&rule=order%20is%20out-of-order');
    expect(screen.getByText(/out of order after 3 days/)).toBeTruthy();
  });

  it('are taken from a template, rehearsed, and asked for', async () => {
    const calls = serve({
      ...service,
      'POST /checks/rehearsal': { ...GOES, outOfOrder: 4, inOrder: 0, confirmDevices: 7 },
      'POST /checks': CHECK,
    });
    let closed = false;
    show(<CheckSheet onClose={() => (closed = true)} />);
    await screen.findByText(/say they are not encrypted/);
    fireEvent.change(screen.getByLabelText('Start from'), { target: { value: 'encryption' } });
    expect((await screen.findByTestId('check-rehearsal')).textContent).toContain(
      'It finds 7 devices; 4 devices more would be out of order at once.',
    );
    fireEvent.click(screen.getByLabelText('Withhold'));
    expect(screen.getByText('Nothing is withheld before a device is out of order.')).toBeTruthy();
    const keep = screen.getByText<HTMLButtonElement>('Make check');
    expect(keep.disabled).toBe(true);
    fireEvent.click(screen.getByLabelText('Withhold'));
    fireEvent.change(await screen.findByLabelText(/Type 7/), { target: { value: '7' } });
    fireEvent.click(keep);
    await waitFor(() => expect(closed).toBe(true));
    expect(calls.find((c) => c.method === 'POST' && c.path === '/checks')!.body).toEqual({
      name: 'Encryption',
      advice: 'Turn it on.',
      rule: 'fact security/encrypted is "false"',
      ladder: { grace: 24, holder: 0, house: 24 },
      confirmDevices: 7,
    });
  });

  it('are written anew on their version, and deleted with a word on what that does', async () => {
    const calls = serve({
      ...service,
      'POST /checks/c1/rehearsal': GOES,
      'PUT /checks/c1': CHECK,
      'DELETE /checks/c1': undefined,
    });
    show(<CheckSheet check={CHECK} onClose={() => undefined} />);
    fireEvent.change(screen.getByLabelText('Out of order: unit'), { target: { value: 'hours' } });
    fireEvent.change(screen.getByLabelText(/What the holder is told to do/), { target: { value: 'Do it.' } });
    expect((await screen.findByTestId('check-rehearsal')).textContent).toContain(
      '5 devices would no longer be out of order',
    );
    fireEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(calls.some((c) => c.method === 'PUT')).toBe(true));
    const put = calls.find((c) => c.method === 'PUT')!;
    expect(put.headers.get('If-Match')).toBe('"3"');
    expect(put.body).toMatchObject({
      advice: 'Do it.',
      rule: CHECK.rule,
      ladder: { grace: 3, holder: 0, house: 72 },
    });
    fireEvent.click(screen.getByText('Delete'));
    expect(screen.getByText(/7 devices it finds no longer count/)).toBeTruthy();
    fireEvent.click(screen.getByText('Yes, delete'));
    await waitFor(() => expect(calls.some((c) => c.method === 'DELETE')).toBe(true));
  });
});

describe('a device that is not in order', () => {
  it('says what was found, since when, and what is withheld', async () => {
    serve({
      'GET /devices/d1/order': {
        order: 'out-of-order',
        withheld: true,
        toldAt: '2026-03-02T09:00:00Z',
        findings: [
          {
            checkId: 'c1',
            name: 'Encryption',
            advice: 'Turn it on.',
            since: '2026-03-01T09:00:00Z',
            due: '2026-03-02T09:00:00Z',
            order: 'out-of-order',
            withheld: true,
          },
        ],
      },
    });
    show(<DeviceOrder device={{ id: 'd1', order: 'out-of-order' } as Schemas['DeviceSummary']} />);
    expect((await screen.findByText('Encryption')).getAttribute('href')).toBe('/rules/checks?card=c1');
    expect(screen.getByText('out of order')).toBeTruthy();
    expect(screen.getByText(/in order is withheld/)).toBeTruthy();
    expect(screen.getByText(/the device was told/)).toBeTruthy();
  });
});
