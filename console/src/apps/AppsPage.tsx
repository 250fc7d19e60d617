import type { ColumnDef } from '@tanstack/react-table';
import { useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { Choice, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, Empty } from '../ui/parts';
import { Read } from '../ui/RecordSheet';
import { AppCard } from './AppCard';
import { AppMark } from './AppMark';
import { type App, ORIGINS } from './apps';
import { BringPackage } from './BringPackage';
import { FindInStore } from './FindInStore';
import { WebApp } from './WebApp';

const columns: ColumnDef<App>[] = [
  {
    id: 'name',
    header: 'Name',
    size: 220,
    accessorFn: (a) => a.name,
    cell: ({ row: { original: a } }) => (
      <span className="flex items-center gap-2">
        <AppMark app={a} />
        {a.name}
      </span>
    ),
  },
  { id: 'publisher', header: 'Publisher', size: 150, accessorFn: (a) => a.publisher },
  { id: 'origin', header: 'From', size: 120, accessorFn: (a) => ORIGINS[a.origin] },
  { id: 'platforms', header: 'Platforms', size: 120, accessorFn: (a) => a.platforms.join(', ') },
  {
    id: 'released',
    header: 'Released',
    size: 90,
    accessorFn: (a) => a.forAll ?? '',
    cell: ({ row: { original: a } }) =>
      a.forAll ?? (a.origin === 'system' ? '' : <span className="text-quiet">not yet</span>),
  },
  { id: 'assigned', header: 'Assigned to', size: 90, accessorFn: (a) => a.assigned },
  {
    id: 'there',
    header: 'There on',
    size: 80,
    accessorFn: (a) => (a.origin === 'system' ? '' : a.there),
  },
  {
    id: 'failing',
    header: 'Failing on',
    size: 80,
    accessorFn: (a) => a.failing,
    cell: ({ row: { original: a } }) => (
      <span className={a.failing > 0 ? 'text-rust font-semibold' : ''}>{a.failing}</span>
    ),
  },
];

/** Apps by name. */
export function AppsPage() {
  const [search, setSearch] = useSearchParams();
  const filters = useFilters(['q', 'from']);
  const { asked, query } = filters;
  return (
    <ListPage<App>
      list="apps"
      title="Apps"
      note="what devices install, may pick, and may not have"
      actions={
        <>
          <Button onClick={() => setSearch({ new: 'store' })}>Find in a store</Button>
          <Button onClick={() => setSearch({ new: 'web' })}>Take a page</Button>
          <Button weight="main" onClick={() => setSearch({ new: 'package' })}>
            Bring a package
          </Button>
        </>
      }
      columns={columns}
      toolbar={
        <>
          <Words filters={filters} placeholder="Name, id or publisher" />
          <Choice filters={filters} name="from" label="From" options={Object.entries(ORIGINS)} />
        </>
      }
      query={['apps', 'list', query]}
      load={(after) =>
        answer(
          api.GET('/apps', {
            params: {
              query: {
                q: asked.q,
                from: (query.from as Schemas['AppOrigin'] | undefined) ?? undefined,
                after,
                limit: 100,
              },
            },
          }),
        )
      }
      card={(id, close) => (
        <Read
          query={['apps', 'one', id]}
          load={() => answer(api.GET('/apps/{id}', { params: { path: { id } } }))}
        >
          {(detail) => <AppCard key={id} detail={detail} onClose={close} />}
        </Read>
      )}
      empty={
        <Empty title={query.q ? 'No app is called so.' : 'There are none of these.'}>
          Find one in a platform's store, or bring a package of your own: the gallery guide, the rota,
          whatever your devices are for. Then say for whom it is.
        </Empty>
      }
    >
      {search.get('new') === 'store' && (
        <FindInStore onAdded={(detail) => setSearch({ card: detail.app.id })} onClose={() => setSearch({})} />
      )}
      {search.get('new') === 'web' && (
        <WebApp
          onMade={(detail) => setSearch({ card: detail.app.id })}
          onClose={() => setSearch((now) => (now.has('new') ? {} : now))}
        />
      )}
      {search.get('new') === 'package' && (
        <BringPackage
          onBrought={(detail) => setSearch({ card: detail.app.id })}
          onClose={() => setSearch({})}
        />
      )}
    </ListPage>
  );
}
