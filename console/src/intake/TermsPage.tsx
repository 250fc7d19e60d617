import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { Button, Empty, Heading, Labelled, Moment, Trouble } from '../ui/parts';

/** What holders accept before joining; a version is never changed, only followed by another. */
export function TermsPage() {
  const queries = useQueryClient();
  const terms = useQuery({ queryKey: ['terms'], queryFn: () => answer(api.GET('/terms')) });
  const [title, setTitle] = useState('');
  const [text, setText] = useState('');
  const [trouble, setTrouble] = useState<unknown>();
  async function write() {
    try {
      await answer(api.POST('/terms', { body: { title, text } }));
      setTitle('');
      setText('');
      setTrouble(undefined);
      await queries.invalidateQueries({ queryKey: ['terms'] });
    } catch (e) {
      setTrouble(e);
    }
  }
  return (
    <section className="flex min-w-0 flex-1 flex-col">
      <Heading title="Terms" note="what holders accept before their device joins" />
      <div className="grid min-h-0 flex-1 grid-cols-2 gap-8 overflow-y-auto px-5 pb-5">
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
                written <Moment at={t.createdAt} />
              </p>
              <p className="mt-2 text-sm whitespace-pre-line">{t.text}</p>
            </article>
          ))}
        </div>
        <form
          className="space-y-4"
          onSubmit={(e) => {
            e.preventDefault();
            void write();
          }}
        >
          <Labelled label="Title">
            <input
              className="field"
              maxLength={120}
              value={title}
              onChange={(e) => setTitle(e.target.value)}
            />
          </Labelled>
          <Labelled label="Text" hint="Enrollment profiles name the version they ask for.">
            <textarea className="field" rows={12} value={text} onChange={(e) => setText(e.target.value)} />
          </Labelled>
          <Trouble error={trouble ?? terms.error} />
          <Button type="submit" weight="main" disabled={!title.trim() || !text.trim()}>
            Write version {(terms.data?.[0]?.version ?? 0) + 1}
          </Button>
        </form>
      </div>
    </section>
  );
}
