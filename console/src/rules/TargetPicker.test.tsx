import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { NamePreview } from '../intake/NamePreview';
import { PersonPick } from '../organisation/choices';
import { Refusal, serve, show, type Call } from '../testing/service';
import { TargetPicker } from './TargetPicker';

const service = {
  'GET /units': [
    { id: 'u1', version: 0, code: 'VM-HAR', name: 'Harbour', depth: 1, devices: 55, people: 11 },
  ],
  'GET /groups': { items: [{ id: 'g1', name: 'Kiosks' }] },
  'GET /tags': { gallery: 12 },
  'GET /people': { items: [{ id: 'p1', name: 'Ines Orrin', unit: 'VM-HAR' }] },
  'GET /devices': { items: [{ id: 'd1', name: 'VM-HAR kiosk 003' }] },
};

describe('picking whom', () => {
  it('offers everyone, units, groups and tags at once, people and devices by words', async () => {
    serve(service);
    const change = vi.fn();
    show(<TargetPicker label="Goes to" value={[]} onChange={change} everyone />);
    fireEvent.click(await screen.findByText('+ unit VM-HAR Harbour'));
    expect(change).toHaveBeenCalledWith([{ kind: 'unit', ref: 'u1', name: 'VM-HAR Harbour' }]);
    expect(screen.getByText('+ everyone')).toBeTruthy();
    expect(screen.queryByText('+ person Ines Orrin')).toBeNull();
    fireEvent.change(screen.getByLabelText('Goes to: find'), { target: { value: 'ines' } });
    fireEvent.click(await screen.findByText('+ person Ines Orrin'));
    expect(change).toHaveBeenLastCalledWith([{ kind: 'person', ref: 'p1', name: 'Ines Orrin' }]);
  });

  it('offers nothing twice and takes out what is there', async () => {
    serve(service);
    const change = vi.fn();
    const group = { kind: 'group' as const, ref: 'g1', name: 'Kiosks' };
    show(<TargetPicker label="Leaves out" value={[group]} onChange={change} everyone={false} />);
    await screen.findByText('+ tag gallery');
    expect(screen.queryByText('+ group Kiosks')).toBeNull();
    expect(screen.queryByText('+ everyone')).toBeNull();
    fireEvent.click(screen.getByLabelText('Take out group Kiosks'));
    expect(change).toHaveBeenCalledWith([]);
  });
});

describe('picking a person', () => {
  it('finds by two letters, and empty is nobody', async () => {
    const calls = serve(service);
    const change = vi.fn();
    show(<PersonPick label="Held by" name="Bo Skarnes" onChange={change} />);
    const field = screen.getByLabelText(/Held by/);
    fireEvent.change(field, { target: { value: 'i' } });
    expect(calls.filter((c) => c.path === '/people')).toHaveLength(0);
    fireEvent.change(field, { target: { value: 'in' } });
    fireEvent.click(await screen.findByText('Ines Orrin'));
    expect(change).toHaveBeenCalledWith({ id: 'p1', name: 'Ines Orrin' });
    fireEvent.change(field, { target: { value: '' } });
    expect(change).toHaveBeenLastCalledWith(undefined);
  });
});

describe('the preview of names', () => {
  it('shows what the pattern makes of real rows', async () => {
    const calls = serve({
      'POST /enrollment-profiles/name-preview': (c: Call) => [
        { device: 'AR10-1', name: `${(c.body as { namePattern: string }).namePattern.length} letters` },
      ],
    });
    show(<NamePreview pattern="{unit} {seq:3}" unitId="u1" />);
    expect(await screen.findByText('14 letters')).toBeTruthy();
    expect(calls.at(-1)!.body).toMatchObject({ namePattern: '{unit} {seq:3}', unitId: 'u1' });
  });

  it('says what a pattern cannot have', async () => {
    serve({ 'POST /enrollment-profiles/name-preview': new Refusal(400, 'malformed', 'Not {colour}.') });
    show(<NamePreview pattern="{colour}" />);
    expect(await screen.findByText('Not {colour}.')).toBeTruthy();
  });
});
