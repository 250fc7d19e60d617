import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Trouble } from '../ui/parts';
import { Rehearsed } from './EditSheet';

/** Takes a change of many devices back, having said what that would do. */
export function UndoSheet({ id, title, onClose }: { id: string; title: string; onClose: () => void }) {
  const { act, trouble, busy } = useAct('devices', 'changes', 'tags');
  const [confirm, setConfirm] = useState('');
  const path = { id };
  const rehearsal = useQuery({
    queryKey: ['undo', id],
    retry: false,
    gcTime: 0,
    queryFn: () => answer(api.POST('/changes/{id}/undo/rehearsal', { params: { path } })),
  });
  const r = rehearsal.data;
  const asked = r?.confirmDevices;
  return (
    <Sheet
      title={`Take back: ${title}`}
      wide
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !r || r.changing === 0 || (asked !== undefined && Number(confirm) !== asked)}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/changes/{id}/undo', {
                      params: { path },
                      body: { confirmDevices: confirm ? Number(confirm) : undefined },
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
      {asked !== undefined && (
        <Labelled label={`Type ${asked}, the number of devices, to go on`}>
          <input className="field w-32" value={confirm} onChange={(e) => setConfirm(e.target.value)} />
        </Labelled>
      )}
      <Trouble error={trouble ?? rehearsal.error} />
    </Sheet>
  );
}
