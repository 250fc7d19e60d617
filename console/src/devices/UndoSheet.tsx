import { useQuery } from '@tanstack/react-query';
import { useAct } from '../api/act';
import { answer, api } from '../api/client';
import { ProposeButton, useConfirmation } from '../rules/confirmation';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Trouble } from '../ui/parts';
import { Rehearsed } from './EditSheet';

/** Takes a change of many devices back, having said what that would do. */
export function UndoSheet({ id, title, onClose }: { id: string; title: string; onClose: () => void }) {
  const { act, trouble, busy } = useAct('devices', 'changes', 'tags');
  const path = { id };
  const rehearsal = useQuery({
    queryKey: ['undo', id],
    retry: false,
    gcTime: 0,
    queryFn: () => answer(api.POST('/changes/{id}/undo/rehearsal', { params: { path } })),
  });
  const r = rehearsal.data;
  const confirmation = useConfirmation(r, 'go on');
  return (
    <Sheet
      title={`Take back: ${title}`}
      wide
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {confirmation.second && <ProposeButton intent={{ takeBack: path }} confirmation={confirmation} />}
          <Button
            weight="main"
            disabled={busy || !confirmation.ready || r?.changing === 0}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/changes/{id}/undo', {
                      params: { path },
                      body: confirmation.given,
                    }),
                  ),
                onClose,
              )
            }
          >
            Take back on {counted(r?.changing ?? 0, 'device')}
          </Button>
        </>
      }
    >
      <p className="text-quiet text-sm">
        Puts back what was so before this change: of an edit, wherever it still stands; of a publication, what
        was published before it. What somebody wrote since stays as it is.
      </p>
      {r && <Rehearsed of={r} />}
      {confirmation.fields}
      <Trouble error={trouble ?? rehearsal.error} />
    </Sheet>
  );
}
