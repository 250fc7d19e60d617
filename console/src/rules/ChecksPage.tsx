import type { ColumnDef } from '@tanstack/react-table';
import { Link, useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { ListPage } from '../ui/ListPage';
import { Button, Empty } from '../ui/parts';
import { CheckSheet } from './CheckSheet';
import { sayLadder } from './ladder';
import { Read } from '../ui/RecordSheet';

type Check = Schemas['Check'];

/** Where the devices are that a check finds, of one state. */
const found = (c: Check, order: Schemas['Order']) =>
  `/devices?group=${c.group.id}&rule=${encodeURIComponent(`order is ${order}`)}`;

function Count({ n, to, loud }: { n: number; to: string; loud?: boolean }) {
  return n === 0 ? (
    <span className="text-quiet">0</span>
  ) : (
    <Link className={loud ? 'text-rust font-semibold underline' : 'text-brass underline'} to={to}>
      {n.toLocaleString('en')}
    </Link>
  );
}

const columns: ColumnDef<Check>[] = [
  { id: 'name', header: 'Check', size: 170, accessorFn: (c) => c.name },
  {
    id: 'out',
    header: 'Out of order',
    size: 100,
    accessorFn: (c) => c.outOfOrder,
    cell: ({ row }) => <Count n={row.original.outOfOrder} to={found(row.original, 'out-of-order')} loud />,
  },
  {
    id: 'grace',
    header: 'Time left',
    size: 80,
    accessorFn: (c) => c.inGrace,
    cell: ({ row }) => <Count n={row.original.inGrace} to={`/devices?group=${row.original.group.id}`} />,
  },
  {
    id: 'withheld',
    header: 'Withheld',
    size: 80,
    accessorFn: (c) => c.withheld,
    cell: ({ row }) => <Count n={row.original.withheld} to={found(row.original, 'out-of-order')} />,
  },
  {
    id: 'finds',
    header: 'Finds',
    size: 210,
    accessorFn: (c) => c.rule ?? c.group.name,
    cell: ({ row: { original: c } }) =>
      c.rule === undefined ? (
        <Link className="text-brass underline" to={`/devices?group=${c.group.id}`}>
          {c.group.name}
        </Link>
      ) : (
        <code className="truncate text-xs" title={c.rule}>
          {c.rule.replaceAll(/\s+/g, ' ')}
        </code>
      ),
  },
  { id: 'steps', header: 'What follows', size: 440, accessorFn: (c) => sayLadder(c.ladder) },
];

/** Checks: which devices are not in order, and what follows. */
export function ChecksPage() {
  const [search, setSearch] = useSearchParams();
  const card = search.get('card');
  const close = () => setSearch({}, { replace: true });
  return (
    <ListPage<Check>
      list="checks"
      title="Checks"
      note="which devices are not in order, and what follows"
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Make a check
        </Button>
      }
      columns={columns}
      query={['checks']}
      load={async () => ({ items: await answer(api.GET('/checks')) })}
      onOpen={(id) => setSearch({ card: id })}
      empty={
        <Empty title="There are no checks yet.">
          A check finds devices that are not in order, such as those without encryption. Their holders are
          told what to do, and you hear of those who do not.
        </Empty>
      }
    >
      {search.get('new') && <CheckSheet onClose={close} />}
      {card && (
        <Read
          query={['checks', 'one', card]}
          load={() => answer(api.GET('/checks/{id}', { params: { path: { id: card } } }))}
        >
          {(check) => <CheckSheet key={card} check={check} onClose={close} />}
        </Read>
      )}
    </ListPage>
  );
}
