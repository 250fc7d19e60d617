import { useQuery } from '@tanstack/react-query';
import { Plus, Search } from 'lucide-react';
import { useState } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { Button } from '../ui/parts';
import { entriesOf, entryKey, inEntry } from './entries';

type Setting = Schemas['Setting'];

/** Asks which entry of a collection a setting is for: one that is there, or a new one. */
function WhichEntry({
  setting,
  section,
  taken,
  onAdd,
}: {
  setting: Setting;
  section: Schemas['Section'];
  taken: string[];
  onAdd: (s: Setting[]) => void;
}) {
  const [name, setName] = useState('');
  const noun = section.entries!.noun;
  const have = entriesOf(section.key, taken);
  const without = have.filter((e) => !taken.includes(inEntry(setting, e).key));
  const key = entryKey(name);
  return (
    <div className="space-y-2 pb-3 pl-6">
      {without.map((e) => (
        <Button key={e} onClick={() => onAdd([inEntry(setting, e)])}>
          to {e}
        </Button>
      ))}
      {have.length < section.entries!.most && (
        <form
          className="flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (key && !have.includes(key)) {
              onAdd([inEntry(setting, key)]);
            }
          }}
        >
          <input
            className="field"
            aria-label={`What the new ${noun} is called here`}
            placeholder={`new ${noun}: galleries …`}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <Button type="submit" disabled={!key || have.includes(key)}>
            Add
          </Button>
        </form>
      )}
    </div>
  );
}

/** Which devices a profile is thought for; empty words mean any. */
export interface For {
  platform: string;
  mode: string;
}

/** Why a setting is nothing for such devices; nothing where it is. */
export function unfit(s: Setting, { platform, mode }: For): string | undefined {
  const there = s.support.filter((x) => platform === '' || x.platform === platform);
  if (there.length === 0) {
    return `only on ${s.support.map((x) => x.platform).join(' and ')}`;
  }
  if (mode !== '' && !there.some((x) => x.modes.some((m) => m === mode))) {
    return `only when ${[...new Set(there.flatMap((x) => x.modes))].join(' or ')}`;
  }
  return undefined;
}

/** Settings found by words, to be added. */
export function SettingFinder({
  catalogue,
  of,
  entry,
  taken,
  onAdd,
  onClose,
}: {
  /** The entry they are of, where there can be but one. */
  entry?: string;
  /** What they are added to. */
  of: Schemas['ProfileKind'];
  catalogue: Schemas['Catalogue'];
  /** Keys of the settings that are there. */
  taken: string[];
  /** Given the settings to add, with those an entry cannot do without. */
  onAdd: (s: Setting[]) => void;
  /** Puts it away, where it lies over the page. */
  onClose: () => void;
}) {
  const [words, setWords] = useState('');
  const [asking, setAsking] = useState<string>();
  const [meant, setMeant] = useState<For>({ platform: '', mode: '' });
  const found = useQuery({
    queryKey: ['settings', words],
    placeholderData: (before) => before,
    staleTime: Infinity,
    queryFn: () => answer(api.GET('/settings', { params: { query: { q: words } } })),
  });
  const collection = (s: Setting) => catalogue.sections.find((x) => x.key === s.section && x.entries);
  const known = (found.data ?? [])
    .map((s) => (entry ? inEntry(s, entry) : s))
    .filter((s) => catalogue.sections.some((x) => x.key === s.section))
    .filter((s) => !entry || catalogue.settings.some((x) => x.key === s.key));
  const offers = known.filter((s) => collection(s) || !taken.includes(s.key));
  const fit = offers.filter((s) => !unfit(s, meant));
  const others = offers.filter((s) => unfit(s, meant));
  // with no words it is a table of contents
  const heads = words.trim() === '';
  return (
    <div className="border-line bg-paper flex w-80 shrink-0 flex-col border-l max-md:fixed max-md:inset-0 max-md:z-20 max-md:w-full">
      <div className="flex justify-end px-2 pt-2 md:hidden">
        <Button weight="bare" onClick={onClose}>
          Back to the {of}
        </Button>
      </div>
      <div className="relative p-4 pb-2">
        <Search className="text-quiet absolute top-1/2 left-6 size-4 -translate-y-1/3" aria-hidden />
        <input
          type="search"
          aria-label={of === 'kit' ? 'Find a file' : 'Find a setting'}
          placeholder={
            of === 'kit' ? 'Find: document, certificate, font …' : 'Find a setting: photo, lock, wifi …'
          }
          className="field pl-8"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </div>
      <div className="flex gap-2 px-4 pb-2">
        <select
          className="field h-7! text-xs"
          aria-label="For which platform"
          value={meant.platform}
          onChange={(e) => setMeant({ ...meant, platform: e.target.value })}
        >
          <option value="">any platform</option>
          {catalogue.platforms.map((p) => (
            <option key={p.key} value={p.key}>
              {p.name}
            </option>
          ))}
        </select>
        <select
          className="field h-7! text-xs"
          aria-label="For which mode"
          value={meant.mode}
          onChange={(e) => setMeant({ ...meant, mode: e.target.value })}
        >
          <option value="">any mode</option>
          {catalogue.modes.map((m) => (
            <option key={m.key} value={m.key}>
              {m.title}
            </option>
          ))}
        </select>
      </div>
      <ul className="flex-1 overflow-y-auto px-4 pb-4">
        {fit.map((s, i) => {
          const section = collection(s);
          return (
            <li key={s.key} className="border-line/60 border-b">
              {heads && s.section !== fit[i - 1]?.section && (
                <h3 className="label pt-4 pb-1">
                  {catalogue.sections.find((x) => x.key === s.section)?.title}
                </h3>
              )}
              <button
                type="button"
                className="hover:bg-raised flex w-full items-start gap-2 py-2 text-left"
                aria-expanded={section ? asking === s.key : undefined}
                onClick={() => (section ? setAsking(asking === s.key ? undefined : s.key) : onAdd([s]))}
              >
                <Plus className="text-brass mt-0.5 size-4 shrink-0" aria-hidden />
                <span>
                  <span className="block text-sm">{s.title}</span>
                  <span className="text-quiet block text-xs">{s.help}</span>
                </span>
              </button>
              {section && asking === s.key && (
                <WhichEntry
                  setting={s}
                  section={section}
                  taken={taken}
                  onAdd={([added]) => {
                    setAsking(undefined);
                    const entry = added.key.slice(0, added.key.indexOf(']') + 1);
                    const needed = catalogue.settings
                      .filter((x) => x.section === s.section && x.required && x.key !== s.key)
                      .map((x) => ({ ...x, key: x.key.replace(x.section, entry) }))
                      .filter((x) => !taken.includes(x.key));
                    onAdd([...needed, added]);
                  }}
                />
              )}
            </li>
          );
        })}
        {fit.length === 0 && <li className="text-quiet py-4 text-sm">No other setting has these words.</li>}
        {others.length > 0 && (
          <li className="pt-4">
            <h3 className="label pb-1">Not on these devices</h3>
            <ul>
              {others.map((s) => (
                <li key={s.key} className="text-quiet flex justify-between gap-3 py-1 text-xs">
                  <span>{s.title}</span>
                  <span className="text-right">{unfit(s, meant)}</span>
                </li>
              ))}
            </ul>
          </li>
        )}
      </ul>
    </div>
  );
}
