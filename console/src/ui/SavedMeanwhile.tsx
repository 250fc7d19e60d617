import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import type { Clash } from './draft';
import { Button, Moment } from './parts';

const plain = (value: unknown): string =>
  value === undefined || value === '' ? 'nothing' : typeof value === 'string' ? value : JSON.stringify(value);

/** Says that somebody saved what is being written, who, and what both changed; lets one choose. */
export function SavedMeanwhile(props: {
  draft: {
    meanwhile: boolean;
    version: number;
    clashes: Clash[];
    settle: (clash: Clash, whose: 'mine' | 'theirs') => void;
  };
  /** What the journal calls it, such as `unit:01J…`. */
  subject: string;
  /** What people call a field. */
  called?: (field: string) => string;
  say?: (value: unknown, field: string) => string;
}) {
  const { draft, subject, called = (f) => f, say = plain } = props;
  const last = useQuery({
    queryKey: ['journal', 'last', subject, draft.version],
    enabled: draft.meanwhile,
    queryFn: () => answer(api.GET('/journal', { params: { query: { subject, limit: 1 } } })),
  });
  if (!draft.meanwhile) {
    return null;
  }
  const entry = last.data?.items[0];
  return (
    <section
      role="status"
      aria-label="Saved meanwhile"
      className="border-brass bg-raised space-y-2 border-l-4 px-4 py-3 text-sm"
    >
      <p>
        {entry ? (
          <>
            <b>{entry.who}</b> saved this <Moment at={entry.at} />.
          </>
        ) : (
          'Somebody saved this meanwhile.'
        )}{' '}
        What you typed is kept
        {draft.clashes.length > 0 ? '; choose what counts where you both changed something.' : '.'}
      </p>
      {draft.clashes.map((c) => (
        <div key={c.field} className="border-line grid grid-cols-2 items-start gap-x-4 gap-y-1 border-t pt-2">
          <span className="text-quiet col-span-2">{called(c.field)}</span>
          <span className="min-w-0 space-y-1">
            <span className="block break-words">{say(c.mine, c.field)}</span>
            <Button onClick={() => draft.settle(c, 'mine')}>Keep mine</Button>
          </span>
          <span className="min-w-0 space-y-1">
            <span className="block break-words">{say(c.theirs, c.field)}</span>
            <Button onClick={() => draft.settle(c, 'theirs')}>Take theirs</Button>
          </span>
        </div>
      ))}
    </section>
  );
}
