import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { TagsPage } from '../devices/TagsPage';
import { Refusal, serve, show, type Call } from '../testing/service';
import { FilterRow, useFilters } from '../ui/filters';
import { AttributeFields } from './AttributeFields';
import { AttributeFilter, conditions } from './AttributeFilter';
import { AttributesPage } from './AttributesPage';
import { SheetButtons } from './SheetButtons';

describe('sheets', () => {
  it('are checked first and taken over only when every row is sound', async () => {
    let faults = [{ line: 3, fault: "there is no unit 'VM-FAR'" }];
    const calls = serve({
      'POST /organisation/people.csv': (call: Call) => ({
        saved: call.query.get('save') === 'true',
        ...{ rows: 2, added: 2, changed: 0, faults },
      }),
    });
    show(<SheetButtons what="people" />);
    fireEvent.click(screen.getByText('Take in a sheet'));
    fireEvent.change(screen.getByLabelText('Rows of the sheet'), { target: { value: 'name\nInes' } });
    fireEvent.click(screen.getByText('Check'));
    expect(await screen.findByText("there is no unit 'VM-FAR'")).toBeTruthy();
    expect((screen.getByText('Take over') as HTMLButtonElement).disabled).toBe(true);
    faults = [];
    fireEvent.click(screen.getByText('Check'));
    fireEvent.click(await screen.findByText('Take over 2 rows'));
    expect(await screen.findByText(/Taken over: 2 added/)).toBeTruthy();
    expect(calls.at(-1)!.body).toBe('name\nInes');
  });
});

describe('sheets of devices', () => {
  it('say which devices get other settings, and ask for their number', async () => {
    const rehearsal = {
      ...{ devices: 30, changing: 30, gain: 30, change: 0, lose: 0, effects: [], conflicts: [] },
      ...{ shortages: [], unsupported: [], confirmDevices: 30 },
    };
    const calls = serve({
      'POST /organisation/devices.csv': (call: Call) => ({
        saved: call.query.get('save') === 'true',
        ...{ rows: 30, added: 0, changed: 30, faults: [], rehearsal },
      }),
    });
    show(<SheetButtons what="devices" />);
    fireEvent.click(screen.getByText('Take in a sheet'));
    fireEvent.change(screen.getByLabelText('Rows of the sheet'), { target: { value: 'identifier' } });
    fireEvent.click(screen.getByText('Check'));
    expect(await screen.findByText(/30 of 30 devices get other settings/)).toBeTruthy();
    const save = screen.getByText('Take over 30 rows') as HTMLButtonElement;
    expect(save.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText(/Type 30/), { target: { value: '30' } });
    expect(save.disabled).toBe(false);
    fireEvent.click(save);
    expect(await screen.findByText('Taken over: 30 changed.')).toBeTruthy();
    expect(calls.at(-1)!.body).toBe('identifier');
    expect(calls.at(-1)!.query.get('confirmDevices')).toBe('30');
  });
});

describe('tags', () => {
  const tags = { gallery: 84, audio: 1 };

  it('lead to the devices that have them', async () => {
    serve({ 'GET /tags': tags });
    show(<TagsPage />, '/devices/tags');
    fireEvent.click(await screen.findByText('gallery'));
    const link = await screen.findByRole('link', { name: '84 devices' });
    expect(link.getAttribute('href')).toBe('/devices?tag=gallery');
  });

  it('are renamed, and say when two become one', async () => {
    const calls = serve({ 'GET /tags': tags, 'PATCH /tags/audio': null });
    show(<TagsPage />, '/devices/tags?card=audio');
    const name = await screen.findByLabelText(/Name/);
    expect((screen.getByText('Rename') as HTMLButtonElement).disabled).toBe(true);
    await screen.findByText('1 device');
    fireEvent.change(name, { target: { value: 'gallery' } });
    expect(await screen.findByText(/the two become one/)).toBeTruthy();
    expect(screen.getByText('Put together')).toBeTruthy();
    fireEvent.change(name, { target: { value: 'guides' } });
    fireEvent.click(screen.getByText('Rename'));
    await waitFor(() => expect(calls.some((c) => c.method === 'PATCH')).toBe(true));
    expect(calls.find((c) => c.method === 'PATCH')!.body).toEqual({ name: 'guides' });
  });

  it('are taken away, and stay with what keeps them', async () => {
    serve({
      'GET /tags': tags,
      'DELETE /tags/audio': new Refusal(409, 'in-use', 'Profiles are assigned by the tag audio: Guides.'),
    });
    show(<TagsPage />, '/devices/tags?card=audio');
    fireEvent.click(await screen.findByText('Take away'));
    expect(await screen.findByText('Take audio away from 1 device?')).toBeTruthy();
    fireEvent.click(screen.getByText('Yes, take away'));
    expect(await screen.findByText(/assigned by the tag audio: Guides/)).toBeTruthy();
  });
});

describe('the filter by attributes', () => {
  const attributes: Schemas['Attribute'][] = [
    {
      id: 'a1',
      name: 'Room',
      kind: 'device',
      type: 'choice',
      choices: ['Hall', 'Tower'],
      used: 2,
      version: 0,
    },
    { id: 'a2', name: 'Lease ends', kind: 'device', type: 'date', choices: [], used: 1, version: 0 },
  ];

  function Page() {
    const filters = useFilters(['attribute'] as const);
    return (
      <FilterRow>
        <AttributeFilter filters={filters} attributes={attributes} />
      </FilterRow>
    );
  }

  it('asks for one of the choices', async () => {
    const { address } = show(<Page />, '/devices');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText('Attribute'), { target: { value: 'a1' } });
    fireEvent.change(screen.getByLabelText('Room'), { target: { value: 'Tower' } });
    fireEvent.click(screen.getByText('Ask'));
    expect(await screen.findByText('Room is Tower')).toBeTruthy();
    expect(conditions(new URLSearchParams(address.now.split('?')[1]).get('attribute')!)).toEqual([
      'Room=Tower',
    ]);
  });

  it('compares days, and needs one to compare with', async () => {
    const { address } = show(<Page />, '/devices?attribute=Room%3DHall');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText('Attribute'), { target: { value: 'a2' } });
    fireEvent.change(screen.getByLabelText(/How Lease ends/), { target: { value: '<' } });
    expect((screen.getByText('Ask') as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Lease ends'), { target: { value: '2027-01-01' } });
    fireEvent.click(screen.getByText('Ask'));
    expect(await screen.findByText('Lease ends before 2027-01-01')).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Do not filter by Room is Hall'));
    await waitFor(() => expect(screen.queryByText('Room is Hall')).toBeNull());
    expect(address.now).toContain('Lease+ends%3C2027-01-01');
  });

  it('finds those without a value', async () => {
    show(<Page />, '/devices');
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText('Attribute'), { target: { value: 'a1' } });
    fireEvent.click(screen.getByText('Ask'));
    expect(await screen.findByText('Room: none')).toBeTruthy();
  });
});

describe('attributes', () => {
  it('of a device are changed one by one', async () => {
    const calls = serve({
      'GET /attributes/device/d1': [
        { attributeId: 'a1', name: 'Room', type: 'choice', choices: ['Hall', 'Tower'], value: 'Hall' },
        { attributeId: 'a2', name: 'Lease ends', type: 'date', choices: [] },
      ],
      'PUT /attributes/device/d1': [],
    });
    show(<AttributeFields kind="device" id="d1" />);
    fireEvent.change(await screen.findByLabelText('Room'), { target: { value: 'Tower' } });
    fireEvent.click(screen.getByText('Save attributes'));
    await waitFor(() => expect(calls.some((c) => c.method === 'PUT')).toBe(true));
    expect(calls.find((c) => c.method === 'PUT')!.body).toEqual({ values: { Room: 'Tower' } });
  });

  it('are made with their choices', async () => {
    const calls = serve({ 'GET /attributes': [], 'POST /attributes': {} });
    show(<AttributesPage />, '/devices/attributes?new=1');
    fireEvent.change(screen.getByLabelText(/Name/), { target: { value: 'Room' } });
    fireEvent.change(screen.getByLabelText('Type'), { target: { value: 'choice' } });
    fireEvent.change(screen.getByLabelText(/Choices/), { target: { value: 'Hall, Tower' } });
    fireEvent.click(screen.getByText('Make attribute'));
    await waitFor(() => expect(calls.some((c) => c.method === 'POST')).toBe(true));
    expect(calls.find((c) => c.method === 'POST')!.body).toEqual({
      ...{ name: 'Room', kind: 'device', type: 'choice', choices: ['Hall', 'Tower'] },
    });
  });

  it('take other words, and keep those that are in use', async () => {
    const room = {
      id: 'a1',
      name: 'Room',
      kind: 'device',
      type: 'choice',
      choices: ['Hall'],
      used: 1,
      version: 0,
    };
    const calls = serve({
      'GET /attributes': [room],
      'PATCH /attributes/a1': new Refusal(409, 'in-use', "'Hall' is the value of 1."),
    });
    show(<AttributesPage />, '/devices/attributes?card=a1');
    const choices = await screen.findByLabelText(/Choices/);
    fireEvent.click(screen.getByText('Delete'));
    expect(screen.getByText(/It has 1 value,/)).toBeTruthy();
    fireEvent.click(screen.getByText('Keep it'));
    fireEvent.change(choices, { target: { value: 'Tower, Cellar' } });
    fireEvent.click(screen.getByText('Save'));
    expect(await screen.findByText(/'Hall' is the value of 1/)).toBeTruthy();
    expect((choices as HTMLInputElement).value).toBe('Tower, Cellar');
    expect(calls.find((c) => c.method === 'PATCH')!.body).toEqual({
      name: 'Room',
      choices: ['Tower', 'Cellar'],
    });
  });
});
