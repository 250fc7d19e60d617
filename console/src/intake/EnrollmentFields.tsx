import { useQuery } from '@tanstack/react-query';
import { useGroups } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { SiteSelect, UnitSelect } from '../organisation/choices';
import { Labelled } from '../ui/parts';
import { NamePreview } from './NamePreview';

type Profile = Schemas['EnrollmentProfile'];
type Draft = Schemas['EnrollmentProfileDraft'];

interface Part {
  draft: Draft;
  set: (change: Partial<Draft>) => void;
}

function Tick(props: { label: string; on: boolean; onChange: (on: boolean) => void; disabled?: boolean }) {
  return (
    <label className="flex items-center gap-2 text-sm">
      <input
        type="checkbox"
        checked={props.on}
        disabled={props.disabled}
        onChange={(e) => props.onChange(e.target.checked)}
      />
      {props.label}
    </label>
  );
}

/** Whose devices join, how they prove it, and where they land. */
export function WhoAndWhere({ draft, set, before }: Part & { before?: Profile }) {
  const catalogue = useCatalogue();
  const terms = useQuery({ queryKey: ['terms'], queryFn: () => answer(api.GET('/terms')) });
  const groups = useGroups();
  const personal = draft.ownership === 'personal';
  return (
    <div className="grid grid-cols-2 max-md:grid-cols-1 gap-x-6 gap-y-4">
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
              ownership: e.target.value as Schemas['Ownership'],
              mode: e.target.value === 'personal' ? 'work-profile' : 'supervised',
            })
          }
        >
          {catalogue.data?.ownerships.map((o) => (
            <option key={o.key} value={o.key}>
              {o.title}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled
        label="Management mode"
        hint={
          personal
            ? 'Personal devices are managed in their work side only.'
            : catalogue.data?.modes.find((m) => m.key === draft.mode)?.help
        }
      >
        <select
          className="field"
          value={draft.mode}
          disabled={personal}
          onChange={(e) => set({ mode: e.target.value as Schemas['Mode'], platforms: [] })}
        >
          {catalogue.data?.modes.map((m) => (
            <option key={m.key} value={m.key}>
              {m.title}
            </option>
          ))}
        </select>
      </Labelled>
      <fieldset>
        <legend className="label mb-1">Platforms let in (none ticked: all that know the mode)</legend>
        <div className="flex gap-5">
          {catalogue.data?.platforms
            .filter((p) => p.modes.includes(draft.mode!))
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
        <select
          className="field"
          value={draft.signIn}
          onChange={(e) => set({ signIn: e.target.value, directoryGroup: undefined })}
        >
          <option value="none">not at all: the code is enough</option>
          <option value="passphrase">by a passphrase</option>
          <option value="directory">by their staff account</option>
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
      {draft.signIn === 'directory' && (
        <Labelled label="Group of the directory they belong to" hint="Empty: anybody in the directory.">
          <input
            className="field"
            maxLength={200}
            value={draft.directoryGroup ?? ''}
            onChange={(e) => set({ directoryGroup: e.target.value || undefined })}
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
      <SiteSelect label="Site devices land at" value={draft.siteId} onChange={(siteId) => set({ siteId })} />
      <div className="md:col-span-2 grid grid-cols-2 gap-2">
        <Tick
          label="Only devices on the roster are let in"
          on={draft.rosterOnly ?? false}
          onChange={(rosterOnly) => set({ rosterOnly })}
        />
        <Tick
          label="A human lets each arrival in"
          on={draft.approval ?? false}
          onChange={(approval) => set({ approval })}
        />
        <Tick
          label="Numbers that became free are given out first"
          on={draft.fillGaps ?? false}
          onChange={(fillGaps) => set({ fillGaps })}
        />
        <Tick
          label="A reset device comes back by itself"
          on={draft.comesBack ?? true}
          onChange={(comesBack) => set({ comesBack })}
        />
        <Tick
          label="The holder may end management"
          on={personal || (draft.removable ?? false)}
          disabled={personal}
          onChange={(removable) => set({ removable })}
        />
      </div>
    </div>
  );
}

/** First-run screens, what is chosen beforehand, and what must be finished before it is handed over. */
export function FirstUse({ draft, set }: Part) {
  const catalogue = useCatalogue();
  const platforms = catalogue.data?.platforms.filter((p) => p.modes.includes(draft.mode!)) ?? [];
  const let_in = platforms.filter((p) => !draft.platforms?.length || draft.platforms.includes(p.key));
  const screens =
    catalogue.data?.firstRun.filter((s) => s.platforms.some((p) => let_in.some((x) => x.key === p))) ?? [];
  const first = draft.firstRun ?? {};
  const skipped = new Set(first.skipped ?? []);
  const gate = draft.readyGate ?? {};
  const setFirst = (change: Partial<typeof first>) => set({ firstRun: { ...first, ...change } });
  const setGate = (change: Partial<typeof gate>) => set({ readyGate: { ...gate, ...change } });
  const wallpapers =
    catalogue.data?.settings.find((s) => s.key === 'appearance.wallpaper')?.type.choices ?? [];
  return (
    <div className="grid grid-cols-2 max-md:grid-cols-1 gap-x-6 gap-y-4">
      <fieldset className="md:col-span-2">
        <legend className="label mb-1">Screens shown before the first use</legend>
        <div className="grid grid-cols-3 gap-1.5">
          {screens.map((s) => (
            <Tick
              key={s.key}
              label={s.title + (s.platforms.length < 3 ? ` (${s.platforms.join(', ')})` : '')}
              on={s.always || !skipped.has(s.key)}
              disabled={s.always}
              onChange={(on) =>
                setFirst({
                  skipped: on
                    ? (first.skipped ?? []).filter((k) => k !== s.key)
                    : [...(first.skipped ?? []), s.key],
                })
              }
            />
          ))}
        </div>
      </fieldset>
      <Labelled label="Language" hint="Chosen here, it is not asked for.">
        <select
          className="field"
          value={first.language ?? ''}
          onChange={(e) => setFirst({ language: e.target.value })}
        >
          <option value="">the holder chooses</option>
          {catalogue.data?.languages.map((l) => (
            <option key={l.key} value={l.key}>
              {l.title}
            </option>
          ))}
        </select>
      </Labelled>
      <Labelled label="Region" hint="Two capital letters, such as QV; empty: the holder chooses.">
        <input
          className="field"
          maxLength={2}
          value={first.region ?? ''}
          onChange={(e) => setFirst({ region: e.target.value.toUpperCase() })}
        />
      </Labelled>
      <Labelled label="Wallpaper">
        <select
          className="field"
          value={first.wallpaper ?? ''}
          onChange={(e) => setFirst({ wallpaper: e.target.value })}
        >
          <option value="">the device's own</option>
          {wallpapers.map((c) => (
            <option key={c.key} value={c.key}>
              {c.title}
            </option>
          ))}
        </select>
      </Labelled>
      <fieldset className="border-line md:col-span-2 border-t pt-3">
        <legend className="label">Ready gate: what must be finished before it is handed over</legend>
        <div className="mt-2 grid grid-cols-2 max-md:grid-cols-1 items-start gap-x-6 gap-y-3">
          <Tick
            label="Its settings are on it"
            on={gate.profiles ?? false}
            onChange={(profiles) => setGate({ profiles })}
          />
          <div className="space-y-2">
            {let_in.map((p) => (
              <label key={p.key} className="flex items-center gap-2 text-sm">
                <span className="w-32">{p.name} has at least</span>
                <select
                  className="field w-auto"
                  value={gate.osVersions?.[p.key] ?? ''}
                  onChange={(e) => {
                    const osVersions = { ...gate.osVersions, [p.key]: e.target.value };
                    if (!e.target.value) {
                      delete osVersions[p.key];
                    }
                    setGate({ osVersions });
                  }}
                >
                  <option value="">any version</option>
                  {p.versions.map((v) => (
                    <option key={v}>{v}</option>
                  ))}
                </select>
              </label>
            ))}
          </div>
        </div>
      </fieldset>
    </div>
  );
}
