import type { ColumnDef } from '@tanstack/react-table';
import { Link, useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useDraft } from '../ui/draft';
import { ListPage } from '../ui/ListPage';
import { OutlineEditor, type Corners } from '../places/OutlineEditor';
import { SheetButtons } from './SheetButtons';
import { SiteCache } from './SiteCache';
import { Button, Empty, Labelled } from '../ui/parts';
import { onVersion, Read, RecordSheet } from '../ui/RecordSheet';

type Site = Schemas['Site'];

const degrees = (n: number | undefined, plus: string, minus: string) =>
  n === undefined ? '–' : `${Math.abs(n).toFixed(4)}° ${n < 0 ? minus : plus}`;

const columns: ColumnDef<Site>[] = [
  { id: 'name', header: 'Name', size: 240, accessorFn: (s) => s.name },
  { id: 'address', header: 'Address', size: 280, accessorFn: (s) => s.address },
  {
    id: 'place',
    header: 'On the map',
    size: 200,
    accessorFn: (s) => `${degrees(s.latitude, 'N', 'S')}  ${degrees(s.longitude, 'E', 'W')}`,
  },
  {
    id: 'devices',
    header: 'Devices',
    size: 110,
    accessorFn: (s) => s.devices,
    cell: ({ row: { original: s } }) => (
      <Link className="text-brass underline" to={`/devices?site=${s.id}`}>
        {s.devices}
      </Link>
    ),
  },
];

function Editor({ before, onClose }: { before?: Site; onClose: () => void }) {
  const writing = useDraft(
    {
      name: before?.name ?? '',
      address: before?.address ?? '',
      latitude: before?.latitude?.toString() ?? '',
      longitude: before?.longitude?.toString() ?? '',
      outline: before?.outline ?? ([] as Corners),
      largeAbove: before?.largePackages?.aboveMegabytes.toString() ?? '',
      largeHours: before?.largePackages?.hours ?? '',
    },
    before?.version,
  );
  const { draft, set } = writing;
  const number = (text: string) => (text.trim() === '' ? undefined : Number(text));
  const path = { id: before?.id ?? '' };
  function save() {
    const { largeAbove, largeHours, ...said } = draft;
    const body = {
      ...said,
      latitude: number(draft.latitude),
      longitude: number(draft.longitude),
      largePackages: { aboveMegabytes: number(largeAbove), hours: largeHours },
    };
    return answer(
      before
        ? api.PUT('/sites/{id}', { params: { path, header: onVersion(writing) }, body })
        : api.POST('/sites', { body }),
    );
  }
  return (
    <RecordSheet
      title={before ? before.name : 'Make a site'}
      list="sites"
      keep={before ? 'Save' : 'Make site'}
      ready={draft.name.trim() !== '' && (draft.outline.length === 0 || draft.outline.length > 2)}
      save={save}
      remove="Delete"
      takeAway={
        before && (() => answer(api.DELETE('/sites/{id}', { params: { path, header: onVersion(writing) } })))
      }
      draft={writing}
      subject={`site:${before?.id}`}
      called={{
        ...{ name: 'Name', address: 'Address', latitude: 'Latitude', longitude: 'Longitude' },
        outline: 'Outline',
        largeAbove: 'Large above',
        largeHours: 'Large packages come in',
      }}
      onClose={onClose}
    >
      <Labelled label="Name">
        <input
          className="field"
          maxLength={80}
          value={draft.name}
          onChange={(e) => set({ name: e.target.value })}
        />
      </Labelled>
      <Labelled label="Address">
        <input
          className="field"
          maxLength={300}
          value={draft.address}
          onChange={(e) => set({ address: e.target.value })}
        />
      </Labelled>
      <div className="grid grid-cols-2 gap-4">
        <Labelled label="Latitude" hint="Degrees, north is positive.">
          <input
            className="field"
            inputMode="decimal"
            placeholder="47.2335"
            value={draft.latitude}
            onChange={(e) => set({ latitude: e.target.value })}
          />
        </Labelled>
        <Labelled label="Longitude" hint="Degrees, east is positive.">
          <input
            className="field"
            inputMode="decimal"
            placeholder="-20.3570"
            value={draft.longitude}
            onChange={(e) => set({ longitude: e.target.value })}
          />
        </Labelled>
      </div>
      <OutlineEditor
        outline={draft.outline}
        at={
          draft.latitude.trim() && draft.longitude.trim()
            ? [Number(draft.latitude), Number(draft.longitude)]
            : undefined
        }
        onChange={(outline) => set({ outline })}
      />
      <div className="grid grid-cols-3 gap-4">
        <Labelled label="Large above" hint="MB; empty for none.">
          <input
            className="field"
            inputMode="numeric"
            placeholder="50"
            value={draft.largeAbove}
            onChange={(e) => set({ largeAbove: e.target.value })}
          />
        </Labelled>
        <div className="col-span-2">
          <Labelled
            label="Large packages come in"
            hint="Times of the week where the device is. An assignment with times of its own goes by those."
          >
            <input
              className="field"
              placeholder="Mon-Sun 22:00-06:00"
              value={draft.largeHours}
              onChange={(e) => set({ largeHours: e.target.value })}
            />
          </Labelled>
        </div>
      </div>
      {before && <SiteCache site={before.id} />}
    </RecordSheet>
  );
}

/** Places on the map. */
export function SitesPage() {
  const [search, setSearch] = useSearchParams();
  return (
    <ListPage<Site>
      list="sites"
      title="Sites"
      note="places on the map"
      actions={
        <>
          <SheetButtons what="sites" />
          <Button weight="main" onClick={() => setSearch({ new: '1' })}>
            Make a site
          </Button>
        </>
      }
      columns={columns}
      query={['sites', 'list']}
      load={(after) => answer(api.GET('/sites', { params: { query: { after, limit: 100 } } }))}
      card={(id, close) => (
        <Read
          query={['sites', 'card', id]}
          load={() => answer(api.GET('/sites/{id}', { params: { path: { id } } }))}
        >
          {(site) => <Editor key={id} before={site} onClose={close} />}
        </Read>
      )}
      empty={
        <Empty title="There are no sites yet.">
          A site is a place devices stand at: a building, a quay, a camp.
        </Empty>
      }
    >
      {search.get('new') && <Editor onClose={() => setSearch({})} />}
    </ListPage>
  );
}
