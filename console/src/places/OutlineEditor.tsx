import L from 'leaflet';
import { useMemo, useRef } from 'react';
import { Button, counted } from '../ui/parts';
import { colour, MapView } from './MapView';

export type Corners = number[][];

/** The outline of a site, drawn on the map: a click adds a corner, a corner can be moved or taken away. */
export function OutlineEditor({
  outline,
  at,
  onChange,
}: {
  outline: Corners;
  /** Where the site is, as latitude and longitude. */
  at?: [number, number];
  onChange: (outline: Corners) => void;
}) {
  const latest = useRef(outline);
  latest.current = outline;
  const first = useRef(outline);
  const fit = useMemo(() => {
    if (first.current.length > 0) {
      return L.latLngBounds(first.current.map(([lon, lat]) => [lat!, lon!])).pad(0.5);
    }
    return at && L.latLng(at[0], at[1]).toBounds(1500);
    // shown first; after that whoever draws moves the map
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <fieldset className="space-y-2">
      <legend className="label">Outline</legend>
      <div className="border-line h-64 border">
        <MapView
          label="Outline of the site"
          fit={fit}
          on={[outline, at?.[0], at?.[1]]}
          draw={(layer, map) => {
            map.off('click');
            map.on('click', (e) => onChange([...latest.current, [round(e.latlng.lng), round(e.latlng.lat)]]));
            const ring = outline.map(([lon, lat]) => [lat!, lon!] as L.LatLngTuple);
            L.polygon(ring, {
              color: colour('brass'),
              weight: 1.4,
              fillOpacity: 0.1,
              interactive: false,
            }).addTo(layer);
            if (at) {
              L.circleMarker(at, { radius: 3, color: colour('ink'), interactive: false }).addTo(layer);
            }
            ring.forEach((corner, i) => {
              const icon = L.divIcon({ className: 'map-corner', iconSize: [12, 12] });
              L.marker(corner, { icon, draggable: true, title: `Corner ${i + 1}` })
                .on('dragend', (e) => {
                  const to = (e.target as L.Marker).getLatLng();
                  onChange(latest.current.map((c, k) => (k === i ? [round(to.lng), round(to.lat)] : c)));
                })
                .on('contextmenu', () => onChange(latest.current.filter((_, k) => k !== i)))
                .addTo(layer);
            });
          }}
        />
      </div>
      <div className="flex items-center gap-2 text-sm">
        <span className="text-quiet flex-1">
          {outline.length === 0
            ? 'Click on the map to draw it; a device that comes here or leaves says so.'
            : outline.length < 3
              ? `${counted(outline.length, 'corner')}; it takes three.`
              : `${counted(outline.length, 'corner')}; drag one to move it.`}
        </span>
        {outline.length > 0 && (
          <>
            <Button onClick={() => onChange(outline.slice(0, -1))}>Take the last away</Button>
            <Button onClick={() => onChange([])}>Clear</Button>
          </>
        )}
      </div>
    </fieldset>
  );
}

/** About a metre is as fine as anybody draws. */
const round = (degrees: number) => Math.round(degrees * 1e5) / 1e5;
