import L from 'leaflet';
import 'leaflet/dist/leaflet.css';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useQuery } from '@tanstack/react-query';
import { answer, api, type Schemas } from '../api/client';

type HouseMap = Schemas['HouseMap'];

/** The map of the house, which every map is drawn on. */
export const useHouseMap = () =>
  useQuery({ queryKey: ['map'], queryFn: () => answer(api.GET('/map')), staleTime: 60_000 });

/** A colour of the page as it is now, light or dark. */
export const colour = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim() || '#888';

const drawn: Record<string, () => L.PathOptions> = {
  land: () => ({ color: colour('slate'), weight: 1, fillColor: colour('raised'), fillOpacity: 1 }),
  water: () => ({ color: colour('slate'), weight: 0.8, fillColor: colour('paper'), fillOpacity: 1 }),
  road: () => ({ color: colour('slate'), weight: 1, opacity: 0.45, fill: false }),
  ferry: () => ({ color: colour('slate'), weight: 1, dashArray: '4 4', fill: false }),
};

/** What lies under everything: tiles, a map service, or a drawing of one's own. */
function base(map: L.Map, source: HouseMap): L.Layer | undefined {
  const attribution = source.attribution;
  if (source.kind === 'xyz') {
    return L.tileLayer(source.address, { attribution }).addTo(map);
  }
  if (source.kind === 'wms') {
    return L.tileLayer
      .wms(source.address, { attribution, layers: source.layers, format: 'image/png' })
      .addTo(map);
  }
  if (source.kind === 'drawing' && source.drawing) {
    return L.geoJSON(source.drawing as unknown as GeoJSON.GeoJsonObject, {
      attribution,
      pane: 'drawing',
      interactive: false,
      style: (f) => (drawn[String(f?.properties?.kind)] ?? drawn.road)(),
      pointToLayer: (f, at) =>
        L.circleMarker(at, {
          radius: 2,
          pane: 'drawing',
          color: colour('slate'),
          fillOpacity: 1,
          interactive: false,
        }).bindTooltip(String(f.properties?.name ?? ''), {
          permanent: true,
          direction: 'top',
          className: 'map-name',
          offset: [0, -2],
          pane: 'drawing',
        }),
    }).addTo(map);
  }
  return undefined;
}

/**
 * A map as large as what it stands in. `draw` puts on it what is to be seen, and is called again whenever
 * one of `on` changes; what it put there before is gone by then.
 */
export function MapView({
  label,
  draw,
  on,
  onMove,
  fit,
  children,
}: {
  label: string;
  draw: (layer: L.LayerGroup, map: L.Map) => void;
  on: unknown[];
  onMove?: (map: L.Map) => void;
  /** The box that is shown first. */
  fit?: L.LatLngBoundsExpression;
  children?: ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
  const [map, setMap] = useState<L.Map>();
  const source = useHouseMap();
  const moved = useRef(onMove);
  moved.current = onMove;
  const fitted = useRef(false);
  useEffect(() => {
    const made = L.map(box.current!, {
      zoomControl: false,
      attributionControl: false,
      zoomSnap: 0.25,
      maxZoom: 19,
      minZoom: 2,
    }).setView([0, 0], 2);
    made.createPane('drawing').style.zIndex = '300';
    L.control.zoom({ position: 'topright' }).addTo(made);
    L.control.attribution({ position: 'bottomright', prefix: false }).addTo(made);
    L.control.scale({ imperial: false, position: 'bottomleft' }).addTo(made);
    made.on('moveend', () => moved.current?.(made));
    const sized = new ResizeObserver(() => made.invalidateSize());
    sized.observe(box.current!);
    setMap(made);
    return () => {
      sized.disconnect();
      made.remove();
    };
  }, []);
  const of = source.data;
  useEffect(() => {
    if (!map || !of) {
      return;
    }
    const layer = base(map, of);
    return () => void layer?.remove();
  }, [map, of]);
  useEffect(() => {
    const e = of?.extent;
    if (!map || fitted.current || (!fit && e?.south === undefined)) {
      return;
    }
    fitted.current = true;
    map.fitBounds(
      fit ?? [
        [e!.south!, e!.west!],
        [e!.north!, e!.east!],
      ],
      { padding: [40, 40], maxZoom: 15, animate: false },
    );
  }, [map, of, fit]);
  useEffect(() => {
    if (!map) {
      return;
    }
    const layer = L.layerGroup().addTo(map);
    draw(layer, map);
    return () => void layer.remove();
    // what is drawn follows from what is named in `on`
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, ...on]);
  return (
    <div className="relative h-full min-h-64 w-full">
      <div ref={box} role="region" aria-label={label} className="map bg-paper absolute inset-0 z-0" />
      {children}
    </div>
  );
}

/** How near to each other names would be written over one another, in pixels. */
const CROWD = { x: 80, y: 24 };

/** Sites on a map: the outline, or a dot where there is none; the name below, or at the left where two are close. */
export function drawSites(layer: L.LayerGroup, map: L.Map, sites: Schemas['Site'][] = []) {
  const placed = sites.flatMap((site) =>
    site.latitude === undefined || site.longitude === undefined
      ? []
      : [{ site, at: map.latLngToLayerPoint([site.latitude, site.longitude]) }],
  );
  sites
    .filter((s) => s.outline.length > 0)
    .forEach((s) =>
      L.polygon(
        s.outline.map(([lon, lat]) => [lat!, lon!] as L.LatLngTuple),
        { color: colour('brass'), weight: 1.4, fillOpacity: 0.08, interactive: false },
      ).addTo(layer),
    );
  placed.forEach(({ site: s, at }) => {
    const aside = placed.some(
      (o) => o.at.x > at.x && o.at.x - at.x < CROWD.x && Math.abs(o.at.y - at.y) < CROWD.y,
    );
    L.circleMarker([s.latitude!, s.longitude!], {
      radius: s.outline.length > 0 ? 2 : 5,
      color: colour('brass'),
      fillOpacity: 1,
      interactive: false,
    })
      .bindTooltip(s.name, {
        permanent: true,
        direction: aside ? 'left' : 'bottom',
        className: 'map-site',
        offset: aside ? [-8, 0] : [0, 8],
      })
      .addTo(layer);
  });
}

/** A place with the circle it is known to be in. */
export function drawPlace(
  layer: L.LayerGroup,
  at: L.LatLngTuple,
  accuracy: number | undefined,
  name: string,
  sign: string,
): L.CircleMarker {
  if (accuracy) {
    L.circle(at, {
      radius: accuracy,
      color: colour(sign),
      weight: 1,
      fillOpacity: 0.12,
      interactive: false,
    }).addTo(layer);
  }
  return L.circleMarker(at, {
    radius: 5,
    color: colour('sheet'),
    weight: 1.5,
    fillColor: colour(sign),
    fillOpacity: 1,
  })
    .bindTooltip(name)
    .addTo(layer);
}
