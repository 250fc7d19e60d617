import { answer, api, type Schemas } from '../api/client';
import { store } from '../rules/files';

export type Load = Schemas['ConfigurationLoad'];
export type Step = Schemas['ConfigurationStep'];

/** A folder that was chosen: texts by path, and the files beside them by name. */
export interface Folder {
  name: string;
  texts: Record<string, string>;
  files: Record<string, { file: File; digest: string }>;
}

/** A secret that is in no file and has to be given. */
export interface Secret {
  part: Schemas['ConfigurationPart'];
  name: string;
  key: string;
}

/** What the parts of a configuration are called, one of each. */
export const PARTS: Record<Schemas['ConfigurationPart'], string> = {
  attribute: 'Attribute',
  unit: 'Unit',
  site: 'Site',
  person: 'Person',
  terms: 'Terms, version',
  group: 'Group',
  'enrollment-profile': 'Enrollment profile',
  profile: 'Profile',
  kit: 'Kit',
  check: 'Check',
};

export const VERBS: Record<Schemas['ConfigurationVerb'], string> = {
  add: 'Added',
  change: 'Changed',
  delete: 'Deleted',
  stay: 'In no file; stays',
};

async function digestOf(file: File): Promise<string> {
  const bytes = await crypto.subtle.digest('SHA-256', await file.arrayBuffer());
  return [...new Uint8Array(bytes)].map((b) => b.toString(16).padStart(2, '0')).join('');
}

/**
 * Reads a folder that was chosen.
 *
 * @throws Error when it is no configuration
 */
export async function read(chosen: File[]): Promise<Folder> {
  const folder: Folder = {
    name: chosen[0]?.webkitRelativePath.split('/')[0] ?? '',
    texts: {},
    files: {},
  };
  for (const file of chosen) {
    const path = file.webkitRelativePath.split('/').slice(1).join('/');
    if (path.startsWith('files/')) {
      folder.files[path.slice('files/'.length)] = { file, digest: await digestOf(file) };
    } else if (path === 'pinwright.yaml' || /^(organisation|intake|rules)\/.*\.yaml$/.test(path)) {
      folder.texts[path] = await file.text();
    }
  }
  if (!('pinwright.yaml' in folder.texts)) {
    throw new Error(
      `There is no pinwright.yaml in ${folder.name || 'the folder'}, so it is no configuration of Pinwright.`,
    );
  }
  return folder;
}

/** What is sent of a folder. */
export function loadOf(folder: Folder, secrets: Load['secrets'], gone: boolean): Load {
  return {
    texts: folder.texts,
    files: Object.fromEntries(Object.entries(folder.files).map(([name, f]) => [name, f.digest])),
    secrets,
    delete: gone,
  };
}

// it may be larger than what is sent otherwise, and says so
const headers = { 'Content-Type': 'application/vnd.pinwright.configuration+json' };

export const rehearse = (body: Load) => answer(api.POST('/configuration/rehearsal', { body, headers }));

export const load = (body: Load) => answer(api.POST('/configuration', { body, headers }));

/** Stores files the service has not got, under names nothing else has; loading calls them right. */
export async function storeWanted(folder: Folder, wanted: string[], passwords: Record<string, string>) {
  for (const name of wanted) {
    const { file, digest } = folder.files[name]!;
    await store(file, `${digest.slice(0, 12)} ${name}`.slice(0, 120), passwords[name] ?? '');
  }
}
