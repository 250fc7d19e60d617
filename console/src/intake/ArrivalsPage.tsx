import type { ColumnDef } from '@tanstack/react-table';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useAct } from '../api/act';
import { Choice, plain, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Moment } from '../ui/parts';
import { SheetLink } from '../ui/SheetLink';
import { useSelection } from '../ui/selection';
import { Standing } from '../ui/Standing';

type Arrival = Schemas['Arrival'];
const outcomes = ['waiting', 'under-way', 'done', 'refused', 'abandoned'];

/** Whether somebody has to let it in. */
const waits = (a: Arrival) => a.outcome === 'waiting' && !a.reason.startsWith('approved');

function midnight(): string {
  const day = new Date();
  day.setHours(0, 0, 0, 0);
  return day.toISOString();
}

/** How far arrivals came, as steps that grow narrower, each a way to those that stopped there. */
function FunnelStrip({ since }: { since: string | undefined }) {
  const funnel = useQuery({
    queryKey: ['arrivals', 'funnel', since],
    queryFn: () => answer(api.GET('/arrivals/funnel', { params: { query: { since } } })),
  });
  const f = funnel.data;
  if (!f || f.asked === 0) {
    return null;
  }
  const why = Object.entries(f.refusals)
    .map(([kind, n]) => `${n} ${kind.replaceAll('-', ' ')}`)
    .join(', ');
  const steps: [string, number, string][] = [
    ['asked', f.asked, 'bg-slate'],
    ['let in', f.letIn, 'bg-amber'],
    ['managed', f.managed, 'bg-moss'],
  ];
  return (
    <div
      className="flex flex-wrap items-center gap-x-6 gap-y-1 pb-3 text-sm whitespace-nowrap"
      role="group"
      aria-label="How far arrivals came"
    >
      {steps.map(([word, n, colour]) => (
        <span key={word} className="flex shrink-0 items-center gap-2">
          <span className="bg-line h-2 w-20" aria-hidden>
            <span className={`${colour} block h-full`} style={{ width: `${(100 * n) / f.asked}%` }} />
          </span>
          <b>{n}</b> {word}
        </span>
      ))}
      <span>
        <b>{f.waiting}</b> waiting
      </span>
      <span className={`min-w-0 truncate ${f.refused > 0 ? 'text-rust' : ''}`} title={why}>
        <b>{f.refused}</b> refused{why && <span className="text-quiet">: {why}</span>}
      </span>
    </div>
  );
}

/** Every attempt to join, live, with the reason in plain words. */
export function ArrivalsPage() {
  const filters = useFilters(['q', 'outcome', 'since'] as const);
  const { act, trouble } = useAct('arrivals');
  const { outcome } = filters.asked;
  const selection = useSelection(JSON.stringify(filters.query));
  const since = filters.asked.since === 'today' ? midnight() : undefined;
  const query = { ...filters.query, since };
  const picked = selection.selection.ids;
  const together = (approve: boolean) =>
    act(
      () => answer(api.POST('/arrivals/settlement', { body: { ids: picked, approve } })),
      () => selection.set({ all: false, ids: [] }),
    );
  const settle = (id: string, approve: boolean) =>
    act(() => {
      const path = { params: { path: { id } } };
      return answer(
        approve
          ? api.POST('/arrivals/{id}/approval', path)
          : api.POST('/arrivals/{id}/refusal', { ...path, body: {} }),
      );
    });
  const again = (id: string) =>
    act(() => answer(api.POST('/arrivals/{id}/retry', { params: { path: { id } } })));
  const columns: ColumnDef<Arrival>[] = [
    {
      id: 'pick',
      size: 44,
      enableHiding: false,
      enableResizing: false,
      header: () => null,
      cell: ({ row }) =>
        waits(row.original) && (
          <input
            type="checkbox"
            aria-label={`Select ${row.original.identifier}`}
            checked={row.getIsSelected()}
            onChange={row.getToggleSelectedHandler()}
          />
        ),
    },
    {
      id: 'at',
      header: 'When',
      size: 100,
      accessorFn: (a) => a.startedAt,
      cell: ({ row }) => <Moment at={row.original.startedAt} />,
    },
    {
      id: 'device',
      header: 'Device',
      size: 180,
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
      size: 140,
      accessorFn: (a) => a.identifier,
      cell: ({ getValue }) => <span className="font-mono text-xs">{String(getValue())}</span>,
    },
    { id: 'profile', header: 'By', size: 160, accessorFn: (a) => a.profile },
    {
      id: 'outcome',
      header: 'Outcome',
      size: 105,
      accessorFn: (a) => a.outcome,
      cell: ({ row }) => <Standing of={row.original.outcome} />,
    },
    {
      id: 'why',
      header: 'Why',
      size: 400,
      accessorFn: (a) => a.reason,
      cell: ({ row: { original: a } }) =>
        waits(a) ? (
          <span className="flex items-center gap-2">
            <Button weight="main" className="h-6!" onClick={() => void settle(a.id, true)}>
              Let in
            </Button>
            <Button className="h-6!" onClick={() => void settle(a.id, false)}>
              Refuse
            </Button>
            <span className="truncate" title={a.reason}>
              {a.reason}
            </span>
          </span>
        ) : (
          <span title={a.advice} className="flex items-center gap-2">
            {a.outcome === 'refused' && a.refusal === 'not-on-roster' && !/may ask|barred/.test(a.reason) && (
              <Button className="h-6! shrink-0" onClick={() => void again(a.id)}>
                {a.step === 'declined' ? 'Let it try again' : 'Put it on the roster and let it in'}
              </Button>
            )}
            <span className="truncate">
              {a.reason}
              {a.settledBy && !a.reason.includes(a.settledBy) && (
                <span className="text-quiet"> ({a.settledBy})</span>
              )}
              {a.advice && <span className="text-quiet">. {a.advice}</span>}
            </span>
          </span>
        ),
    },
    { id: 'step', header: 'Step', size: 80, accessorFn: (a) => a.step },
  ];
  return (
    <ListPage<Arrival>
      list="arrivals"
      title="Arrivals"
      note="every attempt to join, newest first"
      trouble={trouble}
      columns={columns}
      actions={
        <>
          {picked.length > 0 && (
            <>
              <Button weight="main" onClick={() => void together(true)}>
                Let in {picked.length}
              </Button>
              <Button weight="danger" onClick={() => void together(false)}>
                Refuse {picked.length}
              </Button>
            </>
          )}
          <SheetLink path="/arrivals.csv" asked={query} name="arrivals.csv" />
        </>
      }
      query={['arrivals', query]}
      load={(after) => answer(api.GET('/arrivals', { params: { query: { ...query, after, limit: 100 } } }))}
      selection={selection}
      banner={<FunnelStrip since={since} />}
      toolbar={
        <>
          <Words filters={filters} placeholder="Identifier, model, profile" />
          <Choice filters={filters} name="outcome" label="Outcome" options={plain(outcomes)} />
          <Choice filters={filters} name="since" label="Whenever" options={[['today', 'Arrived today']]} />
        </>
      }
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
