import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Moment, Trouble } from '../ui/parts';

/** The key that opens the disk of a laptop: whether it is kept, and seeing it with a reason. */
export function RecoveryKey({ device }: { device: Schemas['DeviceSummary'] }) {
  const path = { id: device.id };
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  const [key, setKey] = useState<Schemas['RecoveryKey']>();
  const { act, trouble, busy } = useAct('device');
  const known = useQuery({
    queryKey: ['device', device.id, 'recovery-key'],
    enabled: device.kind === 'laptop',
    queryFn: () => answer(api.GET('/devices/{id}/recovery-key', { params: { path } })),
  });
  const k = known.data;
  if (!k || k.number === undefined) {
    return null;
  }
  const close = () => {
    setAsking(false);
    setReason('');
    setKey(undefined);
  };
  return (
    <section
      aria-label="Recovery key"
      className="bg-raised flex items-center gap-3 rounded-[3px] px-3 py-2 text-sm"
    >
      <p className="flex-1">
        The key its disk opens with is kept here <Moment at={k.receivedAt} />
        <span className="text-quiet block text-xs">
          key {k.number}
          {k.shownAt && (
            <>
              , seen <Moment at={k.shownAt} /> by {k.shownBy}
            </>
          )}
          {k.wanted > k.number && '; it is asked for another'}
        </span>
      </p>
      <Button onClick={() => setAsking(true)}>Show the key</Button>
      {asking && (
        <Sheet
          title={`The key that opens the disk of ${device.name}`}
          onClose={close}
          actions={
            key ? (
              <Button weight="main" onClick={close}>
                Done
              </Button>
            ) : (
              <>
                <Button onClick={close}>Cancel</Button>
                <Button
                  weight="main"
                  disabled={busy || reason.trim() === ''}
                  onClick={() =>
                    void act(
                      () =>
                        answer(
                          api.POST('/devices/{id}/recovery-key', { params: { path }, body: { reason } }),
                        ),
                      setKey,
                    )
                  }
                >
                  Show it
                </Button>
              </>
            )
          }
        >
          {key ? (
            <>
              <p
                className="bg-raised rounded-[3px] px-3 py-3 text-center font-mono text-lg tracking-wide select-all"
                data-testid="recovery-key"
              >
                {key.key}
              </p>
              <p className="text-quiet text-sm">
                Typed where the laptop asks for it, it opens the disk. That you saw it is in the journal, and
                the laptop makes another key the next time it is heard.
              </p>
            </>
          ) : (
            <>
              <p className="text-sm">
                Whoever has this key can read everything on the disk. The laptop makes another one afterwards.
              </p>
              <Labelled label="Why it has to be seen" hint="It is kept in the journal.">
                <input
                  className="field"
                  maxLength={300}
                  value={reason}
                  onChange={(e) => setReason(e.target.value)}
                />
              </Labelled>
            </>
          )}
          <Trouble error={trouble} />
        </Sheet>
      )}
    </section>
  );
}
