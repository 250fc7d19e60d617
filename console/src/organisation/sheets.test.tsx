import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { TagsPage } from '../devices/TagsPage';
import { serve, show } from '../testing/service';
import { AttributeFields } from './AttributeFields';
import { AttributesPage } from './AttributesPage';
import { SheetButtons } from './SheetButtons';

describe('sheets', () => {
  it('are checked first and taken over only when every row is sound', async () => {
    let faults = [{ line: 3, fault: "there is no unit 'VM-FAR'" }];
    const calls = serve({
      'POST /organisation/people.csv': (call: { body: unknown }) => ({
        saved: Boolean((call.body as { save?: boolean }).save),
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
    expect(calls.at(-1)!.body).toEqual({ csv: 'name\nInes', save: true });
  });
});

describe('tags', () => {
  it('lead to the devices that have them', async () => {
    serve({ 'GET /tags': { gallery: 84, audio: 12 } });
    const { address } = show(<TagsPage />, '/devices/tags');
    fireEvent.click(await screen.findByText('gallery'));
    await waitFor(() => expect(address.now).toBe('/devices?tag=gallery'));
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
});
