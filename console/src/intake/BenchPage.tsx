import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { useEnrollmentProfiles, useGroups } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { SiteSelect, UnitSelect } from '../organisation/choices';
import { Sheet } from '../ui/Dialog';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled, Moment, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';
import { NamePreview } from './NamePreview';

type Session = Schemas['BenchSession'];
type Draft = Schemas['BenchSessionDraft'];

const columns: ColumnDef<Session>[] = [
  { id: 'name', header: 'Session', size: 220, accessorFn: (s) => s.name },
  {
    id: 'state',
    header: 'State',
    size: 90,
    accessorFn: (s) => s.open,
    cell: ({ row }) => <Standing of={row.original.open ? 'open' : 'closed'} />,
  },
  { id: 'profile', header: 'Enrollment profile', size: 180, accessorFn: (s) => s.profile },
  { id: 'ready', header: 'Ready', size: 100, accessorFn: (s) => `${s.prepared} of ${s.devices}` },
  { id: 'troubled', header: 'Trouble', size: 80, accessorFn: (s) => s.troubled || '' },
  { id: 'missing', header: 'Missing numbers', size: 150, accessorFn: (s) => s.missing.join(', ') },
  {
    id: 'since',
    header: 'Opened',
    size: 110,
    accessorFn: (s) => s.createdAt,
    cell: ({ row }) => <Moment at={row.original.createdAt} />,
  },
];

function Open({ onClose, onMade }: { onClose: () => void; onMade: (id: string) => void }) {
  const profiles = useEnrollmentProfiles();
  const groups = useGroups();
  const { act, trouble, busy } = useAct('bench', 'invitations');
  const [draft, setDraft] = useState<Draft>({ name: '', profileId: '', firstNumber: 1, racks: 1 });
  const set = (change: Partial<Draft>) => setDraft({ ...draft, ...change });
  const profile = profiles.data?.items.find((p) => p.id === draft.profileId);
  return (
    <Sheet
      wide
      title="Open a bench session"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !draft.name.trim() || !draft.profileId}
            onClick={() =>
              void act(
                () => answer(api.POST('/bench-sessions', { body: draft })),
                (made) => onMade(made.id),
              )
            }
          >
            Open session
          </Button>
        </>
      }
    >
      <div className="grid grid-cols-2 max-md:grid-cols-1 gap-x-6 gap-y-4">
        <Labelled label="Name">
          <input
            className="field"
            maxLength={80}
            placeholder="Harbour cart 3"
            value={draft.name}
            onChange={(e) => set({ name: e.target.value })}
          />
        </Labelled>
        <Labelled label="Enrollment profile" hint="One that asks no sign-in: there is no holder yet.">
          <select
            className="field"
            value={draft.profileId}
            onChange={(e) => set({ profileId: e.target.value })}
          >
            <option value="">Choose one</option>
            {profiles.data?.items
              .filter((p) => p.signIn === 'none')
              .map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
          </select>
        </Labelled>
        <div>
          <Labelled label="Names of devices" hint="Empty: as the enrollment profile says.">
            <input
              className="field font-mono text-xs"
              placeholder={profile?.namePattern ?? '{unit} kiosk {seq:3}'}
              value={draft.namePattern ?? ''}
              onChange={(e) => set({ namePattern: e.target.value || undefined })}
            />
          </Labelled>
          <NamePreview
            pattern={draft.namePattern ?? profile?.namePattern ?? ''}
            unitId={draft.unitId}
            siteId={draft.siteId}
          />
        </div>
        <div className="grid grid-cols-2 gap-4">
          <Labelled label="First number" hint="Numbers given out before are not given again.">
            <input
              className="field"
              type="number"
              min={1}
              value={draft.firstNumber}
              onChange={(e) => set({ firstNumber: Number(e.target.value) })}
            />
          </Labelled>
          <Labelled label="Asset numbers begin with" hint="Empty: none are given.">
            <input
              className="field font-mono text-xs"
              placeholder="VM-"
              value={draft.assetPrefix ?? ''}
              onChange={(e) => set({ assetPrefix: e.target.value || undefined })}
            />
          </Labelled>
        </div>
        <UnitSelect label="Unit" value={draft.unitId} onChange={(unitId) => set({ unitId })} />
        <SiteSelect label="Site" value={draft.siteId} onChange={(siteId) => set({ siteId })} />
        <Labelled label="Group">
          <select
            className="field"
            value={draft.groupId ?? ''}
            onChange={(e) => set({ groupId: e.target.value || undefined })}
          >
            <option value="">none but the profile's</option>
            {groups.data?.items.map((g) => (
              <option key={g.id} value={g.id}>
                {g.name}
              </option>
            ))}
          </select>
        </Labelled>
        <Labelled label="Racks of 16 slots">
          <input
            className="field"
            type="number"
            min={1}
            max={8}
            value={draft.racks}
            onChange={(e) => set({ racks: Number(e.target.value) })}
          />
        </Labelled>
        <Labelled label="Wi-Fi they are given">
          <input
            className="field"
            maxLength={32}
            placeholder="none: they have a network already"
            value={draft.wifiName ?? ''}
            onChange={(e) => set({ wifiName: e.target.value || undefined })}
          />
        </Labelled>
        <Labelled label="Its password">
          <input
            className="field"
            type="password"
            autoComplete="new-password"
            value={draft.wifiSecret ?? ''}
            onChange={(e) => set({ wifiSecret: e.target.value || undefined })}
          />
        </Labelled>
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            checked={draft.erase ?? false}
            onChange={(e) => set({ erase: e.target.checked })}
          />
          Erase each device first
        </label>
      </div>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Preparing many devices one after the other. */
export function BenchPage() {
  const [search, setSearch] = useSearchParams();
  const go = useNavigate();
  return (
    <ListPage<Session>
      list="bench"
      title="Bench"
      note="carts of devices, prepared over a cable"
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Open a session
        </Button>
      }
      columns={columns}
      query={['bench', 'sessions']}
      load={(after) => answer(api.GET('/bench-sessions', { params: { query: { after, limit: 100 } } }))}
      onOpen={(id) => void go(`/intake/bench/${id}`)}
      empty={
        <Empty title="Nothing is on the bench.">
          Say once how devices are set up, then plug them in one after the other.
        </Empty>
      }
    >
      {search.get('new') && (
        <Open onClose={() => setSearch({})} onMade={(id) => void go(`/intake/bench/${id}`)} />
      )}
    </ListPage>
  );
}
