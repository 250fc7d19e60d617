import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { useHouseMap } from './MapView';

const KINDS: [Schemas['MapKind'], string][] = [
  ['none', 'None: sites and devices alone'],
  ['drawing', 'A drawing of our own (GeoJSON)'],
  ['xyz', 'Tiles'],
  ['wms', 'A map service (WMS)'],
];

/** What is drawn under the devices. */
export function MapChoice({ onClose }: { onClose: () => void }) {
  const now = useHouseMap();
  const { act, trouble, busy } = useAct('map');
  const [kind, setKind] = useState<Schemas['MapKind']>(now.data?.kind ?? 'none');
  const [address, setAddress] = useState(now.data?.address ?? '');
  const [layers, setLayers] = useState(now.data?.layers ?? '');
  const [attribution, setAttribution] = useState(now.data?.attribution ?? '');
  const [drawing, setDrawing] = useState<Record<string, unknown>>();
  const [wrong, setWrong] = useState('');
  const read = async (file: File | undefined) => {
    setWrong('');
    try {
      setDrawing(file ? (JSON.parse(await file.text()) as Record<string, unknown>) : undefined);
    } catch {
      setWrong('This is no GeoJSON.');
    }
  };
  const kept = drawing ?? (kind === 'drawing' ? now.data?.drawing : undefined);
  return (
    <Sheet
      title="The map"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !now.data || (kind === 'drawing' && !kept)}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.PUT('/map', {
                      params: { header: onVersion(now.data!) },
                      body: {
                        kind,
                        address,
                        layers,
                        attribution,
                        drawing: kind === 'drawing' ? kept : undefined,
                      },
                    }),
                  ),
                onClose,
              )
            }
          >
            Use this map
          </Button>
        </>
      }
    >
      <Labelled label="What is drawn">
        <select
          className="field"
          value={kind}
          onChange={(e) => setKind(e.target.value as Schemas['MapKind'])}
        >
          {KINDS.map(([k, name]) => (
            <option key={k} value={k}>
              {name}
            </option>
          ))}
        </select>
      </Labelled>
      {(kind === 'xyz' || kind === 'wms') && (
        <Labelled
          label="Address"
          hint={kind === 'xyz' ? 'With {z}, {x} and {y} in it.' : 'Of the service; its layers are below.'}
        >
          <input
            className="field font-mono"
            placeholder={
              kind === 'xyz'
                ? 'https://tiles.vellmar.example/{z}/{x}/{y}.png'
                : 'https://maps.vellmar.example/wms'
            }
            value={address}
            onChange={(e) => setAddress(e.target.value)}
          />
        </Labelled>
      )}
      {kind === 'wms' && (
        <Labelled label="Layers" hint="Several with commas.">
          <input className="field" value={layers} onChange={(e) => setLayers(e.target.value)} />
        </Labelled>
      )}
      {kind === 'drawing' && (
        <Labelled
          label="Drawing"
          error={wrong}
          hint="GeoJSON. A feature with the property kind land, water, road, ferry or town is drawn as that."
        >
          <input
            type="file"
            className="field"
            accept=".geojson,.json,application/geo+json"
            onChange={(e) => void read(e.target.files?.[0])}
          />
        </Labelled>
      )}
      {kind !== 'none' && (
        <Labelled label="Whose map it is" hint="Shown in its corner.">
          <input
            className="field"
            maxLength={200}
            value={attribution}
            onChange={(e) => setAttribution(e.target.value)}
          />
        </Labelled>
      )}
      <Trouble error={trouble ?? now.error} />
    </Sheet>
  );
}
