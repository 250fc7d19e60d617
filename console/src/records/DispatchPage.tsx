import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { ListTable } from '../ui/ListTable';
import { Button, Heading, Moment, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';

type Command = Schemas['Command'];

const columns: ColumnDef<Command>[] = [
  {
    id: 'device',
    header: 'Device',
    size: 240,
    accessorFn: (c) => c.device,
    cell: ({ row }) => (
      <Link className="text-brass underline" to={`/devices/${row.original.deviceId}`}>
        {row.original.device}
      </Link>
    ),
  },
  {
    id: 'state',
    header: 'State',
    size: 120,
    accessorFn: (c) => c.state,
    cell: ({ row }) => <Standing of={row.original.state} />,
  },
  { id: 'why', header: 'Why', size: 320, accessorFn: (c) => c.reason },
  {
    id: 'queued',
    header: 'Queued',
    size: 120,
    accessorFn: (c) => c.queuedAt,
    cell: ({ row }) => <Moment at={row.original.queuedAt} />,
  },
  {
    id: 'ended',
    header: 'Ended',
    size: 120,
    accessorFn: (c) => c.endedAt,
    cell: ({ row }) => <Moment at={row.original.endedAt} />,
  },
];

/** One dispatch, device by device. */
export function DispatchPage() {
  const { id = '' } = useParams();
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState<unknown>();
  const dispatch = useQuery({
    queryKey: ['dispatches', id],
    queryFn: () => answer(api.GET('/dispatches/{id}', { params: { path: { id } } })),
  });
  const pages = usePages<Command>(['dispatches', id, 'commands'], (after) =>
    answer(api.GET('/dispatches/{id}/commands', { params: { path: { id }, query: { after, limit: 100 } } })),
  );
  const d = dispatch.data;
  async function cancel() {
    try {
      await answer(api.POST('/dispatches/{id}/cancellation', { params: { path: { id } } }));
      await queries.invalidateQueries({ queryKey: ['dispatches'] });
    } catch (e) {
      setTrouble(e);
    }
  }
  return (
    <section className="flex min-w-0 flex-1 flex-col">
      <Heading
        title={d?.title ?? 'Dispatch'}
        note={d && `${d.total} devices, ordered by ${d.actor}${d.reason ? `: ${d.reason}` : ''}`}
      >
        {(d?.states['queued'] ?? 0) > 0 && (
          <Button weight="danger" onClick={() => void cancel()}>
            Cancel on {d?.states['queued']} devices
          </Button>
        )}
      </Heading>
      <Trouble error={trouble ?? dispatch.error} />
      <ListTable
        name="dispatch"
        columns={columns}
        rows={pages.items}
        loading={pages.isLoading}
        more={pages.hasNextPage}
        loadMore={() => !pages.isFetchingNextPage && void pages.fetchNextPage()}
        empty={null}
      />
    </section>
  );
}
