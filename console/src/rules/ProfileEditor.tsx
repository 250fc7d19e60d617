import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Plus, X } from 'lucide-react';
import { type ComponentProps, useState } from 'react';
import { Link, Navigate, useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { useApps } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { Configuration } from '../apps/Configuration';
import { useAct } from '../api/act';
import { AskButton } from '../ui/AskButton';
import { useDraft } from '../ui/draft';
import { useNarrow } from '../ui/narrow';
import { Button, Empty, Heading, Labelled, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { SavedMeanwhile } from '../ui/SavedMeanwhile';
import { ProposeButton, useConfirmation } from './confirmation';
import { RehearsalNote } from './RehearsalNote';
import { CopyOrSave } from './ProfileFile';
import { KioskLayout } from './KioskLayout';
import { KitParts, sayPart } from './KitParts';
import { PasscodeTry } from './PasscodeTry';
import { ProfileStanding } from './ProfileStanding';
import { ProfileVersions } from './ProfileVersions';
import { RehearsalSheet } from './RehearsalSheet';
import { entriesOf, entryOf, firstValue, inEntry, settingOf } from './entries';
import { objection, SettingField } from './SettingField';
import { ProfileWaves } from './waves';
import { WindowFields } from './window';
import { SettingFinder } from './SettingFinder';
import { sayTarget, TargetPicker } from './TargetPicker';

type Profile = Schemas['Profile'];
type Setting = Schemas['Setting'];

function where(s: Setting): string {
  return s.support
    .map((x) => `${x.platform} from ${x.since}${x.modes.length === 1 ? ` ${x.modes[0]} only` : ''}`)
    .join(', ');
}

/** Deletes a profile, having said what that does to devices. */
function DeleteProfile({ profile }: { profile: Profile }) {
  const go = useNavigate();
  const { act, trouble, busy } = useAct('profiles', 'changes', 'devices');
  const path = { id: profile.id };
  const rehearsal = useQuery({
    queryKey: ['profile', profile.id, 'deletion', profile.version],
    retry: false,
    enabled: profile.publishedVersion !== undefined,
    queryFn: () => answer(api.POST('/profiles/{id}/deletion/rehearsal', { params: { path } })),
  });
  const confirmation = useConfirmation(rehearsal.data, 'delete it');
  return (
    <AskButton
      weight="bare"
      doing={`Delete ${profile.name}`}
      busy={busy}
      ready={(!rehearsal.data || confirmation.ready) && !rehearsal.isFetching}
      trouble={trouble ?? rehearsal.error}
      onYes={() =>
        act(
          () =>
            answer(
              api.DELETE('/profiles/{id}', {
                params: {
                  path,
                  header: onVersion(profile),
                  query: confirmation.given,
                },
              }),
            ),
          () => go(profile.app ? `/apps/catalogue?card=${profile.app}` : `/rules/${profile.kind}s`),
        )
      }
    >
      {rehearsal.data ? (
        <>
          <RehearsalNote rehearsal={rehearsal.data} confirmation={confirmation} />
          {confirmation.second && (
            <ProposeButton intent={{ deleteProfile: path }} confirmation={confirmation} />
          )}
        </>
      ) : (
        <p>No device has it. Its versions go with it.</p>
      )}
    </AskButton>
  );
}

/** A profile as one flat list of fields, so that two people can write different settings of it. */
interface Written extends Record<string, unknown> {
  name: string;
  description: string;
  targets: Schemas['NamedTarget'][];
  exclusions: Schemas['NamedTarget'][];
  /** What goes along, where it is a kit. */
  parts: Schemas['KitPart'][];
  /** When it begins and ends; empty for at once and for never. */
  from: string;
  until: string;
}

const SETTING = 'setting ';

type Listed = Schemas['NamedTarget'] | Schemas['KitPart'];

const sayListed = (t: Listed) => ('kind' in t ? sayTarget(t) : sayPart(t));

/** What a kit says of itself: the collections that hold files. */
function filesOnly(catalogue: Schemas['Catalogue']): Schemas['Catalogue'] {
  const holding = (s: Schemas['Section']) =>
    s.entries && catalogue.settings.some((x) => x.section === s.key && x.type.kind === 'file');
  const sections = catalogue.sections.filter(holding);
  return {
    ...catalogue,
    sections,
    settings: catalogue.settings.filter((s) => sections.some((x) => x.key === s.section)),
  };
}

/** What the assignment of an app says: the settings of that app, and no others. */
function appOnly(catalogue: Schemas['Catalogue'], key: string, held: boolean): Schemas['Catalogue'] {
  const sections = catalogue.sections.filter((s) => s.apart);
  // the version follows from the releases unless it is held; what the app is told has a form of its own
  const drawn = ['configuration', 'secrets', ...(held ? [] : ['version'])];
  const apart = (s: Setting) =>
    sections.some((x) => x.key === s.section && !drawn.some((name) => s.key === `${x.key}.${name}`));
  return {
    ...catalogue,
    sections: sections.map((s) => ({ ...s, entries: undefined })),
    settings: catalogue.settings.filter(apart).map((s) => ({ ...inEntry(s, key), support: [] })),
  };
}

/** What the version that is wanted can be told. */
function schemaOf(app: Schemas['AppDetail'], settings: Record<string, unknown>) {
  const wanted = String(settings[`apps[${app.app.key}].version`] ?? '');
  const known = [app.forAll, app.forEarly, app.latest];
  const of = known.find((v) => v && wanted === `${v.version} (${v.code})`) ?? app.forAll ?? app.latest;
  return of?.schema;
}

/** What profiles say: all but what is assigned from pages of its own. */
function profilesOnly(catalogue: Schemas['Catalogue']): Schemas['Catalogue'] {
  return { ...catalogue, sections: catalogue.sections.filter((s) => !s.apart) };
}

function flat(p: Profile): Written {
  const { name, description, targets, exclusions, parts } = p;
  return {
    ...{ name, description, targets, exclusions, parts },
    from: p.window.from ?? '',
    until: p.window.until ?? '',
    ...Object.fromEntries(Object.entries(p.settings).map(([k, v]) => [`${SETTING}${k}`, v])),
  };
}

const settingsOf = (draft: Written): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(draft)
      .filter(([k]) => k.startsWith(SETTING))
      .map(([k, v]) => [k.slice(SETTING.length), v]),
  );

/** What a setting of a profile is called, with its entry. */
function called(catalogue: Schemas['Catalogue'], key: string): string | undefined {
  const title = settingOf(catalogue, key)?.title;
  const entry = entryOf(key);
  return title && entry ? `${title} (${entry})` : title;
}

interface FieldsProps {
  settings: Record<string, unknown>;
  onSet: (values: Record<string, unknown>) => void;
  onRemove: (keys: string[]) => void;
}

function SettingRow({ s, settings, onSet, onRemove }: FieldsProps & { s: Setting }) {
  const wrong = objection(s, settings[s.key]);
  return (
    <li className="border-line/60 grid grid-cols-[1fr_20rem_2.5rem] gap-4 border-b py-2.5 max-md:grid-cols-[1fr_2.5rem] max-md:*:first:col-span-2">
      <label htmlFor={`setting-${s.key}`}>
        <span className="block text-sm">{s.title}</span>
        <span className="text-quiet block text-xs">{s.help}</span>
        {s.support.length > 0 && <span className="text-quiet block text-xs italic">{where(s)}</span>}
      </label>
      <div>
        <SettingField own setting={s} value={settings[s.key]} onChange={(v) => onSet({ [s.key]: v })} />
        {wrong && <span className="text-rust mt-1 block text-xs">{wrong}</span>}
      </div>
      {!s.required && (
        <Button
          weight="bare"
          className="justify-center px-0!"
          aria-label={`Take ${s.title} out`}
          onClick={() => onRemove([s.key])}
        >
          <X className="size-4 shrink-0" />
        </Button>
      )}
    </li>
  );
}

/** Settings that are drawn and not typed. */
const DRAWN = ['kiosk.apps', 'kiosk.layout'];

/** The drawing of a kiosk, with the apps that are brought or come with the platforms. */
function KioskOfApps(props: Omit<ComponentProps<typeof KioskLayout>, 'own'>) {
  const apps = useApps();
  return <KioskLayout {...props} own={apps.data?.items.filter((a) => a.origin !== 'system')} />;
}

/** The settings of a section that a profile has; in a collection, one list for each entry. */
function SectionFields({
  section,
  catalogue,
  ...fields
}: FieldsProps & { section: Schemas['Section']; catalogue: Schemas['Catalogue'] }) {
  const keys = Object.keys(fields.settings);
  const kinds = catalogue.settings.filter((s) => s.section === section.key);
  const rows = (offered: Setting[]) => (
    <ul>
      {offered
        .filter((s) => s.key in fields.settings && !DRAWN.includes(s.key))
        .map((s) => (
          <SettingRow key={s.key} s={s} {...fields} />
        ))}
    </ul>
  );
  const entries = entriesOf(section.key, keys);
  if (entries.length === 0 && !kinds.some((s) => s.key in fields.settings)) {
    return null;
  }
  return (
    <section>
      <h2 className="font-semibold">{section.title}</h2>
      {section.key === 'kiosk' && fields.settings['kiosk.mode'] !== 'free' && (
        <KioskOfApps settings={fields.settings} catalogue={catalogue} onSet={fields.onSet} />
      )}
      {section.entries
        ? entries.map((entry) => (
            <section key={entry} className="mt-2" aria-label={`${section.entries!.noun} ${entry}`}>
              <div className="flex items-baseline justify-between">
                <h3 className="text-sm font-semibold">
                  <span className="text-quiet font-normal">{section.entries!.noun}</span> {entry}
                </h3>
                <Button
                  weight="bare"
                  onClick={() =>
                    fields.onRemove(keys.filter((k) => k.startsWith(`${section.key}[${entry}].`)))
                  }
                >
                  Take it out
                </Button>
              </div>
              {rows(kinds.map((s) => inEntry(s, entry)))}
            </section>
          ))
        : rows(kinds)}
      {section.key === 'passcode' && <PasscodeTry settings={fields.settings} />}
    </section>
  );
}

function Draft({
  profile,
  app,
  catalogue,
  onRehearse,
}: {
  profile: Profile;
  /** The app it assigns, where it assigns one. */
  app?: Schemas['AppDetail'];
  catalogue: Schemas['Catalogue'];
  onRehearse: (saved: Profile) => void;
}) {
  const queries = useQueryClient();
  const writing = useDraft<Written>(flat(profile), profile.version);
  const { draft, dirty, set } = writing;
  const settings = settingsOf(draft);
  const [trouble, setTrouble] = useState<unknown>();
  const faults = Object.entries(settings).filter(([k, v]) => {
    const s = settingOf(catalogue, k);
    return s && objection(s, v);
  });
  async function save(): Promise<Profile | undefined> {
    try {
      setTrouble(undefined);
      const saved = await answer(
        api.PUT('/profiles/{id}', {
          params: { path: { id: profile.id }, header: onVersion(writing) },
          body: {
            name: draft.name,
            description: draft.description,
            settings: settings as Schemas['ProfileDraft']['settings'],
            targets: draft.targets.map((t) => ({ kind: t.kind, ref: t.ref }) as Schemas['TargetSpec']),
            exclusions: draft.exclusions.map((t) => ({ kind: t.kind, ref: t.ref }) as Schemas['TargetSpec']),
            parts: draft.parts.map(({ profile, whenInOrder }) => ({ profile, whenInOrder })),
            window: { from: draft.from || undefined, until: draft.until || undefined },
          },
        }),
      );
      writing.saved(flat(saved), saved.version);
      queries.setQueryData(['profile', profile.id], saved);
      return saved;
    } catch (e) {
      setTrouble(e);
      // somebody else may have saved it: what they wrote is met with what is typed here
      void queries.invalidateQueries({ queryKey: ['profile', profile.id] });
      return undefined;
    }
  }
  async function rehearse() {
    const saved = dirty ? await save() : profile;
    if (saved) {
      onRehearse(saved);
    }
  }
  const without = (keys: string[]) => {
    const rest = Object.entries(draft).filter(([field]) => !keys.some((k) => field === `${SETTING}${k}`));
    writing.replace(Object.fromEntries(rest) as Written);
  };
  const narrow = useNarrow();
  const kit = profile.kind === 'kit';
  const offered = kit
    ? filesOnly(catalogue)
    : app
      ? appOnly(catalogue, app.app.key, settings[`apps[${app.app.key}].follows`] === 'held')
      : profilesOnly(catalogue);
  const [finding, setFinding] = useState(false);
  const state = profile.publishedVersion
    ? `version ${profile.publishedVersion} is published${profile.draftChanged || dirty ? '; the draft differs' : ''}`
    : 'a draft, never published';
  return (
    <>
      <section className="flex min-w-0 flex-1 flex-col">
        <Heading title={profile.name} note={state}>
          {narrow && (
            <Button onClick={() => setFinding(true)}>
              <Plus className="size-4" /> {kit ? 'Add a file' : 'Add a setting'}
            </Button>
          )}
          {!app && <CopyOrSave profile={profile} />}
          <DeleteProfile profile={profile} />
          <Button
            disabled={!dirty || faults.length > 0 || writing.clashes.length > 0}
            onClick={() => void save()}
          >
            Save draft
          </Button>
          <Button
            weight="main"
            disabled={faults.length > 0 || writing.clashes.length > 0 || (!dirty && !profile.draftChanged)}
            onClick={() => void rehearse()}
          >
            Rehearse and publish
          </Button>
        </Heading>
        <div className="px-5">
          <SavedMeanwhile
            draft={writing}
            subject={`profile:${profile.id}`}
            called={(f) => called(catalogue, f.slice(SETTING.length)) ?? f}
            say={(v) =>
              v === undefined
                ? 'not said'
                : Array.isArray(v)
                  ? v.map((t) => (typeof t === 'object' ? sayListed(t as Listed) : t)).join(', ')
                  : String(v)
            }
          />
        </div>
        <div className="min-h-0 flex-1 space-y-6 overflow-y-auto px-5 pb-6">
          <Trouble error={trouble} />
          <ProfileStanding profile={profile} />
          <ProfileWaves profile={profile} />
          {app && (
            <p className="text-sm">
              It assigns{' '}
              <Link className="text-brass underline" to={`/apps/catalogue?card=${app.app.id}`}>
                {app.app.name}
              </Link>
              .
            </p>
          )}
          {profile.kits.length > 0 && (
            <p className="text-sm">
              It goes along with{' '}
              {profile.kits.map((k, i) => (
                <span key={k.id}>
                  {i > 0 && ', '}
                  <Link className="text-brass underline" to={`/rules/kits/${k.id}`}>
                    {k.name}
                  </Link>
                </span>
              ))}
              , wherever {profile.kits.length === 1 ? 'that kit goes' : 'those kits go'}.
            </p>
          )}
          <div className="grid grid-cols-2 max-md:grid-cols-1 gap-6">
            <Labelled label="Name">
              <input
                className="field"
                maxLength={80}
                value={draft.name}
                onChange={(e) => set({ name: e.target.value })}
              />
            </Labelled>
            <Labelled label="What it is for">
              <input
                className="field"
                maxLength={500}
                value={draft.description}
                onChange={(e) => set({ description: e.target.value })}
              />
            </Labelled>
            <TargetPicker
              label="Goes to"
              value={draft.targets}
              onChange={(targets) => set({ targets })}
              everyone
            />
            <TargetPicker
              label="Except"
              value={draft.exclusions}
              onChange={(exclusions) => set({ exclusions })}
              everyone={false}
            />
            <WindowFields from={draft.from} until={draft.until} onChange={set} />
          </div>
          {kit && <KitParts value={draft.parts} onChange={(parts) => set({ parts })} />}
          {kit && <h2 className="font-semibold">Files of its own</h2>}
          {offered.sections.map((section) => (
            <SectionFields
              key={section.key}
              section={section}
              catalogue={app ? offered : catalogue}
              settings={settings}
              onSet={(values) =>
                set(Object.fromEntries(Object.entries(values).map(([k, v]) => [`${SETTING}${k}`, v])))
              }
              onRemove={without}
            />
          ))}
          {kit && Object.keys(settings).length === 0 && (
            <p className="text-quiet text-sm">
              None yet. Documents, certificates, fonts and scripts that belong to the kit are found at the
              right.
            </p>
          )}
          {!kit && Object.keys(settings).length === 0 && (
            <Empty title="This profile says nothing yet.">Find settings at the right and add them.</Empty>
          )}
          {app && settings[`apps[${app.app.key}].presence`] !== 'forbidden' && (
            <Configuration
              app={app.app}
              schema={schemaOf(app, settings)}
              settings={settings}
              onSet={(values) =>
                set(Object.fromEntries(Object.entries(values).map(([k, v]) => [`${SETTING}${k}`, v])))
              }
              onRemove={without}
            />
          )}
          <ProfileVersions profile={profile} catalogue={catalogue} />
        </div>
      </section>
      {(!narrow || finding) && (
        <SettingFinder
          catalogue={offered}
          entry={app?.app.key}
          of={profile.kind}
          taken={Object.keys(settings)}
          onClose={() => setFinding(false)}
          onAdd={(added) => {
            setFinding(false);
            set(Object.fromEntries(added.map((s) => [`${SETTING}${s.key}`, firstValue(s)])));
            // what was added may be below what is seen
            requestAnimationFrame(() =>
              document.getElementById(`setting-${added[0].key}`)?.scrollIntoView({ block: 'center' }),
            );
          }}
        />
      )}
    </>
  );
}

/** Writes a profile: settings found by search, edited in forms made from the catalogue. */
export function ProfileEditor() {
  const { id = '' } = useParams();
  const catalogue = useCatalogue();
  const [rehearsing, setRehearsing] = useState<Profile>();
  const [search, setSearch] = useSearchParams();
  const here = useLocation();
  const close = () => {
    setRehearsing(undefined);
    setSearch({}, { replace: true });
  };
  const profile = useQuery({
    queryKey: ['profile', id],
    queryFn: () => answer(api.GET('/profiles/{id}', { params: { path: { id } } })),
  });
  const app = useQuery({
    queryKey: ['apps', 'one', profile.data?.app],
    enabled: profile.data?.app !== undefined,
    queryFn: () => answer(api.GET('/apps/{id}', { params: { path: { id: profile.data!.app! } } })),
  });
  if (profile.isError) {
    return (
      <div className="p-5">
        <Trouble error={profile.error} />
        <Link className="text-brass underline" to="/rules/profiles">
          All profiles
        </Link>
      </div>
    );
  }
  if (!profile.data || !catalogue.data || (profile.data.app && !app.data)) {
    return null;
  }
  if (profile.data.app && !here.pathname.startsWith('/apps/')) {
    return <Navigate to={`/apps/assignments/${id}`} replace />;
  }
  const shown = rehearsing ?? (search.get('rehearse') ? profile.data : undefined);
  return (
    <>
      <Draft
        key={id}
        profile={profile.data}
        app={app.data}
        catalogue={catalogue.data}
        onRehearse={setRehearsing}
      />
      {shown && <RehearsalSheet profile={shown} onClose={close} />}
    </>
  );
}
