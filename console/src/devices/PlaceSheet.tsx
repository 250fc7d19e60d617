import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { PersonPick, SiteSelect, UnitSelect } from '../organisation/choices';
import { Sheet } from '../ui/Dialog';
import { Button, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';

/** Says where a device belongs and who holds it. */
export function PlaceSheet({ detail, onClose }: { detail: Schemas['DeviceDetail']; onClose: () => void }) {
  const { act, trouble, busy } = useAct('device', 'devices');
  // as it was when this sheet was opened: the card behind it goes on
  const [seen] = useState(detail);
  const [place, setPlace] = useState<Schemas['Placement']>({
    unitId: detail.unitId,
    siteId: detail.siteId,
    personId: detail.personId,
  });
  return (
    <Sheet
      title={`Where ${detail.device.name} belongs`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.PUT('/devices/{id}/place', {
                      params: { path: { id: seen.device.id }, header: onVersion(seen) },
                      body: place,
                    }),
                  ),
                onClose,
              )
            }
          >
            Place 1 device
          </Button>
        </>
      }
    >
      <UnitSelect
        label="Unit"
        hint="Profiles assigned to it, or to a unit above it, follow at once."
        value={place.unitId}
        onChange={(unitId) => setPlace({ ...place, unitId })}
      />
      <SiteSelect label="Site" value={place.siteId} onChange={(siteId) => setPlace({ ...place, siteId })} />
      <PersonPick
        label="Held by"
        name={detail.device.person}
        onChange={(p) => setPlace({ ...place, personId: p?.id })}
      />
      <Trouble error={trouble} />
    </Sheet>
  );
}
