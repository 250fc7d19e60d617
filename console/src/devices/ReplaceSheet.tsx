import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Trouble } from '../ui/parts';

/** Lets another device take the place of one. */
export function ReplaceSheet({ detail, onClose }: { detail: Schemas['DeviceDetail']; onClose: () => void }) {
  const old = detail.device;
  const [words, setWords] = useState('');
  const [by, setBy] = useState<Schemas['Found']>();
  const [reason, setReason] = useState('');
  const { act, trouble, busy } = useAct('device', 'devices', 'fleet', 'changes');
  const found = useQuery({
    queryKey: ['search', 'device', words],
    enabled: words.trim().length > 1,
    queryFn: () => answer(api.GET('/search', { params: { query: { q: words, kind: 'device' } } })),
  });
  const replace = () =>
    act(
      () =>
        answer(
          api.POST('/devices/{id}/replacement', {
            params: { path: { id: old.id } },
            body: { by: by!.id, reason },
          }),
        ),
      onClose,
    );
  const others = found.data?.filter((f) => f.id !== old.id && !f.detail.endsWith(', retired'));
  return (
    <Sheet
      title={`Replace ${old.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="danger" disabled={busy || !by || !reason.trim()} onClick={() => void replace()}>
            {by ? `Replace it by ${by.name}` : 'Replace it'}
          </Button>
        </>
      }
    >
      <p className="text-sm">
        Another device that has joined takes its name, unit, site, holder, groups and tags, and the settings
        that follow from them. {old.name} is retired.
      </p>
      {by ? (
        <p className="flex items-center justify-between gap-4 text-sm">
          <span>
            <b>{by.name}</b> <span className="text-quiet">{by.detail}</span>
          </span>
          <Button weight="bare" onClick={() => setBy(undefined)}>
            Another one
          </Button>
        </p>
      ) : (
        <div>
          <Labelled label="By" hint="Two letters of its name, serial number or model.">
            <input className="field" autoFocus value={words} onChange={(e) => setWords(e.target.value)} />
          </Labelled>
          <ul className="text-sm">
            {others?.map((f) => (
              <li key={f.id}>
                <button
                  type="button"
                  className="hover:bg-raised flex w-full justify-between px-2 py-1 text-left"
                  onClick={() => setBy(f)}
                >
                  <span>{f.name}</span>
                  <span className="text-quiet text-xs">{f.detail}</span>
                </button>
              </li>
            ))}
            {others?.length === 0 && (
              <li className="text-quiet px-2 py-1">No managed device has these words.</li>
            )}
          </ul>
        </div>
      )}
      <Labelled label="Reason">
        <input
          className="field"
          maxLength={200}
          placeholder="broken screen"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      </Labelled>
      <Trouble error={trouble ?? found.error} />
    </Sheet>
  );
}
