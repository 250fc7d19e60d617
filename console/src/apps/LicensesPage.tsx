import type { ColumnDef } from '@tanstack/react-table';
import { Link, useSearchParams } from 'react-router';
import { X } from 'lucide-react';
import { answer, api } from '../api/client';
import { useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, sideCard } from '../ui/parts';
import { Read } from '../ui/RecordSheet';
import { RedeemCodes } from './RedeemCodes';
import { lasts, LICENSED, LicenseBar, licensees, type LicensePool, Pool } from './licenses';

const columns: ColumnDef<LicensePool>[] = [
  { id: 'app', header: 'App', size: 150, accessorFn: (p) => p.app },
  { id: 'place', header: 'Bought for', size: 120, accessorFn: (p) => p.place },
  {
    id: 'bar',
    header: 'Used',
    size: 170,
    accessorFn: (p) => p.used,
    cell: ({ row: { original: p } }) => (
      <span className="flex items-center gap-3">
        <LicenseBar pool={p} />
        <span className="w-16 shrink-0 text-right">
          {p.used} of {p.owned}
        </span>
      </span>
    ),
  },
  { id: 'free', header: 'Free', size: 60, accessorFn: (p) => p.free },
  {
    id: 'lacking',
    header: 'Short of',
    size: 80,
    accessorFn: (p) => p.lacking,
    cell: ({ row: { original: p } }) =>
      p.lacking > 0 ? <span className="text-rust font-semibold">{p.lacking}</span> : '',
  },
  {
    id: 'site',
    header: 'For devices of',
    size: 140,
    accessorFn: (p) => p.site ?? '',
    cell: ({ row: { original: p } }) => p.site ?? <span className="text-quiet">every site</span>,
  },
  { id: 'lasts', header: 'Lasts', size: 150, accessorFn: lasts },
];

function Card({ pool, onClose }: { pool: LicensePool; onClose: () => void }) {
  return (
    <aside className={sideCard} aria-label={`${pool.app}, ${pool.place}`}>
      <div className="border-line flex items-start border-b px-5 py-4">
        <div className="min-w-0 flex-1">
          <h2 className="truncate text-base font-semibold">
            <Link className="hover:underline" to={`/apps/catalogue?card=${pool.appId}`}>
              {pool.app}
            </Link>
          </h2>
          <p className="text-quiet text-sm">
            Store of {pool.platform}, {LICENSED[pool.licensing]}
          </p>
        </div>
        <Button weight="bare" className="px-1!" aria-label="Close" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </div>
      <div className="px-5 py-2">
        {pool.lacking > 0 && (
          <p className="border-rust my-2 border-l-2 pl-3 text-sm">
            <b>{licensees(pool.lacking, pool.licensing)} without.</b> Buy more in the vendor's portal, or move
            some here from another place.
          </p>
        )}
        <Pool pool={pool} />
      </div>
    </aside>
  );
}

/** License pools by the name of their app. */
export function LicensesPage() {
  const [search, setSearch] = useSearchParams();
  const filters = useFilters(['q']);
  const { asked, query } = filters;
  return (
    <ListPage<LicensePool>
      list="licenses"
      title="Licenses"
      note="bought in the vendors' portals, counted and handed out here"
      actions={<Button onClick={() => setSearch({ new: 'codes' })}>Redeem codes</Button>}
      columns={columns}
      toolbar={<Words filters={filters} placeholder="App, place or site" />}
      query={['licenses', 'list', query]}
      load={(after) =>
        answer(api.GET('/license-pools', { params: { query: { q: asked.q, after, limit: 100 } } }))
      }
      card={(id, close) => (
        <Read
          query={['licenses', 'one', id]}
          load={() => answer(api.GET('/license-pools/{id}', { params: { path: { id } } }))}
        >
          {(pool) => <Card key={id} pool={pool} onClose={close} />}
        </Read>
      )}
      empty={
        <Empty title={query.q ? 'No pool is called so.' : 'No licenses were bought yet.'}>
          Licenses are bought in a platform's portal, in a number and for a place. They appear here by
          themselves once the store is connected under{' '}
          <Link className="text-brass underline" to="/house/gateways">
            Gateways
          </Link>
          .
        </Empty>
      }
    >
      {search.get('new') === 'codes' && <RedeemCodes onClose={() => setSearch({})} />}
    </ListPage>
  );
}
