import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { Link, useParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { ListPage } from '../ui/ListPage';
import { Button, Moment } from '../ui/parts';
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
  const { act, trouble } = useAct('dispatches');
  const dispatch = useQuery({
    queryKey: ['dispatches', id],
    queryFn: () => answer(api.GET('/dispatches/{id}', { params: { path: { id } } })),
  });
  const d = dispatch.data;
  const cancel = () =>
    act(() => answer(api.POST('/dispatches/{id}/cancellation', { params: { path: { id } } })));
  return (
    <ListPage<Command>
      list="dispatch"
      title={d?.title ?? 'Dispatch'}
      note={d && `${d.total} devices, ordered by ${d.actor}${d.reason ? `: ${d.reason}` : ''}`}
      actions={
        (d?.states['queued'] ?? 0) > 0 && (
          <Button weight="danger" onClick={() => void cancel()}>
            Cancel on {d?.states['queued']} devices
          </Button>
        )
      }
      trouble={trouble ?? dispatch.error}
      columns={columns}
      query={['dispatches', id, 'commands']}
      load={(after) =>
        answer(
          api.GET('/dispatches/{id}/commands', { params: { path: { id }, query: { after, limit: 100 } } }),
        )
      }
      empty={null}
    />
  );
}
