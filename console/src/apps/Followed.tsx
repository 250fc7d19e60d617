import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, ProblemError, type Schemas } from '../api/client';
import { AskButton } from '../ui/AskButton';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Moment, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import type { AppDetail } from './apps';

type ByItself = Schemas['AppByItself'];

const BY_ITSELF: Record<ByItself, string> = {
  none: 'is brought; somebody releases it',
  early: 'is released early by itself',
  all: 'is released to all by itself',
};

/** Where a package's later versions are looked for. */
function Follow({
  app,
  before,
  onClose,
}: {
  app: Schemas['App'];
  before?: Schemas['AppSource'];
  onClose: () => void;
}) {
  const { act, trouble, busy } = useAct('apps');
  const [address, setAddress] = useState(before?.address ?? 'https://');
  const [release, setRelease] = useState<ByItself>(before?.release ?? 'none');
  const path = { id: app.id };
  return (
    <Sheet
      title={`Follow ${app.name}`}
      onClose={onClose}
      actions={
        <>
          {before && (
            <AskButton
              doing={`Stop following ${app.name}`}
              label="Stop"
              className="mr-auto"
              busy={busy}
              trouble={trouble}
              onYes={() =>
                act(
                  () =>
                    answer(api.DELETE('/apps/{id}/source', { params: { path, header: onVersion(before) } })),
                  onClose,
                )
              }
            >
              Versions that are here stay here.
            </AskButton>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !/^https?:\/\/\S+$/.test(address.trim())}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.PUT('/apps/{id}/source', {
                      params: { path, header: onVersion({ version: before?.version ?? 0 }) },
                      body: { address: address.trim(), release },
                    }),
                  ),
                onClose,
              )
            }
          >
            Follow it
          </Button>
        </>
      }
    >
      <p className="text-sm">
        A package that appears at this address is taken when it is signed by the same key and has a higher
        code. It is looked for every quarter of an hour.
      </p>
      <Labelled label="Address of the package">
        <input
          className="field font-mono"
          maxLength={2000}
          value={address}
          onChange={(e) => setAddress(e.target.value)}
        />
      </Labelled>
      <Labelled label="A version that is found">
        <select className="field" value={release} onChange={(e) => setRelease(e.target.value as ByItself)}>
          {Object.entries(BY_ITSELF).map(([k, words]) => (
            <option key={k} value={k}>
              {words}
            </option>
          ))}
        </select>
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Whether later versions of a package are looked for, and how the last look went. */
export function Followed({ detail }: { detail: AppDetail }) {
  const { app } = detail;
  const { act, trouble, busy } = useAct('apps');
  const [open, setOpen] = useState(false);
  const [said, setSaid] = useState('');
  const source = useQuery({
    queryKey: ['apps', 'source', app.id],
    queryFn: async () => {
      try {
        return await answer(api.GET('/apps/{id}/source', { params: { path: { id: app.id } } }));
      } catch (e) {
        if (e instanceof ProblemError && e.problem.status === 404) {
          return null;
        }
        throw e;
      }
    },
  });
  const s = source.data;
  if (s === undefined) {
    return <Trouble error={source.error} />;
  }
  return (
    <div className="mt-3 text-xs">
      {s === null ? (
        <button type="button" className="text-brass underline" onClick={() => setOpen(true)}>
          Look for later versions at an address
        </button>
      ) : (
        <>
          <p className="text-quiet">
            Looked for at{' '}
            <button
              type="button"
              className="text-brass font-mono break-all underline"
              onClick={() => setOpen(true)}
            >
              {s.address}
            </button>
            ; what is found {BY_ITSELF[s.release]}.{' '}
            {s.lookedAt && (
              <>
                Last look <Moment at={s.lookedAt} />.
              </>
            )}
          </p>
          {s.fault && <p className="text-rust">It failed: {s.fault}.</p>}
          <p className="mt-1.5 flex items-center gap-3">
            <Button
              disabled={busy}
              onClick={() =>
                void act(
                  () => answer(api.POST('/apps/{id}/source/look', { params: { path: { id: app.id } } })),
                  (look) =>
                    setSaid(
                      look.fault
                        ? ''
                        : look.found
                          ? `Version ${look.found} is here.`
                          : 'There is none later.',
                    ),
                )
              }
            >
              Look now
            </Button>
            <span role="status">{said}</span>
          </p>
        </>
      )}
      <Trouble error={trouble} />
      {open && <Follow app={app} before={s ?? undefined} onClose={() => setOpen(false)} />}
    </div>
  );
}
