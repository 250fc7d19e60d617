import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { RotateCw } from 'lucide-react';
import { Link, useNavigate, useParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Brought, bringsBack } from '../devices/Brought';
import { moment } from '../ui/dates';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Moment } from '../ui/parts';
import { SheetLink } from '../ui/SheetLink';
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
  {
    id: 'brought',
    header: 'Brought back',
    size: 150,
    accessorFn: () => '',
    cell: ({ row }) => <Brought by={row.original} />,
  },
  { id: 'answer', header: 'Answer', size: 180, accessorFn: (c) => c.answer },
  { id: 'why', header: 'Why', size: 300, accessorFn: (c) => c.reason },
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
  {
    id: 'read',
    header: 'Read',
    size: 110,
    accessorFn: (c) => c.readAt,
    cell: ({ row }) => row.original.readAt && <Moment at={row.original.readAt} />,
  },
];

/** What holders answered, summed up, with how many have not. */
export function Answers({ of: d }: { of: Schemas['Dispatch'] }) {
  const given = Object.entries(d.answers);
  if (d.command !== 'ask') {
    return null;
  }
  const said = given.reduce((n, [, m]) => n + m, 0);
  const most = Math.max(1, ...given.map(([, n]) => n));
  return (
    <section aria-label="Answers" className="border-line border-b px-6 py-3 text-sm">
      <p className="mb-2 max-w-2xl">
        “{d.fields['text']}”{' '}
        <span className="text-quiet">
          {said} of {d.total} answered
        </span>
      </p>
      <ul className="grid max-w-2xl grid-cols-[auto_1fr_auto] items-center gap-x-3 gap-y-1">
        {given.map(([answer, n]) => (
          <li key={answer} className="contents">
            <span>{answer}</span>
            <span className="bg-raised h-2">
              <span className="bg-moss block h-2" style={{ width: `${(n / most) * 100}%` }} />
            </span>
            <span className="text-right tabular-nums">{n}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** One dispatch, device by device. */
export function DispatchPage() {
  const { id = '' } = useParams();
  const go = useNavigate();
  const { act, trouble, busy } = useAct('dispatches');
  const dispatch = useQuery({
    queryKey: ['dispatches', id],
    queryFn: () => answer(api.GET('/dispatches/{id}', { params: { path: { id } } })),
  });
  const d = dispatch.data;
  const cancel = () =>
    act(() => answer(api.POST('/dispatches/{id}/cancellation', { params: { path: { id } } })));
  const waiting = (d?.states['queued'] ?? 0) + (d?.states['planned'] ?? 0);
  const bad = (d?.states['failed'] ?? 0) + (d?.states['expired'] ?? 0);
  const repeated = d && {
    command: d.command,
    fields: d.fields,
    reason: d.reason || undefined,
    again: d.id,
  };
  // those that cannot be told so at all are not tried again
  const lost = useQuery({
    queryKey: ['dispatches', id, 'again', bad],
    enabled: bad > 0,
    queryFn: () => answer(api.POST('/dispatches/rehearsal', { body: repeated! })),
  });
  const again = lost.data?.devices ?? 0;
  return (
    <ListPage<Command>
      list="dispatch"
      title={d?.title ?? 'Dispatch'}
      note={
        d &&
        `${counted(d.total, 'device')}, ordered by ${d.actor}${d.reason ? `: ${d.reason}` : ''}${d.dueAt ? `, for ${moment(d.dueAt)}` : ''}${d.window ? `, between ${d.window.from} and ${d.window.to} there` : ''}${d.notInUse ? ', while nobody uses it' : ''}${d.command === 'message' && d.read > 0 ? `; read on ${d.read}` : ''}`
      }
      actions={
        <>
          <SheetLink path="/commands.csv" asked={{ dispatch: id }} name="commands.csv" />
          {repeated && again > 0 && (
            <Button
              disabled={busy}
              onClick={() =>
                void act(
                  () =>
                    answer(
                      api.POST('/dispatches', {
                        params: { header: { 'Idempotency-Key': crypto.randomUUID() } },
                        body: { ...repeated, confirmDevices: lost.data?.confirmDevices },
                      }),
                    ),
                  (made) => go(`/records/dispatches/${made.id}`),
                )
              }
            >
              <RotateCw className="size-4" /> Try again on {counted(again, 'device')}
            </Button>
          )}
          {waiting > 0 && (
            <Button weight="danger" disabled={busy} onClick={() => void cancel()}>
              Cancel on {counted(waiting, 'device')}
            </Button>
          )}
        </>
      }
      trouble={trouble ?? dispatch.error}
      columns={columns.filter(
        (col) =>
          (col.id !== 'answer' || d?.command === 'ask') &&
          (col.id !== 'brought' || bringsBack(d?.command)) &&
          (col.id !== 'read' || d?.command === 'message'),
      )}
      banner={d && <Answers of={d} />}
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
