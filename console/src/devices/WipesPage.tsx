import type { ColumnDef } from '@tanstack/react-table';
import { X } from 'lucide-react';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { Choice, useFilters } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Moment, sideCard } from '../ui/parts';
import { Read } from '../ui/RecordSheet';
import { Stage, stageOf, whatOf, WipeDetail, type Wipe } from './wipes';

const columns: ColumnDef<Wipe>[] = [
  { id: 'device', header: 'Device', size: 190, accessorFn: (w) => w.device },
  { id: 'what', header: 'What', size: 115, accessorFn: whatOf },
  {
    id: 'stage',
    header: 'How far',
    size: 165,
    accessorFn: stageOf,
    cell: ({ row }) => <Stage of={row.original} />,
  },
  { id: 'reason', header: 'Why', size: 250, accessorFn: (w) => w.reason },
  {
    id: 'by',
    header: 'Ordered by',
    size: 120,
    accessorFn: (w) => (w.agreedBy ? `${w.actor} and ${w.agreedBy}` : w.actor),
  },
  {
    id: 'at',
    header: 'Ordered',
    size: 105,
    accessorFn: (w) => w.askedAt,
    cell: ({ row }) => <Moment at={row.original.askedAt} />,
  },
  {
    id: 'known',
    header: 'Known since',
    size: 110,
    accessorFn: (w) => w.provedAt,
    cell: ({ row: { original: w } }) => w.provedAt && <Moment at={w.provedAt} />,
  },
];

function WipeCard({ wipe: w, onClose }: { wipe: Wipe; onClose: () => void }) {
  return (
    <aside className={sideCard} aria-label={`Wipe of ${w.device}`}>
      <div className="border-line flex items-center gap-2 border-b px-5 py-3">
        <div className="min-w-0 flex-1">
          <h2 className="truncate text-base font-semibold">
            <Link className="hover:underline" to={`/devices/${w.deviceId}`}>
              {w.device}
            </Link>
          </h2>
          <p className="text-quiet text-sm">
            {w.kind === 'device' ? 'Wipe of the whole device' : 'Wipe of the work part'}
          </p>
        </div>
        <Button weight="bare" className="px-1!" aria-label="Close" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </div>
      <div className="px-5 py-4">
        <p className="mb-3">
          <Stage of={w} />
        </p>
        <WipeDetail wipe={w} />
      </div>
    </aside>
  );
}

/** Every wipe, whether it happened, and how that is known. */
export function WipesPage() {
  const filters = useFilters(['open']);
  const open = filters.asked.open === 'open';
  return (
    <ListPage<Wipe>
      list="wipes"
      title="Wipes"
      note="whether they happened, and how that is known"
      columns={columns}
      toolbar={<Choice filters={filters} name="open" label="Which" options={[['open', 'Not over yet']]} />}
      query={['wipes', 'list', open]}
      load={(after) =>
        answer(api.GET('/wipes', { params: { query: { open: open || undefined, after, limit: 100 } } }))
      }
      card={(id, close) => (
        <Read
          query={['wipes', 'one', id]}
          load={() => answer(api.GET('/wipes/{id}', { params: { path: { id } } }))}
        >
          {(wipe) => <WipeCard key={id} wipe={wipe} onClose={close} />}
        </Read>
      )}
      empty={
        <Empty title="Nothing was wiped.">
          A device is wiped from its card: <em>Act on this device</em>. Here it is seen through, until the
          blank device has proved it, or the work part was brought back.
        </Empty>
      }
    />
  );
}
