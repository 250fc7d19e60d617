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

interface Entry {
  key: string;
  name: string;
  detail: string;
  to: string;
}

const actions: Entry[] = [
  { key: 'a1', name: 'Invite devices', detail: 'make an invitation', to: '/intake/invitations?new=1' },
  {
    key: 'a2',
    name: 'Write an enrollment profile',
    detail: 'how devices join',
    to: '/intake/profiles?new=1',
  },
  { key: 'a3', name: 'Write a profile', detail: 'settings for devices', to: '/rules/profiles?new=1' },
  { key: 'a4', name: 'Devices that need attention', detail: 'blocked', to: '/devices?standing=blocked' },
  { key: 'a5', name: 'Arrivals that wait', detail: 'for approval', to: '/intake/arrivals?outcome=waiting' },
  { key: 'a7', name: 'Import a sheet', detail: 'into the roster', to: '/intake/roster?new=sheet' },
  { key: 'a8', name: 'Missing numbers', detail: 'in names', to: '/intake/numbers' },
  { key: 'a6', name: 'Journal', detail: 'who did what', to: '/records/journal' },
];

const places: Record<string, (id: string) => string> = {
  device: (id) => `/devices/${id}`,
  profile: (id) => `/rules/profiles/${id}`,
  'enrollment-profile': (id) => `/intake/profiles?card=${id}`,
  unit: (id) => `/devices/units?card=${id}`,
  person: (id) => `/devices/people?card=${id}`,
  roster: (id) => `/intake/roster?q=${encodeURIComponent(id)}`,
  group: (id) => `/devices?group=${id}`,
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
  const plain = words.trim().toLowerCase();
  const entries: Entry[] = [
    ...actions.filter((a) => `${a.name} ${a.detail}`.toLowerCase().includes(plain)),
    ...(plain.length > 1 ? (found.data ?? []) : []).map((f) => ({
      key: f.id,
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
