import type { ColumnDef } from '@tanstack/react-table';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { Choice, plain, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Empty, Moment } from '../ui/parts';
import { SheetLink } from '../ui/SheetLink';
import { Standing } from '../ui/Standing';

type Command = Schemas['Command'];

const STATES: Command['state'][] = [
  'planned',
  'queued',
  'delivered',
  'done',
  'failed',
  'expired',
  'cancelled',
];

const SINCE: [string, string][] = [
  ['today', 'Since midnight'],
  ['week', 'In the last 7 days'],
  ['month', 'In the last 30 days'],
];

/** The moment from which on something is asked for. */
function from(word: string): string | undefined {
  const day = new Date();
  day.setHours(0, 0, 0, 0);
  day.setDate(day.getDate() - ({ week: 7, month: 30 }[word] ?? 0));
  return SINCE.some(([key]) => key === word) ? day.toISOString() : undefined;
}

const columns: ColumnDef<Command>[] = [
  {
    id: 'queued',
    header: 'Ordered',
    size: 100,
    accessorFn: (c) => c.queuedAt,
    cell: ({ row }) => <Moment at={row.original.queuedAt} />,
  },
  {
    id: 'device',
    header: 'Device',
    size: 190,
    accessorFn: (c) => c.device,
    cell: ({ row }) => (
      <Link className="text-brass underline" to={`/devices/${row.original.deviceId}`}>
        {row.original.device}
      </Link>
    ),
  },
  {
    id: 'command',
    header: 'Command',
    size: 150,
    accessorFn: (c) => c.title,
    cell: ({ row }) => (
      <Link className="text-brass underline" to={`/records/dispatches/${row.original.dispatchId}`}>
        {row.original.title}
      </Link>
    ),
  },
  {
    id: 'state',
    header: 'State',
    size: 105,
    accessorFn: (c) => c.state,
    cell: ({ row }) => <Standing of={row.original.state} />,
  },
  { id: 'why', header: 'Why', size: 215, accessorFn: (c) => c.reason },
  {
    id: 'by',
    header: 'Ordered by',
    size: 105,
    accessorFn: (c) => c.by,
    cell: ({ row }) => (
      <Link
        className="text-brass underline"
        title="What else they ordered"
        to={`/records/commands?by=${encodeURIComponent(row.original.by)}`}
      >
        {row.original.by}
      </Link>
    ),
  },
  {
    id: 'ended',
    header: 'Ended',
    size: 100,
    accessorFn: (c) => c.endedAt,
    cell: ({ row }) => <Moment at={row.original.endedAt} />,
  },
  { id: 'answer', header: 'Answer', size: 85, accessorFn: (c) => c.answer },
];

/** What was ordered over all devices, one by one. */
export function CommandsPage() {
  const catalogue = useCatalogue();
  const filters = useFilters(['q', 'command', 'state', 'by', 'since'] as const);
  const { since, ...plainly } = filters.query;
  const query = {
    ...plainly,
    command: plainly.command as Command['command'] | undefined,
    state: plainly.state as Command['state'] | undefined,
    since: from(since ?? ''),
  };
  return (
    <ListPage<Command>
      list="commands"
      title="Commands"
      note="over all devices, newest first"
      columns={columns}
      actions={<SheetLink path="/commands.csv" asked={query} name="commands.csv" />}
      query={['dispatches', 'over-all', filters.query]}
      load={(after) => answer(api.GET('/commands', { params: { query: { ...query, after, limit: 100 } } }))}
      toolbar={
        <>
          <Words filters={filters} placeholder="Name of a device" />
          <Choice
            filters={filters}
            name="command"
            label="Command"
            options={(catalogue.data?.commands ?? []).map((c) => [c.key, c.title])}
          />
          <Choice filters={filters} name="state" label="State" options={plain(STATES)} />
          {filters.asked.by && (
            <Choice
              filters={filters}
              name="by"
              label="Ordered by"
              any="anybody"
              options={[[filters.asked.by, filters.asked.by]]}
            />
          )}
          <Choice filters={filters} name="since" label="Whenever" options={SINCE} />
        </>
      }
      empty={
        <Empty
          title={Object.keys(filters.query).length ? 'No command is like that.' : 'Nothing was ordered yet.'}
        >
          What devices are told to do, and how each of it ended, is listed here.
        </Empty>
      }
    />
  );
}
