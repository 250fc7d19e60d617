import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { answer, api } from '../api/client';
import { Heading, Trouble } from '../ui/parts';

const kinds: { ownership: string; mode: string; name: string }[] = [
  { ownership: 'personal', mode: 'work-profile', name: 'Personal, work profile' },
  { ownership: 'corporate', mode: 'work-profile', name: 'Corporate, work profile' },
  { ownership: 'corporate', mode: 'standard', name: 'Corporate, standard' },
  { ownership: 'corporate', mode: 'supervised', name: 'Corporate, supervised' },
];

function Column({ title, items, never }: { title: string; items: string[]; never?: boolean }) {
  return (
    <section>
      <h2 className="border-line border-b pb-1 font-semibold">{title}</h2>
      <ul className="text-sm">
        {items.map((i) => (
          <li key={i} className="border-line/60 flex h-8 items-center gap-2 border-b">
            <span aria-hidden className={never ? 'text-moss' : 'text-brass'}>
              {never ? '—' : '●'}
            </span>
            <span className="first-letter:uppercase">{i}</span>
          </li>
        ))}
        {items.length === 0 && <li className="text-quiet py-2">Nothing.</li>}
      </ul>
    </section>
  );
}

/** What is collected and can be done, as the holder reads it on the device. */
export function PrivacyPage() {
  const [search, setSearch] = useSearchParams();
  const chosen = kinds[Number(search.get('kind') ?? 0)] ?? kinds[0];
  const privacy = useQuery({
    queryKey: ['privacy', chosen.ownership, chosen.mode],
    queryFn: () =>
      answer(api.GET('/privacy', { params: { query: { ownership: chosen.ownership, mode: chosen.mode } } })),
  });
  return (
    <section className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <Heading title="Privacy" note="what the organisation sees and can do, as holders read it" />
      <div className="max-w-5xl space-y-6 px-5 pb-8">
        <div className="flex gap-2" role="group" aria-label="Ownership and mode">
          {kinds.map((k, i) => (
            <button
              key={k.name}
              type="button"
              aria-pressed={k === chosen}
              className={`border-line h-8 rounded-[3px] border px-3 text-sm ${k === chosen ? 'border-brass font-semibold' : ''}`}
              onClick={() => setSearch({ kind: String(i) }, { replace: true })}
            >
              {k.name}
            </button>
          ))}
        </div>
        <Trouble error={privacy.error} />
        {privacy.data && (
          <div className="grid grid-cols-2 gap-x-10 gap-y-8 lg:grid-cols-4">
            <Column title="It can see" items={privacy.data.visible} />
            <Column title="It never sees" items={privacy.data.never} never />
            <Column title="It can do" items={privacy.data.may} />
            <Column title="It cannot do" items={privacy.data.mayNot} never />
          </div>
        )}
        <p className="text-quiet text-sm">
          This page is made from the catalogue Pinwright itself works by: what is not listed is not kept, even
          when a device sends it.
        </p>
      </div>
    </section>
  );
}
