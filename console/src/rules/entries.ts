import type { Schemas } from '../api/client';

type Setting = Schemas['Setting'];

const ENTRY = /\[([^\]]*)]/;

/** The key of the entry a setting belongs to, where its section is a collection. */
export const entryOf = (key: string): string | undefined => ENTRY.exec(key)?.[1];

/** The setting of a key, as the catalogue has it, under the key it was asked for. */
export function settingOf(catalogue: Schemas['Catalogue'], key: string): Setting | undefined {
  const kind = key.replace(ENTRY, '');
  const setting = catalogue.settings.find((s) => s.key === kind);
  return setting && { ...setting, key };
}

/** A setting of an entry. */
export const inEntry = (setting: Setting, entry: string): Setting => ({
  ...setting,
  key: setting.key.replace(setting.section, `${setting.section}[${entry}]`),
});

/** A key for an entry out of what somebody calls it: small letters, digits and hyphens, at most 32. */
export const entryKey = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 32);

/** The keys of the entries of a section that a profile has. */
export const entriesOf = (section: string, keys: string[]): string[] =>
  [...new Set(keys.filter((k) => k.startsWith(`${section}[`)).flatMap((k) => entryOf(k) ?? []))].sort();

/** What a setting that was just added says first. */
export const firstValue = (s: Setting): unknown => (s.sensitive ? '' : s.fallback);
