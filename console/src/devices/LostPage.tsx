import type { ColumnDef } from '@tanstack/react-table';
import { useNavigate } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { Choice, useFilters } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Empty, Moment } from '../ui/parts';
import { Link } from 'react-router';
import { CaseState, type Lost } from './lost';

const columns: ColumnDef<Lost>[] = [
  {
    id: 'device',
    header: 'Device',
    size: 200,
    accessorFn: (c) => c.device,
    cell: ({ row: { original: c } }) => (
      <Link className="text-brass underline" to={`/devices/lost/${c.id}`}>
        {c.device}
      </Link>
    ),
  },
  {
    id: 'state',
    header: 'How it stands',
    size: 190,
    accessorFn: (c) => c.state,
    cell: ({ row }) => <CaseState of={row.original} />,
  },
  { id: 'what', header: 'What happened', size: 300, accessorFn: (c) => c.what },
  { id: 'holder', header: 'Held by', size: 130, accessorFn: (c) => c.holder },
  {
    id: 'heard',
    header: 'Heard',
    size: 90,
    accessorFn: (c) => c.heardAt,
    cell: ({ row }) => <Moment at={row.original.heardAt} />,
  },
  {
    id: 'opened',
    header: 'Reported',
    size: 90,
    accessorFn: (c) => c.openedAt,
    cell: ({ row }) => <Moment at={row.original.openedAt} />,
  },
];

/** Lost devices. */
export function LostPage() {
  const filters = useFilters(['state']);
  const state = (filters.asked.state || undefined) as Schemas['CaseState'] | undefined;
  const go = useNavigate();
  return (
    <ListPage<Lost>
      list="cases"
      title="Lost devices"
      note="from the report to the end"
      columns={columns}
      toolbar={
        <Choice
          filters={filters}
          name="state"
          label="State"
          options={[
            ['open', 'Being looked for'],
            ['found', 'Found'],
            ['written-off', 'Given up'],
          ]}
        />
      }
      query={['cases', 'list', state]}
      load={(after) => answer(api.GET('/cases', { params: { query: { state, after, limit: 100 } } }))}
      onOpen={(id) => go(`/devices/lost/${id}`)}
      empty={
        <Empty title="Nothing is lost.">
          A lost device is reported on its card, or found with the search above: then it is locked, looked for
          and seen through to the end here.
        </Empty>
      }
    />
  );
}
