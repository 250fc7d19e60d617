import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { Heading, Trouble } from '../ui/parts';

/** Who owns it and how far it is managed; what the holder of a personal device fears most comes first. */
const kinds: { ownership: Schemas['Ownership']; mode: Schemas['Mode'] }[] = [
  { ownership: 'personal', mode: 'work-profile' },
  { ownership: 'corporate', mode: 'work-profile' },
  { ownership: 'corporate', mode: 'standard' },
  { ownership: 'corporate', mode: 'supervised' },
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
  const catalogue = useCatalogue();
  const titled = (words: Schemas['Word'][] | undefined, key: string) =>
    words?.find((w) => w.key === key)?.title ?? key;
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
              key={`${k.ownership} ${k.mode}`}
              type="button"
              aria-pressed={k === chosen}
              className={`border-line h-8 first-letter:uppercase rounded-[3px] border px-3 text-sm ${k === chosen ? 'border-brass font-semibold' : ''}`}
              onClick={() => setSearch({ kind: String(i) }, { replace: true })}
            >
              {titled(catalogue.data?.ownerships, k.ownership)}, {titled(catalogue.data?.modes, k.mode)}
            </button>
          ))}
        </div>
        <Trouble error={privacy.error} />
        {privacy.data && (
          <div className="grid grid-cols-2 gap-x-10 max-md:grid-cols-1 gap-y-8 lg:grid-cols-4">
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
