import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { Button } from '../ui/parts';

type Part = Schemas['KitPart'];

export const sayPart = (p: Part) => `${p.name}${p.whenInOrder ? ', while the device is in order' : ''}`;

/** The profiles and assignments of apps that go along with a kit, and to whom. */
export function KitParts({ value, onChange }: { value: Part[]; onChange: (parts: Part[]) => void }) {
  const [words, setWords] = useState('');
  const found = useQuery({
    queryKey: ['profiles', 'choice', words],
    placeholderData: (before) => before,
    queryFn: async () => {
      const kinds = ['profile', 'app'] as const;
      const pages = await Promise.all(
        kinds.map((kind) =>
          answer(api.GET('/profiles', { params: { query: { kind, q: words, limit: 20 } } })),
        ),
      );
      return pages.flatMap((page) => page.items);
    },
  });
  const offers = (found.data ?? []).filter((p) => !value.some((v) => v.profile === p.id));
  const change = (part: Part, to: Partial<Part>) =>
    onChange(value.map((v) => (v === part ? { ...v, ...to } : v)));
  return (
    <section aria-label="Profiles and apps that go along">
      <h2 className="font-semibold">Profiles and apps that go along</h2>
      <ul className="mb-3">
        {value.map((p) => (
          <li
            key={p.profile}
            className="border-line/60 grid grid-cols-[1fr_16rem_2.5rem] items-center gap-4 border-b py-2 max-md:grid-cols-[1fr_2.5rem] max-md:*:first:col-span-2"
          >
            <span className="text-sm">
              <Link className="text-brass underline" to={`/rules/profiles/${p.profile}`}>
                {p.name}
              </Link>
              <span className="text-quiet block text-xs">
                {p.publishedVersion
                  ? `version ${p.publishedVersion} goes along, and later ones as they are published`
                  : 'never published: nothing goes along until it is'}
              </span>
            </span>
            <select
              className="field"
              aria-label={`Who gets ${p.name}`}
              value={p.whenInOrder ? 'in-order' : 'all'}
              onChange={(e) => change(p, { whenInOrder: e.target.value === 'in-order' })}
            >
              <option value="all">whoever has the kit</option>
              <option value="in-order">only while in order</option>
            </select>
            <Button
              weight="bare"
              className="justify-center px-0!"
              aria-label={`Take ${p.name} out`}
              onClick={() => onChange(value.filter((v) => v !== p))}
            >
              <X className="size-4 shrink-0" />
            </Button>
          </li>
        ))}
        {value.length === 0 && <li className="text-quiet py-2 text-sm">None yet.</li>}
      </ul>
      <Combobox<Schemas['ProfileSummary'] | null>
        immediate
        value={null}
        onChange={(p) => {
          if (p) {
            onChange([
              ...value,
              { profile: p.id, name: p.name, publishedVersion: p.publishedVersion, whenInOrder: false },
            ]);
            setWords('');
          }
        }}
      >
        <ComboboxInput
          className="field max-w-md"
          aria-label="Find a profile to go along"
          autoComplete="off"
          placeholder="Find a profile or an assignment of an app"
          displayValue={() => words}
          onChange={(e) => setWords(e.target.value)}
        />
        <ComboboxOptions
          anchor={{ to: 'bottom start', gap: 4 }}
          className="frame z-30 max-h-80! w-(--input-width) overflow-y-auto rounded-[3px] py-1 shadow-lg empty:invisible"
        >
          {offers.map((p) => (
            <ComboboxOption
              key={p.id}
              value={p}
              className="data-focus:bg-raised flex h-8 cursor-pointer items-center gap-3 px-3 text-sm"
            >
              <span className="flex-1 truncate">
                {p.name}
                {p.kind === 'app' && <span className="text-quiet text-xs"> app</span>}
              </span>
              <span className="text-quiet text-xs">
                {p.publishedVersion ? `version ${p.publishedVersion}` : 'draft'}
              </span>
            </ComboboxOption>
          ))}
          {offers.length === 0 && words.trim() !== '' && (
            <p className="text-quiet px-3 py-1.5 text-xs">No other profile is called that.</p>
          )}
        </ComboboxOptions>
      </Combobox>
    </section>
  );
}
