import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { NamePreview } from '../intake/NamePreview';
import { PersonPick } from '../organisation/choices';
import { Refusal, serve, show, type Call } from '../testing/service';
import { TargetPicker } from './TargetPicker';

const service = {
  'GET /units': [
    { id: 'u1', version: 0, code: 'VM-HAR', name: 'Harbour', depth: 1, devices: 55, people: 11 },
  ],
  'GET /groups': { items: [{ id: 'g1', name: 'Kiosks', version: 0, devices: 83 }] },
  'GET /tags': { gallery: 12 },
  'GET /people': { items: [{ id: 'p1', name: 'Ines Orrin', unit: 'VM-HAR' }] },
  'GET /devices': { items: [{ id: 'd1', name: 'VM-HAR kiosk 003' }] },
};

const find = (label: string) => screen.getByLabelText(`${label}: find`);
function choose(option: HTMLElement) {
  fireEvent.mouseDown(option);
  fireEvent.mouseUp(option);
  fireEvent.click(option);
}
const offered = () => screen.queryAllByRole('option').map((o) => o.textContent);

describe('picking whom', () => {
  it('offers everyone, units, groups and tags at once, people and devices by words', async () => {
    serve(service);
    const change = vi.fn();
    show(<TargetPicker label="Goes to" value={[]} onChange={change} everyone />);
    fireEvent.focus(find('Goes to'));
    await waitFor(() =>
      expect(offered()).toEqual([
        'everyone',
        'unitVM-HAR Harbour55 devices',
        'groupKiosks83 devices',
        'taggallery12 devices',
      ]),
    );
    choose(screen.getByText('VM-HAR Harbour'));
    expect(change).toHaveBeenCalledWith([{ kind: 'unit', ref: 'u1', name: 'VM-HAR Harbour' }]);
    fireEvent.change(find('Goes to'), { target: { value: 'ines' } });
    choose(await screen.findByText('Ines Orrin'));
    expect(change).toHaveBeenLastCalledWith([{ kind: 'person', ref: 'p1', name: 'Ines Orrin' }]);
  });

  it('is chosen from by keyboard', async () => {
    serve(service);
    const change = vi.fn();
    show(<TargetPicker label="Goes to" value={[]} onChange={change} everyone />);
    fireEvent.focus(find('Goes to'));
    fireEvent.change(find('Goes to'), { target: { value: 'gall' } });
    await waitFor(() => expect(offered()[0]).toContain('gallery'));
    fireEvent.keyDown(find('Goes to'), { key: 'Enter' });
    expect(change).toHaveBeenCalledWith([{ kind: 'tag', ref: 'gallery', name: 'gallery' }]);
  });

  it('offers nothing twice and takes out what is there', async () => {
    serve(service);
    const change = vi.fn();
    const group = { kind: 'group' as const, ref: 'g1', name: 'Kiosks' };
    show(<TargetPicker label="Leaves out" value={[group]} onChange={change} everyone={false} />);
    fireEvent.focus(find('Leaves out'));
    await waitFor(() => expect(offered()).toEqual(['unitVM-HAR Harbour55 devices', 'taggallery12 devices']));
    fireEvent.click(screen.getByLabelText('Take out group Kiosks'));
    expect(change).toHaveBeenCalledWith([]);
  });

  it('stays quick among ten thousand units', async () => {
    const units = Array.from({ length: 10_000 }, (_, i) => ({
      ...{ id: `u${i}`, version: 0, code: `U-${i}`, name: `Hall ${i}`, depth: 1, devices: 3, people: 0 },
    }));
    serve({ ...service, 'GET /units': units, 'GET /people': { items: [] }, 'GET /devices': { items: [] } });
    show(<TargetPicker label="Goes to" value={[]} onChange={vi.fn()} everyone />);
    fireEvent.focus(find('Goes to'));
    expect(await screen.findByText('9,963 more: type on to find them.')).toBeTruthy();
    expect(offered()).toHaveLength(40);
    fireEvent.change(find('Goes to'), { target: { value: 'hall 99' } });
    await waitFor(() => expect(offered()).toHaveLength(40));
    fireEvent.change(find('Goes to'), { target: { value: '9 u-4999' } });
    await waitFor(() => expect(offered()).toEqual(['unitU-4999 Hall 49993 devices']));
    fireEvent.change(find('Goes to'), { target: { value: 'no such hall' } });
    expect(await screen.findByText('Nothing is called that.')).toBeTruthy();
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
