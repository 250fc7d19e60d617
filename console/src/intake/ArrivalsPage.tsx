import type { ColumnDef } from '@tanstack/react-table';
import { Link, useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useAct } from '../api/act';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Moment } from '../ui/parts';
import { Standing } from '../ui/Standing';

type Arrival = Schemas['Arrival'];
const outcomes = ['waiting', 'under-way', 'done', 'refused', 'abandoned'];

/** Every attempt to join, live, with the reason in plain words. */
export function ArrivalsPage() {
  const [search, setSearch] = useSearchParams();
  const { act, trouble } = useAct('arrivals');
  const outcome = search.get('outcome') ?? '';
  const settle = (id: string, approve: boolean) =>
    act(() => {
      const path = { params: { path: { id } } };
      return answer(
        approve
          ? api.POST('/arrivals/{id}/approval', path)
          : api.POST('/arrivals/{id}/refusal', { ...path, body: {} }),
      );
    });
  const columns: ColumnDef<Arrival>[] = [
    {
      id: 'at',
      header: 'When',
      size: 120,
      accessorFn: (a) => a.startedAt,
      cell: ({ row }) => <Moment at={row.original.startedAt} />,
    },
    {
      id: 'device',
      header: 'Device',
      size: 220,
      accessorFn: (a) => a.device ?? a.model,
      cell: ({ row: { original: a } }) =>
        a.deviceId ? (
          <Link className="text-brass underline" to={`/devices?card=${a.deviceId}`}>
            {a.device}
          </Link>
        ) : (
          a.model || 'unknown device'
        ),
    },
    {
      id: 'identifier',
      header: 'Identifier',
      size: 160,
      accessorFn: (a) => a.identifier,
      cell: ({ getValue }) => <span className="font-mono text-xs">{String(getValue())}</span>,
    },
    { id: 'profile', header: 'By', size: 200, accessorFn: (a) => a.profile },
    { id: 'step', header: 'Step', size: 100, accessorFn: (a) => a.step },
    {
      id: 'outcome',
      header: 'Outcome',
      size: 120,
      accessorFn: (a) => a.outcome,
      cell: ({ row }) => <Standing of={row.original.outcome} />,
    },
    {
      id: 'why',
      header: 'Why',
      size: 320,
      accessorFn: (a) => a.reason,
      cell: ({ row: { original: a } }) =>
        a.outcome === 'waiting' && !a.reason.startsWith('approved') ? (
          <span className="flex items-center gap-2">
            <Button weight="main" className="h-6!" onClick={() => void settle(a.id, true)}>
              Let in
            </Button>
            <Button className="h-6!" onClick={() => void settle(a.id, false)}>
              Refuse
            </Button>
          </span>
        ) : (
          a.reason
        ),
    },
  ];
  return (
    <ListPage<Arrival>
      list="arrivals"
      title="Arrivals"
      note="every attempt to join, newest first"
      trouble={trouble}
      columns={columns}
      query={['arrivals', outcome]}
      load={(after) => answer(api.GET('/arrivals', { params: { query: { outcome, after, limit: 100 } } }))}
      toolbar={['', ...outcomes].map((o) => (
        <Button
          key={o}
          weight={o === outcome ? 'plain' : 'bare'}
          aria-pressed={o === outcome}
          onClick={() => setSearch(o ? { outcome: o } : {})}
        >
          {o === '' ? 'All' : <Standing of={o} />}
        </Button>
      ))}
      empty={
        <Empty
          title={outcome ? `No arrival is ${outcome.replace('-', ' ')}.` : 'Nobody has tried to join yet.'}
        >
          {!outcome && (
            <Link className="text-brass underline" to="/intake/invitations?new=1">
              Make an invitation
            </Link>
          )}
        </Empty>
      }
    />
  );
}
