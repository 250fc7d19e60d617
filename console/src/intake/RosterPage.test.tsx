import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show, type Call } from '../testing/service';
import { NumbersPage } from './NumbersPage';
import { RosterPage } from './RosterPage';

const entry = (n: number, state = 'expected') => ({
  id: `r${n}`,
  version: 3,
  serial: `AR10-${n}`,
  name: '',
  tags: [],
  source: 'spring.csv',
  state,
  unit: 'VM-HAR',
  createdAt: '2026-03-01T08:00:00Z',
  changedAt: '2026-03-01T08:00:00Z',
});
const sheet = {
  id: 's1',
  sheet: 'pasted',
  state: 'checked',
  reason: '',
  columns: { Serial: 'serial', Raum: '' },
  total: 3,
  done: 3,
  sound: 2,
  repaired: 1,
  faulty: 1,
  added: 1,
  changed: 1,
  createdAt: '2026-03-01T08:00:00Z',
  createdBy: 'owner',
};
const service = {
  'GET /roster': { items: [entry(1), entry(2, 'arrived')] },
  'GET /roster/counts': { expected: 40, arrived: 12, withdrawn: 0, barred: 1 },
  'GET /units': [{ id: 'u1', version: 0, code: 'VM-HAR', name: 'Harbour', depth: 0, devices: 0, people: 0 }],
  'GET /sites': { items: [] },
  'GET /enrollment-profiles': { items: [] },
  'GET /roster/imports/s1': sheet,
  'GET /roster/imports/s1/rows': (c: Call) => ({
    items:
      c.query.get('only') === 'faulty'
        ? [{ line: 3, identifiers: '', name: '', notes: [], faults: ['IMEI has a wrong check digit'] }]
        : [{ line: 2, identifiers: 'AR10-1', name: '', notes: ["'ar10-1' was read as AR10-1"], faults: [] }],
  }),
  'POST /roster/imports': { ...sheet, state: 'checking', done: 0 },
  'POST /roster/imports/s1/takeover': { ...sheet, state: 'saved' },
  'POST /roster/change': { count: 2 },
};
const paste = (text: string) =>
  fireEvent.change(screen.getByLabelText('Or paste it here'), { target: { value: text } });

describe('the roster', () => {
  it('is listed with how many are expected and arrived', async () => {
    serve(service);
    show(<RosterPage />, '/intake/roster');
    expect(await screen.findByText('AR10-1')).toBeTruthy();
    expect(await screen.findByText('40 expected, 12 arrived, 0 withdrawn, 1 barred')).toBeTruthy();
  });

  it('reads a sheet, reports row by row, and saves only when told to', async () => {
    const calls = serve(service);
    const { address } = show(<RosterPage />, '/intake/roster?new=sheet');
    paste('Serial,Raum\nar10-1,Quay\n');
    fireEvent.click(screen.getByText('Check the sheet'));
    expect((await screen.findByTestId('report')).textContent).toContain('1 new');
    expect(await screen.findByText('IMEI has a wrong check digit')).toBeTruthy();
    expect(calls.some((c) => c.path.endsWith('takeover'))).toBe(false);
    fireEvent.click(screen.getByText('with something to know', { exact: false }));
    expect(await screen.findByText("'ar10-1' was read as AR10-1")).toBeTruthy();
    fireEvent.click(screen.getByText('Take over 2 rows'));
    await waitFor(() => expect(address.now).toBe('/intake/roster'));
    expect(calls.find((c) => c.path.endsWith('takeover'))!.body).toEqual({ leaveOutFaulty: true });
  });

  it('asks what columns hold when it cannot tell, and keeps the sheet', async () => {
    const unmatched = { ...sheet, state: 'unmatched', columns: { Nummer: '', Raum: '' } };
    const reason = 'No column holds a serial number.';
    let now: object = { ...unmatched, reason };
    const calls = serve({
      ...service,
      'POST /roster/imports': () => now,
      'GET /roster/imports/s1': () => now,
      'PUT /roster/imports/s1/columns': (c: Call) =>
        (now = { ...sheet, columns: (c.body as { columns: object }).columns }),
    });
    show(<RosterPage />, '/intake/roster?new=sheet');
    paste('Nummer,Raum\nAR10-1,Quay\n');
    fireEvent.click(screen.getByText('Check the sheet'));
    expect(await screen.findByText(reason)).toBeTruthy();
    fireEvent.change(screen.getByLabelText('“Nummer” holds'), { target: { value: 'serial' } });
    fireEvent.click(screen.getByText('Check again with these columns'));
    await screen.findByTestId('report');
    expect(calls.find((c) => c.path === '/roster/imports')!.body).toBe('Nummer,Raum\nAR10-1,Quay\n');
    expect(calls.find((c) => c.path.endsWith('columns'))!.body).toEqual({
      columns: { Nummer: 'serial', Raum: '' },
    });
  });

  it('corrects a row under its version, and bars it', async () => {
    const calls = serve({
      ...service,
      'GET /roster/r1': entry(1),
      'PUT /roster/r1': entry(1, 'barred'),
    });
    const { address } = show(<RosterPage />, '/intake/roster?card=r1');
    fireEvent.change(await screen.findByLabelText('Serial number'), { target: { value: 'AR10-7' } });
    fireEvent.click(screen.getByLabelText(/^Barred/));
    fireEvent.click(screen.getByText('Save'));
    await waitFor(() => expect(address.now).toBe('/intake/roster'));
    const put = calls.find((c) => c.method === 'PUT')!;
    expect(put.headers.get('If-Match')).toBe('"3"');
    expect(put.body).toMatchObject({ serial: 'AR10-7', barred: true });
  });

  it('changes the rows that are picked, and leaves open what was left open', async () => {
    const calls = serve(service);
    show(<RosterPage />, '/intake/roster');
    fireEvent.click(await screen.findByLabelText('Select AR10-1'));
    fireEvent.click(screen.getByLabelText('Select AR10-2'));
    fireEvent.click(screen.getByText('Change 2 rows'));
    await screen.findByRole('option', { name: 'VM-HAR Harbour' });
    fireEvent.change(screen.getByLabelText('Unit'), { target: { value: 'u1' } });
    fireEvent.click(screen.getAllByText('Change 2 rows').at(-1)!);
    await waitFor(() => expect(calls.some((c) => c.path === '/roster/change')).toBe(true));
    expect(calls.find((c) => c.path === '/roster/change')!.body).toEqual({ ids: ['r1', 'r2'], unitId: 'u1' });
  });

  it('changes all that match but those unticked', async () => {
    const calls = serve(service);
    show(<RosterPage />, '/intake/roster?state=expected');
    await screen.findByText('AR10-1');
    fireEvent.click(screen.getByLabelText('Select all that match'));
    fireEvent.click(screen.getByLabelText('Select AR10-2'));
    fireEvent.click(await screen.findByText('Change 39 rows'));
    fireEvent.change(screen.getByLabelText(/Tags/), { target: { value: 'spring' } });
    fireEvent.click(screen.getAllByText('Change 39 rows').at(-1)!);
    await waitFor(() => expect(calls.some((c) => c.path === '/roster/change')).toBe(true));
    expect(calls.find((c) => c.path === '/roster/change')!.body).toEqual({
      state: 'expected',
      except: ['r2'],
      tags: ['spring'],
    });
  });
});

describe('numbers', () => {
  it('that are missing or doubled are named', async () => {
    serve({
      'GET /sequences': {
        items: [{ key: 'VM-HAR kiosk #', last: 36, devices: 35, missing: ['11'], doubled: [7] }],
      },
    });
    show(<NumbersPage />, '/intake/numbers');
    expect(await screen.findByText('VM-HAR kiosk #')).toBeTruthy();
    expect(screen.getByText('11')).toBeTruthy();
    expect(screen.getByText('7')).toBeTruthy();
  });
});
