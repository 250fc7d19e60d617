import { fireEvent, screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { Refusal, serve, show } from '../testing/service';
import { BenchList } from './BenchList';
import { CableWork } from './CableWork';

const device = (slot: number, osVersion: string, more: Partial<Schemas['BenchDevice']> = {}) =>
  ({
    ...{ rack: 1, slot, pluggedIn: true, serial: `AR10-000${slot}`, state: 'plugged', reason: '' },
    ...{ changedAt: '2026-03-02T09:00:00Z', model: 'Arbor T10', osVersion, battery: String(slot * 9) },
    ...more,
  }) as Schemas['BenchDevice'];

const devices = [
  device(1, '7.2'),
  device(2, '7.10', { work: 'update-os given' }),
  device(3, '7.2', { state: 'held', passcode: 'true' }),
];
let ticked: string[] = [];

function List() {
  const [on, setOn] = useState<string[]>([]);
  ticked = on;
  return <BenchList devices={devices} ticked={on} onTick={setOn} />;
}

const column = (i: number) =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map((r) => r.querySelectorAll('td')[i]!.textContent);

describe('what is plugged in, as a list', () => {
  it('is put in order by version and by state, and shows the odd one out', () => {
    show(<List />);
    fireEvent.click(screen.getByText('OS'));
    expect(column(5)).toEqual(['7.2', '7.2', '7.10']);
    fireEvent.click(screen.getByText('OS'));
    expect(column(5)).toEqual(['7.10', '7.2', '7.2']);
    expect(screen.getByText('7.10').className).toContain('amber');
    expect(screen.getByText('update os, under way')).toBeTruthy();
    fireEvent.click(screen.getByText('State'));
    expect(column(1)[0]).toBe('1.3');
    fireEvent.click(screen.getByLabelText('AR10-0003'));
    expect(ticked).toEqual(['AR10-0003']);
    fireEvent.click(screen.getByLabelText('All'));
    expect(ticked).toHaveLength(3);
  });

  it('is erased once their number was typed, and what is left alone is named', async () => {
    const calls = serve({
      'POST /bench-sessions/b1/work': {
        devices: 1,
        left: ['AR10-0003: it is managed as VM-HAR kiosk 003; say first that it may be erased'],
      },
    });
    show(<CableWork session="b1" serials={['AR10-0001', 'AR10-0003']} onClose={() => {}} />);
    fireEvent.change(screen.getByLabelText(/^What/), { target: { value: 'erase' } });
    const go = screen.getByText('Erase: 2 devices') as HTMLButtonElement;
    expect(go.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Type 2 to erase them'), { target: { value: '2' } });
    fireEvent.click(go);
    expect((await screen.findByRole('status')).textContent).toContain('VM-HAR kiosk 003');
    expect(calls[0]?.body).toMatchObject({ what: 'erase', confirmDevices: 2 });
  });

  it('keeps what was typed when the service refuses', async () => {
    serve({ 'POST /bench-sessions/b1/work': new Refusal(400, 'malformed', 'There is no version 9.9.') });
    show(<CableWork session="b1" serials={['AR10-0001']} onClose={() => {}} />);
    const field = screen.getByLabelText('Version') as HTMLInputElement;
    fireEvent.change(field, { target: { value: '9.9' } });
    fireEvent.click(screen.getByText('Update the OS: 1 device'));
    expect(await screen.findByText(/no version 9.9/)).toBeTruthy();
    await waitFor(() => expect(field.value).toBe('9.9'));
  });
});
