import { useQuery } from '@tanstack/react-query';
import { ChevronRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useSites } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { day, moment } from '../ui/dates';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Moment, Trouble } from '../ui/parts';
import { useWay, Way, type Position, type Stretch } from './Way';

type Site = Schemas['Site'];

/** Metres on the ground between two places not far from each other. */
export function metres(a: { lat: number; lon: number }, b: { lat: number; lon: number }): number {
  const rad = Math.PI / 180;
  const y = (a.lat - b.lat) * rad;
  const x = (a.lon - b.lon) * rad * Math.cos(((a.lat + b.lat) / 2) * rad);
  return Math.hypot(x, y) * 6_371_000;
}

/** The site within a kilometre of a place, the nearest one. */
export function siteNear(p: Position, sites: Site[]): string | undefined {
  const here = { lat: p.latitude, lon: p.longitude };
  return sites
    .filter((s) => s.latitude !== undefined && s.longitude !== undefined)
    .map((s) => ({ name: s.name, away: metres(here, { lat: s.latitude!, lon: s.longitude! }) }))
    .filter((s) => s.away < 1000)
    .sort((a, b) => a.away - b.away)[0]?.name;
}

/** The points of one day, the latest first, told once the day is opened. */
function Day({
  on,
  points,
  sites,
  first,
}: {
  on: string;
  points: Position[];
  sites: Site[];
  first: boolean;
}) {
  const [open, setOpen] = useState(first);
  const at = useMemo(
    () => [...new Set(points.flatMap((p) => siteNear(p, sites) ?? []))].join(', '),
    [points, sites],
  );
  return (
    <li>
      <button
        type="button"
        aria-expanded={open}
        className="hover:bg-raised flex w-full items-center gap-3 rounded-[3px] px-1 py-1 text-left"
        onClick={() => setOpen(!open)}
      >
        <ChevronRight aria-hidden className={`size-4 transition-transform ${open ? 'rotate-90' : ''}`} />
        <span className="w-24 font-semibold">{on}</span>
        <span className="text-quiet w-24">{counted(points.length, 'point')}</span>
        <span className="min-w-0 flex-1 truncate">{at}</span>
      </button>
      {open && (
        <ol className="pb-2 pl-8">
          {points.map((p) => (
            <li
              key={p.at}
              className="border-line/60 grid grid-cols-[3.5rem_1fr_5rem_5rem] gap-3 border-b py-0.5"
            >
              <span>{moment(p.at).slice(11, 16)}</span>
              <span>{siteNear(p, sites) ?? `${p.latitude.toFixed(4)}, ${p.longitude.toFixed(4)}`}</span>
              <span className="text-quiet">
                {p.accuracy === undefined ? '' : `± ${Math.round(p.accuracy)} m`}
              </span>
              <span className="text-quiet">{p.source}</span>
            </li>
          ))}
        </ol>
      )}
    </li>
  );
}

/** Points by day, the latest first. */
function Days({ points, sites }: { points: Position[]; sites: Site[] }) {
  const days = useMemo(() => {
    const byDay = new Map<string, Position[]>();
    [...points].reverse().forEach((p) => {
      const on = day(p.at);
      const of = byDay.get(on) ?? [];
      of.push(p);
      byDay.set(on, of);
    });
    return [...byDay];
  }, [points]);
  return (
    <ol className="text-sm" aria-label="Points">
      {days.map(([on, of], i) => (
        <Day key={on} on={on} points={of} sites={sites} first={i === 0} />
      ))}
    </ol>
  );
}

function TrailSheet({ device, onClose }: { device: Schemas['DeviceSummary']; onClose: () => void }) {
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const stretch: Stretch = {
    from: from ? new Date(`${from}T00:00`).toISOString() : undefined,
    to: to ? new Date(`${to}T23:59:59`).toISOString() : undefined,
  };
  const way = useWay('trail', device.id, stretch);
  const sites = useSites().data?.items ?? [];
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
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <Labelled label="From">
          <input
            className="field w-40"
            type="date"
            value={from}
            max={to}
            onChange={(e) => setFrom(e.target.value)}
          />
        </Labelled>
        <Labelled label="To">
          <input
            className="field w-40"
            type="date"
            value={to}
            min={from}
            onChange={(e) => setTo(e.target.value)}
          />
        </Labelled>
        <p className="text-quiet pb-1.5 text-xs">That you looked is in the journal.</p>
      </div>
      <Trouble error={way.error} />
      {!way.isLoading && !way.error && way.points.length === 0 && (
        <p className="text-sm">Nothing is kept of that time.</p>
      )}
      {(way.isLoading || way.points.length > 0) && (
        <div className="border-line h-96 border">
          {!way.isLoading && <Way device={device} points={way.points} stretch={stretch} />}
        </div>
      )}
      {way.points.length > 0 && <Days points={way.points} sites={sites} />}
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
