import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { moment } from '../ui/dates';
import { Button, Empty, Moment, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';
import { Brought } from './Brought';
import { Queue } from './Queue';

/** What happened to a device, newest first. */
export function Activity({ id }: { id: string }) {
  const pages = usePages<Schemas['ActivityLine']>(['device', id, 'activity'], (after) =>
    answer(api.GET('/devices/{id}/activity', { params: { path: { id }, query: { after, limit: 50 } } })),
  );
  return (
    <>
      <ol className="border-line ml-1 border-l text-sm">
        {pages.items.map((a) => (
          <li key={a.id} className="relative py-1.5 pl-4">
            <span className="bg-slate absolute top-3.5 -left-[3px] size-[5px] rounded-full" aria-hidden />
            <span className="flex justify-between gap-3">
              <span>{a.text}</span>
              <span className="text-quiet shrink-0 text-xs">
                <Moment at={a.at} />
              </span>
            </span>
          </li>
        ))}
      </ol>
      {pages.hasNextPage && (
        <Button weight="bare" onClick={() => void pages.fetchNextPage()}>
          Earlier
        </Button>
      )}
    </>
  );
}

/** Commands of a device, newest first. */
export function Commands({ id }: { id: string }) {
  const { act, trouble } = useAct('device', 'dispatches');
  const pages = usePages<Schemas['Command']>(['device', id, 'commands'], (after) =>
    answer(api.GET('/devices/{id}/commands', { params: { path: { id }, query: { after, limit: 50 } } })),
  );
  const cancel = (command: string) =>
    act(() => answer(api.POST('/commands/{id}/cancellation', { params: { path: { id: command } } })));
  if (pages.items.length === 0 && !pages.isLoading) {
    return <Empty title="No command was ever sent.">Use the button above.</Empty>;
  }
  return (
    <>
      <Trouble error={trouble} />
      <Queue id={id} />
      <ul className="text-sm">
        {pages.items.map((c) => (
          <li key={c.id} className="border-line/60 flex items-center gap-3 border-b py-1.5">
            <span className="flex-1">
              {c.title}
              {c.state === 'planned' && c.dueAt && (
                <span className="text-quiet block text-xs">for {moment(c.dueAt)}</span>
              )}
              {c.reason && <span className="text-quiet block text-xs">{c.reason}</span>}
            </span>
            <Brought by={c} />
            <Standing of={c.state} />
            {(c.state === 'queued' || c.state === 'planned') && (
              <Button weight="bare" onClick={() => void cancel(c.id)}>
                Cancel
              </Button>
            )}
            <span className="text-quiet w-20 text-right text-xs">
              <Moment at={c.endedAt ?? c.deliveredAt ?? c.queuedAt} />
            </span>
          </li>
        ))}
      </ul>
      {pages.hasNextPage && (
        <Button weight="bare" onClick={() => void pages.fetchNextPage()}>
          Earlier
        </Button>
      )}
    </>
  );
}
