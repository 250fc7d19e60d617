import { useInfiniteQuery } from '@tanstack/react-query';
import L from 'leaflet';
import { Download, Pause, Play } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useSites } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { colour, drawPlace, drawSites, MapView } from '../places/MapView';
import { moment } from '../ui/dates';
import { Button } from '../ui/parts';

export type Position = Schemas['Position'];

/** From when until when. */
export type Stretch = { from?: string; to?: string };

/** Points of a page: five weeks of a point every five minutes come at once. */
const PAGE = 10_000;

/** How many steps going over it again takes, and how long one of them. */
const STEPS = 120;
const STEP_MILLIS = 80;

/**
 * All of where a device was, the earliest first. Each look is in the journal: it is asked for once, and again only
 * when something happens to what `kind` names.
 */
export function useWay(kind: string, deviceId: string, { from, to }: Stretch) {
  const pages = useInfiniteQuery({
    queryKey: [kind, 'way', deviceId, from, to],
    gcTime: 0,
    staleTime: Infinity,
    refetchOnWindowFocus: false,
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) =>
      answer(
        api.POST('/devices/{id}/trail', {
          params: { path: { id: deviceId } },
          body: { from, to, after: pageParam, limit: PAGE },
        }),
      ),
    getNextPageParam: (page) => page.next,
  });
  const { hasNextPage, isFetching, fetchNextPage } = pages;
  useEffect(() => {
    if (hasNextPage && !isFetching) {
      void fetchNextPage();
    }
  }, [hasNextPage, isFetching, fetchNextPage]);
  const points = useMemo(() => (pages.data?.pages.flatMap((p) => p.items) ?? []).reverse(), [pages.data]);
  return { points, isLoading: pages.isLoading, error: pages.error };
}

/** Where a trail is to be had as a file. */
function file(deviceId: string, form: string, { from, to }: Stretch) {
  const query = new URLSearchParams({ ...(from && { from }), ...(to && { to }) });
  return `/api/v1/devices/${deviceId}/trail.${form}${query.size > 0 ? `?${query}` : ''}`;
}

/** The way of a device on the map, to be gone over again moment by moment, and to be had as a file. */
export function Way({
  device,
  points,
  stretch,
}: {
  device: { id: string; name: string };
  points: Position[];
  stretch: Stretch;
}) {
  const sites = useSites();
  const [shown, setShown] = useState<number>();
  const [playing, setPlaying] = useState(false);
  const upTo = Math.min(shown ?? points.length - 1, points.length - 1);
  useEffect(() => {
    if (!playing) {
      return;
    }
    const tick = setInterval(() => {
      setShown((n) => {
        const next = (n ?? 0) + Math.max(1, Math.round(points.length / STEPS));
        if (next >= points.length - 1) {
          setPlaying(false);
          return undefined;
        }
        return next;
      });
    }, STEP_MILLIS);
    return () => clearInterval(tick);
  }, [playing, points.length]);
  const at = points[upTo];
  const box = useMemo(
    () =>
      points.length > 0 ? L.latLngBounds(points.map((p) => [p.latitude, p.longitude])).pad(0.4) : undefined,
    [points],
  );
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        <MapView
          key={box ? `${stretch.from} ${stretch.to}` : 'none'}
          label={`Way of ${device.name}`}
          fit={box}
          on={[points, upTo, sites.data]}
          draw={(layer, map) => {
            drawSites(layer, map, sites.data?.items);
            const gone = points.slice(0, upTo + 1).map((p) => [p.latitude, p.longitude] as L.LatLngTuple);
            L.polyline(gone, { color: colour('slate'), weight: 1.6 }).addTo(layer);
            if (at) {
              drawPlace(layer, [at.latitude, at.longitude], at.accuracy, moment(at.at), 'rust');
            }
          }}
        />
      </div>
      <div className="border-line flex flex-wrap items-center gap-x-3 gap-y-1 border-t px-4 py-2 text-sm">
        {points.length > 1 && (
          <>
            <Button
              aria-label={playing ? 'Stop' : 'Go over it again'}
              onClick={() => {
                setShown(playing ? upTo : 0);
                setPlaying(!playing);
              }}
            >
              {playing ? <Pause className="size-4" /> : <Play className="size-4" />}
            </Button>
            <input
              type="range"
              aria-label="Moment"
              className="accent-brass min-w-40 flex-1"
              min={0}
              max={points.length - 1}
              value={upTo}
              onChange={(e) => {
                setPlaying(false);
                setShown(Number(e.target.value));
              }}
            />
          </>
        )}
        <span className="text-quiet shrink-0">
          {at
            ? `${moment(at.at)}, ${at.accuracy ? `± ${Math.round(at.accuracy)} m, ` : ''}${at.source}`
            : 'It has not said where it is.'}
        </span>
        {points.length > 0 &&
          [
            ['GPX', 'gpx'],
            ['GeoJSON', 'geojson'],
          ].map(([name, form]) => (
            <a key={form} className="text-brass shrink-0 underline" href={file(device.id, form!, stretch)}>
              <Download className="inline size-4" /> {name}
            </a>
          ))}
      </div>
    </div>
  );
}
