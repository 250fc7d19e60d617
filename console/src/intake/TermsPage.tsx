import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { OrderSheet } from '../devices/OrderSheet';
import { SheetLink } from '../ui/SheetLink';
import { Button, counted, Empty, Heading, Labelled, Moment, Trouble } from '../ui/parts';

type Text = Schemas['TermsText'];

const blank = (language: string): Text => ({ language, title: '', text: '' });

/** Which devices still owe a version, and a way to ask their holders. */
function Missing({ version, onAsk }: { version: number; onAsk: () => void }) {
  const missing = useQuery({
    queryKey: ['devices', 'count', 'terms', version],
    queryFn: () => answer(api.GET('/devices/count', { params: { query: { termsBelow: version } } })),
  });
  const n = missing.data?.count;
  if (n === undefined || n === 0) {
    return <>{n === 0 && <p className="text-quiet mt-2 text-sm">Everybody who was to accept it has.</p>}</>;
  }
  return (
    <p className="mt-2 flex flex-wrap items-center gap-3 text-sm">
      <Link className="text-brass underline" to={`/devices?termsBelow=${version}`}>
        {counted(n, 'device')} not yet
      </Link>
      <Button onClick={onAsk}>Ask their holders</Button>
    </p>
  );
}

/** Who accepted a version, asked for when somebody wants to know. */
function Accepted({ version }: { version: number }) {
  const [open, setOpen] = useState(false);
  const who = useQuery({
    queryKey: ['terms', 'acceptances', version],
    enabled: open,
    queryFn: () =>
      answer(
        api.GET('/terms/{version}/acceptances', {
          params: { path: { version: String(version) }, query: { limit: 100 } },
        }),
      ),
  });
  return (
    <details className="mt-2 text-sm" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="text-brass cursor-pointer">Who accepted it, newest first</summary>
      <ul className="mt-1 max-h-64 overflow-y-auto">
        {who.data?.items.map((a, i) => (
          <li key={i} className="border-line/60 flex h-7 items-center gap-3 border-b">
            <Link className="flex-1 truncate hover:underline" to={`/devices/${a.deviceId}`}>
              {a.device}
            </Link>
            <span className="text-quiet truncate">{a.person}</span>
            <span className="text-quiet w-8">{a.language}</span>
            <span className="text-quiet w-24 text-right text-xs">
              <Moment at={a.acceptedAt} />
            </span>
          </li>
        ))}
        {who.data?.items.length === 0 && <li className="text-quiet">Nobody yet.</li>}
      </ul>
      <SheetLink
        path={`/terms/${version}/acceptances.csv`}
        name={`terms-${version}-accepted.csv`}
        className="mt-2"
      />
      <Trouble error={who.error} />
    </details>
  );
}

/** What holders accept before joining; a version is never changed, only followed by another. */
export function TermsPage() {
  const queries = useQueryClient();
  const terms = useQuery({ queryKey: ['terms'], queryFn: () => answer(api.GET('/terms')) });
  const catalogue = useCatalogue();
  const [texts, setTexts] = useState<Text[]>([blank('en')]);
  const [trouble, setTrouble] = useState<unknown>();
  const [asking, setAsking] = useState<number>();
  const write = (i: number, change: Partial<Text>) =>
    setTexts(texts.map((t, n) => (n === i ? { ...t, ...change } : t)));
  const unused = () =>
    catalogue.data?.languages.find((l) => texts.every((t) => t.language !== l.key))?.key ?? 'en';
  async function keep() {
    try {
      const [main, ...translations] = texts;
      await answer(api.POST('/terms', { body: { ...main, translations } }));
      setTexts([blank('en')]);
      setTrouble(undefined);
      await queries.invalidateQueries({ queryKey: ['terms'] });
    } catch (e) {
      setTrouble(e);
    }
  }
  const spec = catalogue.data?.commands.find((c) => c.key === 'accept-terms');
  const name = (key: string) => catalogue.data?.languages.find((l) => l.key === key)?.title ?? key;
  return (
    <section className="flex min-w-0 flex-1 flex-col">
      <Heading title="Terms" note="what holders accept before their device joins" />
      <div className="grid min-h-0 flex-1 grid-cols-2 max-md:grid-cols-1 gap-8 overflow-y-auto px-5 pb-5">
        <div className="space-y-5">
          {terms.data?.length === 0 && (
            <Empty title="There are no terms yet.">Write the first version here.</Empty>
          )}
          {terms.data?.map((t) => (
            <article key={t.version} className="border-line border-t pt-3">
              <h2 className="font-semibold">
                {t.title} <span className="text-quiet font-normal">version {t.version}</span>
              </h2>
              <p className="text-quiet text-xs">
                written <Moment at={t.createdAt} />, in{' '}
                {[t.language, ...t.translations.map((x) => x.language)].map(name).join(', ')}; accepted last
                on {t.accepted} devices
              </p>
              <p className="mt-2 text-sm whitespace-pre-line">{t.text}</p>
              {t.translations.map((x) => (
                <details key={x.language} className="mt-2 text-sm">
                  <summary className="text-brass cursor-pointer">In {name(x.language)}</summary>
                  <p className="mt-1 font-semibold">{x.title}</p>
                  <p className="whitespace-pre-line">{x.text}</p>
                </details>
              ))}
              <Accepted version={t.version} />
              {t.version === terms.data[0].version && (
                <Missing version={t.version} onAsk={() => setAsking(t.version)} />
              )}
            </article>
          ))}
        </div>
        <form
          className="space-y-4"
          onSubmit={(e) => {
            e.preventDefault();
            void keep();
          }}
        >
          {texts.map((t, i) => (
            <fieldset key={i} className={i > 0 ? 'border-line space-y-3 border-t pt-3' : 'space-y-3'}>
              <div className="grid grid-cols-[140px_1fr] gap-3">
                <Labelled label={i === 0 ? 'Language' : 'Translated into'}>
                  <select
                    className="field"
                    value={t.language}
                    onChange={(e) => write(i, { language: e.target.value })}
                  >
                    {catalogue.data?.languages.map((l) => (
                      <option key={l.key} value={l.key}>
                        {l.title}
                      </option>
                    ))}
                  </select>
                </Labelled>
                <Labelled label="Title">
                  <input
                    className="field"
                    maxLength={120}
                    value={t.title}
                    onChange={(e) => write(i, { title: e.target.value })}
                  />
                </Labelled>
              </div>
              <Labelled
                label="Text"
                hint={i === 0 ? 'Enrollment profiles name the version they ask for.' : undefined}
              >
                <textarea
                  className="field"
                  rows={i === 0 ? 10 : 6}
                  value={t.text}
                  onChange={(e) => write(i, { text: e.target.value })}
                />
              </Labelled>
            </fieldset>
          ))}
          <Button onClick={() => setTexts([...texts, blank(unused())])}>Add a translation</Button>
          <Trouble error={trouble ?? terms.error} />
          <Button
            type="submit"
            weight="main"
            className="ml-2"
            disabled={texts.some((t) => !t.title.trim() || !t.text.trim())}
          >
            Write version {(terms.data?.[0]?.version ?? 0) + 1}
          </Button>
        </form>
      </div>
      {asking !== undefined && spec && (
        <OrderSheet
          spec={spec}
          whom={{ matching: { termsBelow: asking }, count: 0 }}
          called={`version ${asking}`}
          given={{ version: String(asking) }}
          onClose={() => setAsking(undefined)}
        />
      )}
    </section>
  );
}
