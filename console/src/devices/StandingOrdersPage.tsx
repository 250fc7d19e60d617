import type { ColumnDef } from '@tanstack/react-table';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Moment } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { daysOf } from './Repeating';

type Standing = Schemas['StandingOrder'];

function Delete({ of: o }: { of: Standing }) {
  const { act, busy } = useAct('standing-orders');
  const me = useMe();
  if (me.data?.account.role === 'reader') {
    return null;
  }
  return (
    <Button
      weight="bare"
      disabled={busy}
      aria-label={`Delete ${o.name}`}
      onClick={() =>
        void act(() =>
          answer(
            api.DELETE('/standing-orders/{id}', { params: { path: { id: o.id }, header: onVersion(o) } }),
          ),
        )
      }
    >
      Delete
    </Button>
  );
}

const columns: ColumnDef<Standing>[] = [
  { id: 'name', header: 'Name', size: 210, accessorFn: (o) => o.name },
  { id: 'what', header: 'What', size: 120, accessorFn: (o) => o.title },
  { id: 'whom', header: 'For', size: 100, accessorFn: (o) => o.whom },
  {
    id: 'when',
    header: 'When',
    size: 170,
    accessorFn: (o) => `${daysOf(o.days)} at ${o.time}`,
  },
  {
    id: 'next',
    header: 'Next',
    size: 90,
    accessorFn: (o) => o.nextAt,
    cell: ({ row }) => <Moment at={row.original.nextAt} />,
  },
  {
    id: 'last',
    header: 'Last',
    size: 130,
    accessorFn: (o) => o.lastAt,
    cell: ({ row: { original: o } }) =>
      o.fault ? (
        <span className="text-rust" title={o.fault}>
          {o.fault}
        </span>
      ) : o.lastDispatch ? (
        <Link className="text-brass underline" to={`/records/dispatches/${o.lastDispatch}`}>
          <Moment at={o.lastAt} />
        </Link>
      ) : (
        <span className="text-quiet">not yet</span>
      ),
  },
  { id: 'by', header: 'By', size: 80, accessorFn: (o) => o.madeBy },
  { id: 'delete', header: '', size: 80, cell: ({ row }) => <Delete of={row.original} /> },
];

/** Commands that repeat. */
export function StandingOrdersPage() {
  return (
    <ListPage<Standing>
      list="standing-orders"
      title="Standing orders"
      note="commands that repeat, for whoever they are for by then"
      columns={columns}
      query={['standing-orders']}
      load={(after) => answer(api.GET('/standing-orders', { params: { query: { after, limit: 100 } } }))}
      empty={
        <Empty title="Nothing repeats.">
          When a command is ordered, it can be kept to be ordered again and again: a restart every night, a
          message every Monday.
        </Empty>
      }
    />
  );
}
