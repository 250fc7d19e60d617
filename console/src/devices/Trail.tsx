import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { day, moment } from '../ui/dates';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Moment, Trouble } from '../ui/parts';

type Position = Schemas['Position'];

const WIDTH = 560;
const HEIGHT = 300;
const MARGIN = 28;

/** Metres on the ground between two places not far from each other. */
export function metres(a: { lat: number; lon: number }, b: { lat: number; lon: number }): number {
  const rad = Math.PI / 180;
  const y = (a.lat - b.lat) * rad;
  const x = (a.lon - b.lon) * rad * Math.cos(((a.lat + b.lat) / 2) * rad);
  return Math.hypot(x, y) * 6_371_000;
}

/** The site within a kilometre of a place, the nearest one. */
export function siteNear(p: Position, sites: Schemas['Site'][]): string | undefined {
  const here = { lat: p.latitude, lon: p.longitude };
  return sites
    .filter((s) => s.latitude !== undefined && s.longitude !== undefined)
    .map((s) => ({ name: s.name, away: metres(here, { lat: s.latitude!, lon: s.longitude! }) }))
    .filter((s) => s.away < 1000)
    .sort((a, b) => a.away - b.away)[0]?.name;
}

/** A round number of metres about a quarter of a width. */
export function rule(across: number): number {
  const most = across / 4;
  const ten = 10 ** Math.floor(Math.log10(Math.max(most, 1)));
  return [5, 2, 1].map((n) => n * ten).find((n) => n <= most) ?? ten;
}

/** The way as it was gone, to scale, with the sites on it. */
function Way({ points, sites }: { points: Position[]; sites: Schemas['Site'][] }) {
  const lats = points.map((p) => p.latitude);
  const lons = points.map((p) => p.longitude);
  const middle = {
    lat: (Math.min(...lats) + Math.max(...lats)) / 2,
    lon: (Math.min(...lons) + Math.max(...lons)) / 2,
  };
  const east = (lon: number) => Math.sign(lon - middle.lon) * metres({ lat: middle.lat, lon }, { ...middle });
  const north = (lat: number) => Math.sign(lat - middle.lat) * metres({ lat, lon: middle.lon }, middle);
  const across = Math.max(
    50,
    (points[0]?.accuracy ?? 0) * 5,
    Math.max(...lons.map((l) => Math.abs(east(l)))) * 2,
    (Math.max(...lats.map((l) => Math.abs(north(l)))) * 2 * (WIDTH - 2 * MARGIN)) / (HEIGHT - 2 * MARGIN),
  );
  const scale = (WIDTH - 2 * MARGIN) / across;
  const at = (p: { latitude: number; longitude: number }) =>
    [WIDTH / 2 + east(p.longitude) * scale, HEIGHT / 2 - north(p.latitude) * scale] as const;
  const length = rule(across);
  const last = points[0]!;
  const shown = sites.filter((s) => {
    if (s.latitude === undefined || s.longitude === undefined) {
      return false;
    }
    const [x, y] = at({ latitude: s.latitude, longitude: s.longitude });
    return x > 0 && x < WIDTH && y > 0 && y < HEIGHT;
  });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="bg-raised w-full rounded-[3px]"
      role="img"
      aria-label={`Way of ${counted(points.length, 'point')}`}
    >
      <polyline
        points={points.map((p) => at(p).join(',')).join(' ')}
        fill="none"
        className="stroke-slate"
        strokeWidth={1.2}
        strokeLinejoin="round"
      />
      {points.map((p) => {
        const [x, y] = at(p);
        return (
          <circle key={p.at} cx={x} cy={y} r={2.2} className="fill-slate">
            <title>{moment(p.at)}</title>
          </circle>
        );
      })}
      {shown.map((s) => {
        const [x, y] = at({ latitude: s.latitude!, longitude: s.longitude! });
        return (
          <g key={s.id}>
            <rect
              x={x - 4}
              y={y - 4}
              width={8}
              height={8}
              className="fill-brass"
              transform={`rotate(45 ${x} ${y})`}
            />
            <text x={x + 9} y={y + 4} className="fill-ink text-[11px] font-semibold">
              {s.name}
            </text>
          </g>
        );
      })}
      <circle
        cx={at(last)[0]}
        cy={at(last)[1]}
        r={Math.max(6, (last.accuracy ?? 0) * scale)}
        className="fill-moss/30 stroke-moss"
      />
      <g>
        <line
          x1={MARGIN / 2}
          x2={MARGIN / 2 + length * scale}
          y1={HEIGHT - 12}
          y2={HEIGHT - 12}
          className="stroke-ink"
          strokeWidth={1.5}
        />
        <text x={MARGIN / 2} y={HEIGHT - 17} className="fill-ink text-[10px]">
          {length >= 1000 ? `${length / 1000} km` : `${length} m`}
        </text>
      </g>
    </svg>
  );
}

/** Points by day, the latest first. */
function Points({ points, sites }: { points: Position[]; sites: Schemas['Site'][] }) {
  let before = '';
  return (
    <ol className="max-h-56 overflow-y-auto text-sm" aria-label="Points">
      {points.map((p) => {
        const on = day(p.at);
        const heading = on !== before;
        before = on;
        return (
          <li key={p.at}>
            {heading && <p className="label pt-2 pb-1">{on}</p>}
            <div className="border-line/60 grid grid-cols-[3.5rem_1fr_5rem_5rem] gap-3 border-b py-0.5">
              <span>{moment(p.at).slice(11, 16)}</span>
              <span>{siteNear(p, sites) ?? `${p.latitude.toFixed(4)}, ${p.longitude.toFixed(4)}`}</span>
              <span className="text-quiet">
                {p.accuracy === undefined ? '' : `± ${Math.round(p.accuracy)} m`}
              </span>
              <span className="text-quiet">{p.source}</span>
            </div>
          </li>
        );
      })}
    </ol>
  );
}

function TrailSheet({ device, onClose }: { device: Schemas['DeviceSummary']; onClose: () => void }) {
  const [on, setOn] = useState('');
  const sites = useQuery({
    queryKey: ['sites', 'all'],
    queryFn: () => answer(api.GET('/sites', { params: { query: { limit: 200 } } })),
  });
  const pages = useInfiniteQuery({
    queryKey: ['trail', device.id, on],
    gcTime: 0,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) =>
      answer(
        api.POST('/devices/{id}/trail', {
          params: { path: { id: device.id } },
          body: {
            from: on ? new Date(`${on}T00:00`).toISOString() : undefined,
            to: on ? new Date(`${on}T23:59:59`).toISOString() : undefined,
            after: pageParam,
          },
        }),
      ),
    getNextPageParam: (page) => page.next,
  });
  const points = pages.data?.pages.flatMap((p) => p.items) ?? [];
  const known = sites.data?.items ?? [];
  return (
    <Sheet
      wide
      title={`Where ${device.name} was`}
      onClose={onClose}
      actions={
        <Button weight="main" onClick={onClose}>
          Done
        </Button>
      }
    >
      <div className="flex items-end gap-6">
        <Labelled label="Day">
          <input className="field w-44" type="date" value={on} onChange={(e) => setOn(e.target.value)} />
        </Labelled>
        <p className="text-quiet pb-1.5 text-xs">That you looked is in the journal.</p>
      </div>
      <Trouble error={pages.error} />
      {pages.isSuccess && points.length === 0 && <p className="text-sm">Nothing is kept of that day.</p>}
      {points.length > 0 && (
        <>
          <Way points={points} sites={known} />
          <Points points={points} sites={known} />
          {pages.hasNextPage && (
            <Button disabled={pages.isFetching} onClick={() => void pages.fetchNextPage()}>
              Show what is before
            </Button>
          )}
        </>
      )}
    </Sheet>
  );
}

/** Whether a device keeps a trail, and looking at it. */
export function Trail({ device }: { device: Schemas['DeviceSummary'] }) {
  const me = useMe();
  const [open, setOpen] = useState(false);
  const known = useQuery({
    queryKey: ['device', device.id, 'trail'],
    queryFn: () => answer(api.GET('/devices/{id}/trail', { params: { path: { id: device.id } } })),
  });
  const k = known.data;
  if (!k || k.points === 0) {
    return null;
  }
  const may = ['owner', 'operator'].includes(me.data?.account.role ?? '');
  return (
    <section aria-label="Trail" className="bg-raised flex items-center gap-3 rounded-[3px] px-3 py-2 text-sm">
      <p className="flex-1">
        Where it was is known, and its holder sees that it is asked for or kept
        <span className="text-quiet block text-xs">
          {counted(k.points, 'point')}, the last <Moment at={k.last} />
        </span>
      </p>
      {may && <Button onClick={() => setOpen(true)}>Look at the trail</Button>}
      {open && <TrailSheet device={device} onClose={() => setOpen(false)} />}
    </section>
  );
}
