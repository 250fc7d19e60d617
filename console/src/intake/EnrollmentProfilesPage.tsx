import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { SiteSelect, UnitSelect } from '../organisation/choices';
import { NamePreview } from './NamePreview';
import { Sheet } from '../ui/Dialog';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled, Trouble } from '../ui/parts';

type Profile = Schemas['EnrollmentProfile'];
type Draft = Schemas['EnrollmentProfileDraft'];

const columns: ColumnDef<Profile>[] = [
  { id: 'name', header: 'Name', size: 240, accessorFn: (p) => p.name },
  { id: 'ownership', header: 'Ownership', size: 110, accessorFn: (p) => p.ownership },
  { id: 'mode', header: 'Mode', size: 120, accessorFn: (p) => p.mode },
  { id: 'platforms', header: 'Platforms', size: 150, accessorFn: (p) => p.platforms.join(', ') },
  {
    id: 'terms',
    header: 'Terms',
    size: 90,
    accessorFn: (p) => (p.termsVersion ? `version ${p.termsVersion}` : 'none'),
  },
  { id: 'sign-in', header: 'Sign-in', size: 110, accessorFn: (p) => p.signIn },
  { id: 'approval', header: 'Approval', size: 100, accessorFn: (p) => (p.approval ? 'by a human' : 'none') },
  { id: 'names', header: 'Names', size: 160, accessorFn: (p) => p.namePattern },
  { id: 'devices', header: 'Devices', size: 80, accessorFn: (p) => p.devices },
];

function Editor({ before, onClose }: { before?: Profile; onClose: () => void }) {
  const catalogue = useCatalogue();
  const terms = useQuery({ queryKey: ['terms'], queryFn: () => answer(api.GET('/terms')) });
  const groups = useQuery({
    queryKey: ['groups', 'choice'],
    queryFn: () => answer(api.GET('/groups', { params: { query: { limit: 200 } } })),
  });
  const [draft, setDraft] = useState<Draft>(
    before ?? {
      name: '',
      ownership: 'corporate',
      mode: 'supervised',
      platforms: [],
      signIn: 'none',
      namePattern: '{model} {serial}',
      tags: [],
      groups: [],
      minimumOs: {},
      approval: false,
    },
  );
  const { act, trouble, busy } = useAct('enrollment-profiles');
  const set = (change: Partial<Draft>) => setDraft({ ...draft, ...change });
  const save = () =>
    act(() => {
      const { name, ownership, mode, platforms, kinds, signIn, passphrase, termsVersion } = draft;
      const { minimumOs, approval, namePattern, groups: into, tags } = draft;
      const { rosterOnly, fillGaps, unitId, siteId } = draft;
      const body: Draft = {
        ...{ name, ownership, mode, platforms, kinds, signIn, passphrase, termsVersion },
        ...{ minimumOs, approval, namePattern, groups: into, tags },
        ...{ rosterOnly, fillGaps, unitId, siteId },
      };
      return answer(
        before
          ? api.PUT('/enrollment-profiles/{id}', {
              params: { path: { id: before.id }, header: { 'If-Match': `"${before.version}"` } },
              body,
            })
          : api.POST('/enrollment-profiles', { body }),
      );
    }, onClose);
  const remove = () =>
    act(
      () => answer(api.DELETE('/enrollment-profiles/{id}', { params: { path: { id: before!.id } } })),
      onClose,
    );
  const personal = draft.ownership === 'personal';
  return (
    <Sheet
      wide
      title={before ? before.name : 'Write an enrollment profile'}
      onClose={onClose}
      actions={
        <>
          {before && (
            <Button weight="danger" className="mr-auto" onClick={() => void remove()}>
              Delete
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" disabled={busy || !draft.name?.trim()} onClick={() => void save()}>
            {before ? 'Save' : 'Write enrollment profile'}
          </Button>
        </>
      }
    >
      <div className="grid grid-cols-2 gap-x-6 gap-y-4">
        <Labelled label="Name">
          <input
            className="field"
            maxLength={80}
            value={draft.name}
            placeholder="Harbour gallery kiosks"
            onChange={(e) => set({ name: e.target.value })}
          />
        </Labelled>
        <div>
          <Labelled
            label="Names of devices"
            hint="{serial} {imei:last4} {asset} {person} {unit} {site} {model} {platform} {sheet} {seq:3}"
          >
            <input
              className="field font-mono text-xs"
              value={draft.namePattern}
              onChange={(e) => set({ namePattern: e.target.value })}
            />
          </Labelled>
          <NamePreview pattern={draft.namePattern ?? ''} unitId={draft.unitId} siteId={draft.siteId} />
        </div>
        <Labelled label="Ownership">
          <select
            className="field"
            value={draft.ownership}
            onChange={(e) =>
              set({
                ownership: e.target.value,
                mode: e.target.value === 'personal' ? 'work-profile' : 'supervised',
              })
            }
          >
            <option value="corporate">corporate</option>
            <option value="personal">personal</option>
          </select>
        </Labelled>
        <Labelled
          label="Management mode"
          hint={personal ? 'Personal devices are managed in their work side only.' : undefined}
        >
          <select
            className="field"
            value={draft.mode}
            disabled={personal}
            onChange={(e) => set({ mode: e.target.value, platforms: [] })}
          >
            <option value="supervised">supervised</option>
            <option value="standard">standard</option>
            <option value="work-profile">work profile</option>
          </select>
        </Labelled>
        <fieldset>
          <legend className="label mb-1">Platforms let in (none ticked: all that know the mode)</legend>
          <div className="flex gap-5">
            {catalogue.data?.platforms
              .filter((p) => p.modes.includes(draft.mode ?? ''))
              .map((p) => (
                <label key={p.key} className="flex items-center gap-1.5 text-sm">
                  <input
                    type="checkbox"
                    checked={draft.platforms?.includes(p.key) ?? false}
                    onChange={(e) =>
                      set({
                        platforms: e.target.checked
                          ? [...(draft.platforms ?? []), p.key]
                          : draft.platforms?.filter((x) => x !== p.key),
                      })
                    }
                  />
                  {p.name}
                </label>
              ))}
          </div>
        </fieldset>
        <fieldset>
          <legend className="label mb-1">Lowest OS version let in</legend>
          <div className="flex gap-3">
            {(draft.platforms?.length ? draft.platforms : []).map((p) => (
              <input
                key={p}
                aria-label={`Lowest OS version of ${p}`}
                placeholder={p}
                className="field w-24"
                value={draft.minimumOs?.[p] ?? ''}
                onChange={(e) => {
                  const minimumOs = { ...draft.minimumOs, [p]: e.target.value };
                  if (!e.target.value) {
                    delete minimumOs[p];
                  }
                  set({ minimumOs });
                }}
              />
            ))}
            {!draft.platforms?.length && <span className="text-quiet text-xs">Tick a platform first.</span>}
          </div>
        </fieldset>
        <Labelled label="Terms to accept">
          <select
            className="field"
            value={draft.termsVersion ?? ''}
            onChange={(e) => set({ termsVersion: e.target.value ? Number(e.target.value) : undefined })}
          >
            <option value="">none</option>
            {terms.data?.map((t) => (
              <option key={t.version} value={t.version}>
                {t.title}, version {t.version}
              </option>
            ))}
          </select>
        </Labelled>
        <Labelled label="How the holder proves who they are">
          <select className="field" value={draft.signIn} onChange={(e) => set({ signIn: e.target.value })}>
            <option value="none">not at all: the code is enough</option>
            <option value="passphrase">by a passphrase</option>
          </select>
        </Labelled>
        {draft.signIn === 'passphrase' && (
          <Labelled
            label="Passphrase"
            hint={before?.signIn === 'passphrase' ? 'Leave empty to keep it.' : 'At least 8 characters.'}
          >
            <input
              className="field"
              type="password"
              autoComplete="new-password"
              value={draft.passphrase ?? ''}
              onChange={(e) => set({ passphrase: e.target.value })}
            />
          </Labelled>
        )}
        <Labelled label="Tags devices get" hint="Separated by commas.">
          <input
            className="field"
            defaultValue={draft.tags?.join(', ')}
            onChange={(e) =>
              set({
                tags: e.target.value
                  .split(',')
                  .map((t) => t.trim())
                  .filter(Boolean),
              })
            }
          />
        </Labelled>
        <Labelled label="Group devices land in">
          <select
            className="field"
            value={draft.groups?.[0] ?? ''}
            onChange={(e) => set({ groups: e.target.value ? [e.target.value] : [] })}
          >
            <option value="">none</option>
            {groups.data?.items.map((g) => (
              <option key={g.id} value={g.id}>
                {g.name}
              </option>
            ))}
          </select>
        </Labelled>
        <UnitSelect
          label="Unit devices land in"
          hint="Their row on the roster and their person come first."
          value={draft.unitId}
          onChange={(unitId) => set({ unitId })}
        />
        <SiteSelect
          label="Site devices land at"
          value={draft.siteId}
          onChange={(siteId) => set({ siteId })}
        />
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            checked={draft.rosterOnly ?? false}
            onChange={(e) => set({ rosterOnly: e.target.checked })}
          />
          Only devices on the roster are let in
        </label>
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            checked={draft.fillGaps ?? false}
            onChange={(e) => set({ fillGaps: e.target.checked })}
          />
          Numbers that became free are given out first
        </label>
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            checked={draft.approval ?? false}
            onChange={(e) => set({ approval: e.target.checked })}
          />
          A human lets each arrival in
        </label>
      </div>
      {before && (
        <p className="text-quiet text-xs">
          Used by {before.invitations} invitations and {before.devices} devices. A change counts for devices
          that join from now on.
        </p>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}

function EditorOf({ id, onClose }: { id: string; onClose: () => void }) {
  const profile = useQuery({
    queryKey: ['enrollment-profiles', 'card', id],
    queryFn: () => answer(api.GET('/enrollment-profiles/{id}', { params: { path: { id } } })),
  });
  return profile.data ? (
    <Editor key={id} before={profile.data} onClose={onClose} />
  ) : (
    <Trouble error={profile.error} />
  );
}

/** How devices join. */
export function EnrollmentProfilesPage() {
  const [search, setSearch] = useSearchParams();
  return (
    <ListPage<Profile>
      list="enrollment-profiles"
      title="Enrollment profiles"
      note="how devices join"
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Write an enrollment profile
        </Button>
      }
      columns={columns}
      query={['enrollment-profiles']}
      load={(after) => answer(api.GET('/enrollment-profiles', { params: { query: { after, limit: 100 } } }))}
      card={(id, close) => <EditorOf id={id} onClose={close} />}
      empty={
        <Empty title="There are no enrollment profiles yet.">
          One says whose devices join, in which mode, and what holders accept. Then{' '}
          <Link className="text-brass underline" to="/intake/invitations?new=1">
            invite devices
          </Link>
          .
        </Empty>
      }
    >
      {search.get('new') && <Editor onClose={() => setSearch({})} />}
    </ListPage>
  );
}
