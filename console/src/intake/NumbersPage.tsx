import type { ColumnDef } from '@tanstack/react-table';
import { answer, api, type Schemas } from '../api/client';
import { ListPage } from '../ui/ListPage';
import { Empty } from '../ui/parts';

type Row = Schemas['Sequence'] & { id: string };

const columns: ColumnDef<Row>[] = [
  {
    id: 'key',
    header: 'Names',
    size: 260,
    accessorFn: (s) => s.key,
    cell: ({ getValue }) => <span className="font-mono text-xs">{String(getValue())}</span>,
  },
  { id: 'last', header: 'Given out up to', size: 130, accessorFn: (s) => s.last },
  { id: 'devices', header: 'Devices', size: 100, accessorFn: (s) => s.devices },
  {
    id: 'missing',
    header: 'Missing',
    size: 240,
    accessorFn: (s) => s.missing,
    cell: ({ row: { original: s } }) =>
      s.missing.length === 0 ? (
        <span className="text-quiet">none</span>
      ) : (
        <span className="text-amber font-semibold">{s.missing.join(', ')}</span>
      ),
  },
  {
    id: 'doubled',
    header: 'Doubled',
    size: 200,
    accessorFn: (s) => s.doubled,
    cell: ({ row: { original: s } }) =>
      s.doubled.length === 0 ? (
        <span className="text-quiet">none</span>
      ) : (
        <span className="text-rust font-semibold">{s.doubled.join(', ')}</span>
      ),
  },
];

/** Running numbers in names, with what is wrong with them. */
export function NumbersPage() {
  return (
    <ListPage<Row>
      list="numbers"
      title="Numbers"
      note="running numbers in names; # stands for the number"
      columns={columns}
      query={['sequences']}
      load={async (after) => {
        const page = await answer(api.GET('/sequences', { params: { query: { after, limit: 100 } } }));
        return { ...page, items: page.items.map((s) => ({ ...s, id: s.key })) };
      }}
      empty={
        <Empty title="No names are numbered yet.">
          Put {'{seq:3}'} into the names of an enrollment profile; each device that joins by it gets the next
          number.
        </Empty>
      }
    />
  );
}
