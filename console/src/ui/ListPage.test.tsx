import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { serve, show } from '../testing/service';
import { Choice, plain, useFilters, Words } from './filters';
import { ListPage } from './ListPage';
import { pickColumn } from './pick';
import { useSelection } from './selection';

interface Row {
  id: string;
  name: string;
  site: string;
}

const columns: ColumnDef<Row>[] = [
  { id: 'name', header: 'Name', accessorFn: (r) => r.name },
  { id: 'site', header: 'Site', accessorFn: (r) => r.site },
];
const rows = ['Quay', 'Ridge', 'Tollen'].map((name, i) => ({ id: `r${i}`, name, site: `site of ${name}` }));

function Page({ load }: { load?: () => Promise<{ items: Row[]; next?: string }> }) {
  const filters = useFilters(['q', 'state'] as const);
  return (
    <ListPage<Row>
      list="rows"
      title="Rows"
      columns={columns}
      query={['rows', filters.query]}
      load={load ?? (() => Promise.resolve({ items: rows }))}
      toolbar={
        <>
          <Words filters={filters} placeholder="Name" />
          <Choice filters={filters} name="state" label="State" options={plain(['under-way'])} />
        </>
      }
      card={(id, close) => (
        <aside>
          card of {id} <button onClick={close}>close</button>
        </aside>
      )}
      empty={<p>nothing here</p>}
    />
  );
}

function Whole() {
  const all = useQuery({ queryKey: ['rows', {}], queryFn: () => ['Quay', 'Ridge'] });
  return <p>{all.data?.length} in all</p>;
}

describe('the page of a list', () => {
  it('keeps its answers apart from those of who asks for the whole', async () => {
    serve({});
    show(
      <>
        <Whole />
        <Page />
      </>,
      '/rows',
    );
    expect(await screen.findByText('2 in all')).toBeTruthy();
    expect(await screen.findByText('Tollen')).toBeTruthy();
  });

  it('shows its rows and opens the card of the one that is clicked', async () => {
    serve({});
    const { address } = show(<Page />, '/rows');
    fireEvent.click(await screen.findByText('Ridge'));
    expect(screen.getByText('card of r1')).toBeTruthy();
    expect(address.now).toBe('/rows?card=r1');
    fireEvent.click(screen.getByText('close'));
    expect(address.now).toBe('/rows');
  });

  it('is walked with the arrow keys, the card following', async () => {
    serve({});
    const { address } = show(<Page />, '/rows?card=r0');
    await screen.findByText('Quay');
    const list = screen.getByRole('region', { name: 'rows' });
    fireEvent.keyDown(list, { key: 'ArrowDown' });
    fireEvent.keyDown(list, { key: 'ArrowDown' });
    fireEvent.keyDown(list, { key: 'ArrowDown' });
    expect(address.now).toBe('/rows?card=r2');
    fireEvent.keyDown(list, { key: 'ArrowUp' });
    expect(address.now).toBe('/rows?card=r1');
    fireEvent.keyDown(list, { key: 'Escape' });
    expect(address.now).toBe('/rows');
  });

  it('keeps its filters in the address and lets them be cleared', async () => {
    serve({});
    const { address } = show(<Page />, '/rows');
    await screen.findByText('Quay');
    expect(screen.queryByText('Clear')).toBeNull();
    fireEvent.change(screen.getByLabelText('Words'), { target: { value: 'quay' } });
    fireEvent.click(screen.getByText('Filter'));
    fireEvent.change(await screen.findByLabelText('State'), { target: { value: 'under-way' } });
    expect(address.now).toBe('/rows?q=quay&state=under-way');
    fireEvent.click(screen.getByLabelText('Do not filter by State: under way'));
    expect(address.now).toBe('/rows?q=quay');
    fireEvent.click(screen.getByText('Clear'));
    expect(address.now).toBe('/rows');
  });

  it('saves its filters as a view of the account, without what is open', async () => {
    const calls = serve({ 'PUT /me/lists/rows': (c: { body: unknown }) => c.body });
    show(<Page />, '/rows?state=under-way&card=r0');
    fireEvent.click(await screen.findByText('Save view'));
    fireEvent.change(screen.getByLabelText(/Name/), { target: { value: ' Under way ' } });
    fireEvent.click(screen.getAllByText('Save view').at(-1)!);
    await waitFor(() => expect(calls.find((c) => c.method === 'PUT')).toBeTruthy(), { timeout: 2000 });
    expect(calls.find((c) => c.method === 'PUT')!.body).toMatchObject({
      views: [{ name: 'Under way', search: '?state=under-way' }],
    });
  });

  it('leaves out the columns the account hides', async () => {
    serve({ 'GET /me/lists': { rows: { hidden: ['site'], widths: {}, order: [], views: [] } } });
    show(<Page />, '/rows');
    await screen.findByText('Quay');
    await waitFor(() => expect(screen.queryByText('site of Quay')).toBeNull());
  });

  it('loads on at its end, and says what belongs on it when it is empty', async () => {
    serve({});
    const asked: unknown[] = [];
    const load = (after?: string) => {
      asked.push(after);
      return Promise.resolve(
        after ? { items: [{ id: 'x', name: 'Orre', site: '' }] } : { items: rows, next: 'c' },
      );
    };
    const first = show(<Page load={load} />, '/rows');
    await screen.findByText('Orre');
    expect(asked).toEqual([undefined, 'c']);
    first.unmount();
    show(<Page load={() => Promise.resolve({ items: [] })} />, '/rows');
    await screen.findByText('nothing here');
  });

  it('says what went wrong', async () => {
    serve({});
    show(<Page load={() => Promise.reject(new Error('The service cannot be reached.'))} />, '/rows');
    expect((await screen.findByRole('alert')).textContent).toBe('The service cannot be reached.');
  });
});

function Picking() {
  const selection = useSelection('');
  return (
    <>
      <output>{JSON.stringify(selection.selection)}</output>
      <ListPage<Row>
        list="rows"
        title="Rows"
        columns={[pickColumn((r: Row) => r.name), ...columns]}
        query={['rows']}
        load={() => Promise.resolve({ items: rows })}
        selection={selection}
        empty={null}
      />
    </>
  );
}

describe('picking rows', () => {
  it('one by one, or all that match but for some', async () => {
    serve({});
    show(<Picking />);
    fireEvent.click(await screen.findByLabelText('Select Ridge'));
    expect(screen.getByRole('status').textContent).toBe('{"all":false,"ids":["r1"]}');
    fireEvent.click(screen.getByLabelText('Select all that match'));
    expect((screen.getByLabelText('Select Tollen') as HTMLInputElement).checked).toBe(true);
    fireEvent.click(screen.getByLabelText('Select Quay'));
    expect(screen.getByRole('status').textContent).toBe('{"all":true,"ids":["r0"]}');
    fireEvent.click(screen.getByLabelText('Select all that match'));
    expect(screen.getByRole('status').textContent).toBe('{"all":false,"ids":[]}');
  });
});
