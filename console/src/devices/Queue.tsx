import { useQuery } from '@tanstack/react-query';
import { ArrowUp } from 'lucide-react';
import { useAct } from '../api/act';
import { answer, api } from '../api/client';
import { useCatalogue } from '../api/session';
import { AskButton } from '../ui/AskButton';
import { Button, counted, Trouble } from '../ui/parts';

/** What waits for a device, in the order it is handed over in; nothing where less than two wait. */
export function Queue({ id }: { id: string }) {
  const catalogue = useCatalogue();
  const { act, trouble, busy } = useAct('device', 'dispatches');
  const queue = useQuery({
    queryKey: ['device', id, 'queue'],
    queryFn: () => answer(api.GET('/devices/{id}/queue', { params: { path: { id } } })),
  });
  const waiting = queue.data?.items ?? [];
  if (waiting.length < 2) {
    return null;
  }
  const title = (key: string) => catalogue.data?.commands.find((c) => c.key === key)?.title ?? key;
  const before = (i: number) => {
    const commands = waiting.map((w) => w.id);
    commands.splice(i - 1, 2, commands[i]!, commands[i - 1]!);
    void act(() => answer(api.PUT('/devices/{id}/queue', { params: { path: { id } }, body: { commands } })));
  };
  return (
    <section aria-label="What waits" className="bg-raised mb-4 px-4 py-3 text-sm">
      <div className="mb-1 flex items-center gap-3">
        <h3 className="label flex-1">{counted(waiting.length, 'command')} wait, in this order</h3>
        <AskButton
          doing={`Cancel all ${waiting.length} that wait`}
          label="Cancel all"
          weight="bare"
          busy={busy}
          onYes={() => act(() => answer(api.DELETE('/devices/{id}/queue', { params: { path: { id } } })))}
        >
          <p>None of them is handed over; each can be ordered again.</p>
        </AskButton>
      </div>
      <ol className="list-decimal pl-5">
        {waiting.map((w, i) => (
          <li key={w.id} className="py-0.5">
            <span className="flex items-center gap-2">
              <span className="flex-1">{title(w.command)}</span>
              {i > 0 && (
                <Button
                  weight="bare"
                  aria-label={`${title(w.command)} earlier`}
                  disabled={busy}
                  onClick={() => before(i)}
                >
                  <ArrowUp className="size-4" />
                </Button>
              )}
            </span>
          </li>
        ))}
      </ol>
      <Trouble error={trouble} />
    </section>
  );
}
