import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
} from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api } from '../api/client';
import { useCatalogue } from '../api/session';

interface Entry {
  key: string;
  name: string;
  detail: string;
  to: string;
}

const todo: [name: string, detail: string, to: string][] = [
  ['Invite devices', 'make an invitation', '/intake/invitations?new=1'],
  ['Invite many people', 'by unit, directory group or sheet', '/intake/invitations?new=many'],
  ['Write an enrollment profile', 'how devices join', '/intake/profiles?new=1'],
  ['Import a sheet', 'into the roster', '/intake/roster?new=sheet'],
  ['Open the bench', 'prepare many devices', '/intake/bench?new=1'],
  ['Arrivals that wait', 'for approval', '/intake/arrivals?outcome=waiting'],
  ['Registered devices', 'assign what a reseller registered', '/intake/registrar'],
  ['Missing numbers', 'in names', '/intake/numbers'],
  ['Terms', 'what holders accept', '/intake/terms'],
  ['Privacy', 'what holders are told', '/intake/privacy'],
  ['Devices that need attention', 'blocked', '/devices?standing=blocked'],
  ['Retired devices', 'with dates and reasons', '/devices?retired=true'],
  ['Tags', 'rename, take away, take in a sheet', '/devices/tags'],
  ['Make an attribute', 'a field of your own', '/devices/attributes?new=1'],
  ['Add a person', 'who holds devices', '/devices/people?new=1'],
  ['Make a site', 'a place on the map', '/devices/sites?new=1'],
  ['Write a profile', 'settings for devices', '/rules/profiles?new=1'],
  ['Make a kit', 'profiles and files handed out together', '/rules/kits?new=1'],
  ['Apps', 'what there is, and on which devices', '/apps/catalogue'],
  ['Bring a package', 'of an app of your own', '/apps/catalogue?new=package'],
  ['Find an app in a store', 'by country, in words', '/apps/catalogue?new=store'],
  ['Licenses', 'what was bought, and how long it lasts', '/apps/licenses'],
  ['Checks', 'which devices are not in order', '/rules/checks'],
  ['Make a check', 'encryption, passcode, OS version', '/rules/checks?new=1'],
  ['Store a file', 'a picture, a certificate, a document', '/rules/files?new=1'],
  ['Baseline', 'one sane set of rules', '/rules/profiles?new=baseline'],
  ['Journal', 'who did what', '/records/journal'],
  ['Commands', 'what was ordered, and how it ended', '/records/commands'],
  ['Set-up', 'what is missing', '/house/set-up'],
  ['Gateways', 'push, registrar and store', '/house/gateways'],
  ['Mail', 'how letters leave', '/house/mail'],
  ['Staff directory', 'who holders are', '/house/directory'],
  ['Before changes', 'what is asked from how many devices on', '/house/thresholds'],
  ['All as files', 'rules, intake and organisation in a folder', '/house/configuration'],
  ['Proposals that wait', 'for a second person', '/rules/proposals?state=waiting'],
  ['Accounts', 'who signs in here', '/house/accounts'],
  ['Your password', 'and where you are signed in', '/me'],
];
const actions: Entry[] = todo.map(([name, detail, to]) => ({ key: to, name, detail, to }));

const places: Record<string, (id: string) => string> = {
  device: (id) => `/devices/${id}`,
  profile: (id) => `/rules/profiles/${id}`,
  kit: (id) => `/rules/kits/${id}`,
  app: (id) => `/apps/catalogue?card=${id}`,
  assignment: (id) => `/apps/assignments/${id}`,
  'enrollment-profile': (id) => `/intake/profiles?card=${id}`,
  unit: (id) => `/devices/units?card=${id}`,
  person: (id) => `/devices/people?card=${id}`,
  roster: (id) => `/intake/roster?q=${encodeURIComponent(id)}`,
  group: (id) => `/devices?group=${id}`,
  site: (id) => `/devices/sites?card=${id}`,
  tag: (id) => `/devices/tags?card=${encodeURIComponent(id)}`,
  file: (id) => `/rules/files?card=${id}`,
  'bench-session': (id) => `/intake/bench/${id}`,
};

/** Finds everything and every action (Ctrl K). */
export function Finder({ onClose }: { onClose: () => void }) {
  const [words, setWords] = useState('');
  const go = useNavigate();
  const found = useQuery({
    queryKey: ['search', words],
    enabled: words.trim().length > 1,
    placeholderData: (before) => before,
    queryFn: () => answer(api.GET('/search', { params: { query: { q: words } } })),
  });
  const catalogue = useCatalogue();
  const plain = words.trim().toLowerCase();
  const commands = plain.length > 1 ? (catalogue.data?.commands ?? []) : [];
  // "lock quay" is about locking what is called quay
  const meant = commands.find((c) => plain.startsWith(`${c.title.toLowerCase()} `));
  const whom = meant ? plain.slice(meant.title.length + 1).trim() : '';
  const devices = useQuery({
    queryKey: ['search', 'device', whom],
    enabled: whom.length > 1,
    queryFn: () => answer(api.GET('/search', { params: { query: { q: whom, kind: 'device' } } })),
  });
  const entries: Entry[] = [
    ...(meant && whom.length > 1 ? (devices.data ?? []) : []).map((d) => ({
      key: `${meant!.key} ${d.id}`,
      name: `${meant!.title} ${d.name}`,
      detail: d.detail,
      to: `/devices/${d.id}?order=${meant!.key}`,
    })),
    ...commands
      .filter((c) => c === meant || c.title.toLowerCase().includes(plain))
      .map((c) => ({
        key: `order ${c.key}`,
        name: `${c.title} devices …`,
        detail: c.help,
        to: `/devices?order=${c.key}`,
      })),
    ...actions.filter((a) => `${a.name} ${a.detail}`.toLowerCase().includes(plain)),
    ...(plain.length > 1 ? (found.data ?? []) : []).map((f) => ({
      key: `${f.kind} ${f.id}`,
      name: f.name,
      detail: `${f.kind.replace('-', ' ')}${f.detail ? `, ${f.detail}` : ''}`,
      to: places[f.kind](f.id),
    })),
  ];
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="bg-ink/25 fixed inset-0 dark:bg-black/50" aria-hidden />
      <div className="fixed inset-0 flex justify-center p-20">
        <DialogPanel className="frame h-fit w-full max-w-xl rounded-[3px]">
          <Combobox
            onChange={(entry: Entry | null) => {
              if (entry) {
                go(entry.to);
                onClose();
              }
            }}
          >
            <ComboboxInput
              autoFocus
              aria-label="Find anything"
              placeholder="A device, a profile, a serial number, something to do …"
              className="w-full bg-transparent px-4 py-3 text-base outline-none"
              onChange={(e) => setWords(e.target.value)}
            />
            <ComboboxOptions static className="border-line max-h-96 overflow-y-auto border-t py-1">
              {entries.map((e) => (
                <ComboboxOption
                  key={e.key}
                  value={e}
                  className="data-focus:bg-raised flex items-baseline gap-3 px-4 py-1.5 text-sm"
                >
                  <span>{e.name}</span>
                  <span className="text-quiet ml-auto text-xs">{e.detail}</span>
                </ComboboxOption>
              ))}
              {entries.length === 0 && (
                <p className="text-quiet px-4 py-3 text-sm">Nothing has these words.</p>
              )}
            </ComboboxOptions>
          </Combobox>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
