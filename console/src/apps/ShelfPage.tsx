import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useApps } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { Empty, Heading, Labelled, Trouble, bytes } from '../ui/parts';
import { AppMark } from './AppMark';

type DeviceApp = Schemas['DeviceApp'];
type App = Schemas['App'];

/** What stands of an app on the shelf. */
function OnShelf({ app, known }: { app: DeviceApp; known?: App }) {
  const there = app.version !== undefined && app.managed;
  return (
    <li className="border-line flex gap-3 border p-3">
      <AppMark app={known ?? { id: '', name: app.name, icon: false }} large />
      <div className="min-w-0 flex-1 text-sm">
        <p className="flex items-baseline gap-2">
          <b className="min-w-0 flex-1 truncate">{app.name}</b>
          <span
            className={there ? 'text-moss text-xs' : app.reason ? 'text-rust text-xs' : 'text-quiet text-xs'}
          >
            {there
              ? 'installed'
              : app.state === 'under-way'
                ? 'on its way'
                : app.reason
                  ? 'not now'
                  : 'can be picked'}
          </span>
        </p>
        <p className="text-quiet truncate text-xs">
          {[known?.publisher, app.wanted, app.size > 0 ? bytes(app.size) : ''].filter(Boolean).join(', ')}
        </p>
        {known?.summary && <p className="mt-1 text-xs">{known.summary}</p>}
        {app.reason && <p className="text-rust mt-1 text-xs">{app.reason}</p>}
      </div>
    </li>
  );
}

/** The shelf of one device, as its holder finds it. */
function Shelf({ device }: { device: Schemas['DeviceSummary'] }) {
  const apps = useQuery({
    queryKey: ['device', device.id, 'apps'],
    queryFn: () => answer(api.GET('/devices/{id}/apps', { params: { path: { id: device.id } } })),
  });
  const catalogue = useApps();
  const known = new Map(catalogue.data?.items.map((a) => [a.packageId, a]));
  const offered = apps.data?.apps.filter((a) => a.presence === 'offered') ?? [];
  const category = (a: DeviceApp) => known.get(a.packageId)?.category || 'other';
  const categories = [...new Set(offered.map(category))].sort();
  return (
    <section className="px-6 py-4" aria-label={`Shelf of ${device.name}`}>
      <h2 className="mb-3 text-sm">
        What the holder of{' '}
        <Link className="text-brass underline" to={`/devices/${device.id}`}>
          {device.name}
        </Link>{' '}
        may pick
      </h2>
      <Trouble error={apps.error} />
      {apps.data && offered.length === 0 && (
        <p className="text-quiet text-sm">Nothing. Assign an app as offered to put it on this shelf.</p>
      )}
      {categories.map((c) => (
        <div key={c} className="mb-5">
          <h3 className="label mb-1.5">{c}</h3>
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(20rem,1fr))] gap-3">
            {offered
              .filter((a) => category(a) === c)
              .map((a) => (
                <OnShelf key={a.packageId} app={a} known={known.get(a.packageId)} />
              ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

/** What holders find on their shelf, device by device. */
export function ShelfPage() {
  const [search, setSearch] = useSearchParams();
  const [words, setWords] = useState('');
  const id = search.get('device') || undefined;
  const found = useQuery({
    queryKey: ['devices', 'shelf', words],
    placeholderData: (before) => before,
    queryFn: () => answer(api.GET('/devices', { params: { query: { q: words || undefined, limit: 12 } } })),
  });
  const chosen = useQuery({
    queryKey: ['device', id],
    enabled: id !== undefined,
    queryFn: () => answer(api.GET('/devices/{id}', { params: { path: { id: id! } } })),
  });
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      <Heading title="Shelf" note="what a holder may pick, seen as they see it" />
      <div className="flex max-md:flex-col">
        <div className="border-line w-72 shrink-0 border-r px-6 py-4 max-md:w-full max-md:border-r-0">
          <Labelled label="Whose shelf">
            <input
              type="search"
              className="field"
              placeholder="Device, holder, serial"
              value={words}
              onChange={(e) => setWords(e.target.value)}
            />
          </Labelled>
          <ul className="mt-2">
            {found.data?.items.map((d) => (
              <li key={d.id}>
                <button
                  type="button"
                  aria-current={d.id === id}
                  className="hover:bg-raised aria-[current=true]:bg-raised w-full truncate px-2 py-1.5 text-left text-sm"
                  onClick={() => setSearch({ device: d.id }, { replace: true })}
                >
                  {d.name}
                </button>
              </li>
            ))}
          </ul>
        </div>
        <div className="min-w-0 flex-1">
          <Trouble error={chosen.error ?? found.error} />
          {chosen.data ? (
            <Shelf device={chosen.data.device} />
          ) : (
            <Empty title="Choose a device.">Its shelf is shown as its holder finds it.</Empty>
          )}
        </div>
      </div>
    </div>
  );
}
