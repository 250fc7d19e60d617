import { keepPreviousData, useQuery } from '@tanstack/react-query';
import L from 'leaflet';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useSites } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { DeviceCard } from '../devices/DeviceCard';
import { Button, counted, Empty, Heading, Moment, Trouble } from '../ui/parts';
import { moment } from '../ui/dates';
import { useNarrow } from '../ui/narrow';
import { MapChoice } from './MapChoice';
import { drawPlace, drawSites, MapView } from './MapView';

interface Box {
  south: number;
  west: number;
  north: number;
  east: number;
  zoom: number;
}

const boxOf = (map: L.Map): Box => {
  const b = map.getBounds();
  return {
    south: Math.max(-90, b.getSouth()),
    west: Math.max(-180, b.getWest()),
    north: Math.min(90, b.getNorth()),
    east: Math.min(180, b.getEast()),
    zoom: Math.max(0, Math.min(20, Math.floor(map.getZoom()))),
  };
};

/** Many devices near each other: a disc with their number, larger for more. */
function drawCluster(layer: L.LayerGroup, c: Schemas['MapCluster'], map: L.Map) {
  const size = Math.round(24 + 8 * Math.log10(c.devices));
  const icon = L.divIcon({ className: 'map-many', html: String(c.devices), iconSize: [size, size] });
  L.marker([c.latitude, c.longitude], { icon, keyboard: true, title: counted(c.devices, 'device') })
    .on('click', () => map.setView([c.latitude, c.longitude], Math.min(19, map.getZoom() + 2)))
    .addTo(layer);
}

/** Where the organisation's devices are. */
export function MapPage() {
  const me = useMe();
  const go = useNavigate();
  const narrow = useNarrow();
  const [search, setSearch] = useSearchParams();
  const [box, setBox] = useState<Box>();
  const [choosing, setChoosing] = useState(false);
  const may = ['owner', 'operator'].includes(me.data?.account.role ?? '');
  const card = search.get('card');
  const sites = useSites();
  const seen = useQuery({
    queryKey: ['map', 'devices', box],
    enabled: may && box !== undefined,
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.GET('/map/devices', { params: { query: box! } })),
  });
  const open = (id: string) => {
    search.set('card', id);
    setSearch(search);
  };
  const elsewhere = useQuery({
    queryKey: ['map', 'away'],
    enabled: may,
    queryFn: () => answer(api.GET('/map/away')),
  });
  const items = seen.data?.items ?? [];
  const away = elsewhere.data?.items ?? [];
  const gone = new Set(away.map((a) => a.deviceId));
  const here = items.filter((c) => c.deviceId && !gone.has(c.deviceId)).slice(0, 40);
  return (
    <div className="flex min-h-0 min-w-0 flex-1">
      <section className="flex min-w-0 flex-1 flex-col">
        <Heading
          title="Map"
          note={
            seen.data
              ? `${counted(seen.data.devices, 'device')} here, of those of which it is known; personal devices never are`
              : 'where the organisation’s devices were last'
          }
        >
          {me.data?.account.role === 'owner' && (
            <Button onClick={() => setChoosing(true)}>Choose the map</Button>
          )}
        </Heading>
        <Trouble error={seen.error} />
        {me.data && !may && (
          <Empty title="Where devices are is for operators.">
            Ask somebody who may see it, or open the case of a device that is lost.
          </Empty>
        )}
        <div className="min-h-0 flex-1">
          <MapView
            label="Where devices are"
            on={[items, sites.data]}
            onMove={(map) => setBox(boxOf(map))}
            draw={(layer, map) => {
              drawSites(layer, map, sites.data?.items);
              items.forEach((c) =>
                c.deviceId
                  ? drawPlace(
                      layer,
                      [c.latitude, c.longitude],
                      c.accuracy,
                      `${c.name}, ${c.at ? moment(c.at) : ''}${c.away ? ', not at its site' : ''}`,
                      c.away ? 'rust' : 'moss',
                    ).on('click', () => (narrow ? go(`/devices/${c.deviceId}`) : open(c.deviceId!)))
                  : drawCluster(layer, c, map),
              );
            }}
          >
            {away.length + here.length > 0 && (
              <aside
                aria-label="Devices on the map"
                className="border-line bg-sheet/95 absolute top-3 left-3 z-[500] max-h-[70%] w-60 overflow-y-auto border pb-1 text-sm"
              >
                {away.length > 0 && (
                  <>
                    <h2 className="label px-3 pt-2">{away.length} not at their site</h2>
                    <ul>
                      {away.map((a) => (
                        <li key={a.deviceId}>
                          <Link
                            to={`/devices/map?card=${a.deviceId}`}
                            className="hover:bg-raised flex items-baseline gap-2 px-3 py-1"
                          >
                            <span aria-hidden className="bg-rust size-2 shrink-0 rotate-45" />
                            <span className="min-w-0">
                              <span className="block truncate">{a.device}</span>
                              <span className="text-quiet block text-xs">
                                {a.now && `at ${a.now}; `}
                                {a.homeAt ? (
                                  <>
                                    at {a.site} <Moment at={a.homeAt} />
                                  </>
                                ) : (
                                  `never seen at ${a.site}`
                                )}
                              </span>
                            </span>
                          </Link>
                        </li>
                      ))}
                    </ul>
                  </>
                )}
                {here.length > 0 && (
                  <>
                    <h2 className="label px-3 pt-2">In this part</h2>
                    <ul>
                      {here.map((c) => (
                        <li key={c.deviceId}>
                          <Link
                            to={`/devices/map?card=${c.deviceId}`}
                            className="hover:bg-raised flex items-center gap-2 px-3 py-1"
                          >
                            <span aria-hidden className="bg-moss size-2 shrink-0 rounded-full" />
                            <span className="truncate">{c.name}</span>
                          </Link>
                        </li>
                      ))}
                    </ul>
                  </>
                )}
              </aside>
            )}
          </MapView>
        </div>
      </section>
      {card && !narrow && (
        <DeviceCard
          id={card}
          onClose={() => {
            search.delete('card');
            setSearch(search);
          }}
        />
      )}
      {choosing && <MapChoice onClose={() => setChoosing(false)} />}
    </div>
  );
}
