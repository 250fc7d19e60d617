import type { ColumnDef } from '@tanstack/react-table';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { Rehearsed } from '../devices/EditSheet';
import { moment } from '../ui/dates';
import { Choice, useFilters } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Empty, Labelled, Moment, sideCard, Trouble } from '../ui/parts';
import { Read } from '../ui/RecordSheet';
import { Effects } from './RehearsalSheet';

type Proposal = Schemas['Proposal'];

const STATES: Record<Schemas['ProposalState'], string> = {
  waiting: 'Waits for somebody else',
  agreed: 'Agreed to, being done',
  done: 'Done',
  refused: 'Refused',
  withdrawn: 'Withdrawn',
  lapsed: 'Nobody decided in time',
};

const COLOURS: Record<Schemas['ProposalState'], string> = {
  waiting: 'text-amber',
  agreed: 'text-amber',
  done: 'text-moss',
  refused: 'text-rust',
  withdrawn: 'text-quiet',
  lapsed: 'text-quiet',
};

const columns: ColumnDef<Proposal>[] = [
  { id: 'title', header: 'What', size: 280, accessorFn: (p) => p.title },
  { id: 'devices', header: 'Devices', size: 90, accessorFn: (p) => p.devices },
  {
    id: 'state',
    header: 'State',
    size: 220,
    accessorFn: (p) => STATES[p.state],
    cell: ({ row: { original: p } }) => (
      <span className={COLOURS[p.state]}>
        {STATES[p.state]}
        {p.decidedBy && p.state !== 'withdrawn' && ` by ${p.decidedBy}`}
      </span>
    ),
  },
  { id: 'by', header: 'Proposed by', size: 130, accessorFn: (p) => p.proposedBy },
  {
    id: 'at',
    header: 'When',
    size: 120,
    accessorFn: (p) => p.proposedAt,
    cell: ({ row: { original: p } }) => <Moment at={p.proposedAt} />,
  },
  { id: 'note', header: 'Why', size: 320, accessorFn: (p) => p.note },
];

/** The word of whoever looks: agreeing, refusing with a reason, or taking one's own back. */
function Decide({ detail: d }: { detail: Schemas['ProposalDetail'] }) {
  const path = { id: d.proposal.id };
  const { act, trouble, busy } = useAct('proposals', 'changes', 'notices', 'profiles', 'devices');
  const [reason, setReason] = useState('');
  const me = useMe();
  if (d.mine) {
    return (
      <>
        <p className="text-quiet">You proposed this; somebody else has to agree to it.</p>
        <Button
          disabled={busy}
          onClick={() => void act(() => answer(api.POST('/proposals/{id}/withdrawal', { params: { path } })))}
        >
          Withdraw
        </Button>
        <Trouble error={trouble} />
      </>
    );
  }
  if (me.data?.account.role === 'reader' || me.data?.account.role === 'helpdesk') {
    return <p className="text-quiet">Whoever may change things agrees to it or refuses it.</p>;
  }
  const devices = d.rehearsal?.settings?.changing ?? d.rehearsal?.devices ?? 0;
  return (
    <>
      <Labelled label="Why not" hint="Needed to refuse it.">
        <input className="field" maxLength={300} value={reason} onChange={(e) => setReason(e.target.value)} />
      </Labelled>
      <div className="flex flex-wrap gap-2">
        <Button
          weight="main"
          disabled={busy || !d.rehearsal}
          onClick={() =>
            void act(() =>
              answer(api.POST('/proposals/{id}/agreement', { params: { path }, body: { seen: d.seen } })),
            )
          }
        >
          Agree, for {counted(devices, 'device')}
        </Button>
        <Button
          weight="danger"
          disabled={busy || !reason.trim()}
          onClick={() =>
            void act(() =>
              answer(api.POST('/proposals/{id}/refusal', { params: { path }, body: { reason } })),
            )
          }
        >
          Refuse
        </Button>
      </div>
      <Trouble error={trouble} />
    </>
  );
}

function ProposalCard({ detail: d, onClose }: { detail: Schemas['ProposalDetail']; onClose: () => void }) {
  const p = d.proposal;
  return (
    <aside className={`${sideCard} w-[560px]`} aria-label={p.title}>
      <div className="border-line flex items-center gap-2 border-b px-5 py-3">
        <h2 className="min-w-0 flex-1 truncate text-base font-semibold">{p.title}</h2>
        <Button weight="bare" className="px-1!" aria-label="Close" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </div>
      <div className="space-y-4 px-5 py-4 text-sm">
        <p>
          {p.proposedBy}, <Moment at={p.proposedAt} />
          {p.note && <span className="mt-1 block">“{p.note}”</span>}
        </p>
        <p className={COLOURS[p.state]}>
          {STATES[p.state]}
          {p.decidedBy && ` by ${p.decidedBy}`}
          {p.reason && `: ${p.reason}`}
          {p.state === 'waiting' && `, until ${moment(p.lapsesAt)}`}
          {p.changeId && (
            <Link className="text-brass ml-2 underline" to="/today">
              follow it in the tray
            </Link>
          )}
        </p>
        {d.since.length > 0 && (
          <div className="border-amber border-l-2 pl-3">
            <p className="font-semibold">Since it was proposed</p>
            {d.since.map((s) => (
              <p key={s}>{s}</p>
            ))}
          </div>
        )}
        {d.objection && (
          <p className="border-rust text-rust border-l-2 pl-3">
            It cannot be done as things are. {d.objection}
          </p>
        )}
        {d.rehearsal && (
          <section className="space-y-3">
            <h3 className="label">What it would do now</h3>
            {d.rehearsal.settings && d.rehearsal.examples.length === 0 ? (
              <Effects rehearsal={d.rehearsal.settings} />
            ) : (
              <Rehearsed of={d.rehearsal} />
            )}
          </section>
        )}
        {(p.state === 'waiting' || d.rehearsal) && <Decide detail={d} />}
      </div>
    </aside>
  );
}

/** Changes that wait, or waited, for a second person's word. */
export function ProposalsPage() {
  const filters = useFilters(['state']);
  const state = (filters.asked.state || undefined) as Schemas['ProposalState'] | undefined;
  return (
    <ListPage<Proposal>
      list="proposals"
      title="Proposals"
      note="changes that wait for a second person’s word"
      columns={columns}
      toolbar={<Choice filters={filters} name="state" label="State" options={Object.entries(STATES)} />}
      query={['proposals', 'list', state]}
      load={(after) => answer(api.GET('/proposals', { params: { query: { state, after, limit: 100 } } }))}
      card={(id, close) => (
        <Read
          query={['proposals', 'one', id]}
          load={() => answer(api.GET('/proposals/{id}', { params: { path: { id } } }))}
        >
          {(detail) => <ProposalCard key={id} detail={detail} onClose={close} />}
        </Read>
      )}
      empty={
        <Empty title="Nothing waits for a second person.">
          A rehearsal can be handed to somebody else, who sees what it would do and agrees or refuses. From
          how many devices on that has to be is set in{' '}
          <Link className="text-brass underline" to="/house/thresholds">
            House, Before changes
          </Link>
          .
        </Empty>
      }
    />
  );
}
