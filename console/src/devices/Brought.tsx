import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { moment } from '../ui/dates';
import { Sheet } from '../ui/Dialog';
import { Button, Empty, Trouble } from '../ui/parts';

type Command = Schemas['Command'];

const KEPT_DAYS = 7;

/** Commands that bring something back to look at. */
export const bringsBack = (command?: string): boolean =>
  ['screenshot', 'run-script', 'processes', 'assist'].includes(command ?? '');

/** The way to what a command brought back; nothing where it brought nothing. */
export function Brought({ by: c }: { by: Command }) {
  const [open, setOpen] = useState(false);
  if (c.command === 'assist') {
    return (
      <Link className="text-brass underline" to={`/devices/screens/${c.dispatchId}`}>
        {c.endedAt ? 'How it went' : 'See the screen'}
      </Link>
    );
  }
  const there =
    c.state === 'done'
      ? ['screenshot', 'processes', 'run-script'].includes(c.command)
      : c.state === 'failed' && c.command === 'run-script' && c.reason.startsWith('the script');
  if (!there) {
    return null;
  }
  const titles: Record<string, string> = {
    screenshot: 'See the picture',
    processes: 'See what ran',
    'run-script': 'What it wrote',
  };
  return (
    <>
      <button type="button" className="text-brass underline" onClick={() => setOpen(true)}>
        {titles[c.command]}
      </button>
      {open &&
        (c.command === 'screenshot' ? (
          <Screenshot of={c} onClose={() => setOpen(false)} />
        ) : (
          <Output of={c} onClose={() => setOpen(false)} />
        ))}
    </>
  );
}

/** A picture of a screen. Each look is recorded, so it is fetched once, when somebody wants to see it. */
function Screenshot({ of: c, onClose }: { of: Command; onClose: () => void }) {
  const { act, trouble, busy } = useAct('device', 'dispatches');
  const may = ['owner', 'operator'].includes(useMe().data?.account.role ?? '');
  const picture = useQuery({
    queryKey: ['screenshot', c.id],
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
    queryFn: async () =>
      URL.createObjectURL(
        await answer(api.GET('/screenshots/{id}', { params: { path: { id: c.id } }, parseAs: 'blob' })),
      ),
  });
  const address = picture.data;
  useEffect(() => () => (address ? URL.revokeObjectURL(address) : undefined), [address]);
  return (
    <Sheet
      title={`Screen of ${c.device}, ${moment(c.endedAt ?? c.queuedAt)}`}
      wide
      onClose={onClose}
      actions={
        <>
          {may && (
            <Button
              weight="danger"
              disabled={busy || !address}
              onClick={() =>
                void act(
                  () => answer(api.DELETE('/screenshots/{id}', { params: { path: { id: c.id } } })),
                  onClose,
                )
              }
            >
              Delete it
            </Button>
          )}
          <Button weight="main" onClick={onClose}>
            Close
          </Button>
        </>
      }
    >
      {address && (
        <img
          src={address}
          alt={`The screen of ${c.device}`}
          className="border-line mx-auto max-h-[60vh] border"
        />
      )}
      <p className="text-quiet text-sm">
        Taken with the holder’s consent and kept for {KEPT_DAYS} days. That you looked is recorded.
      </p>
      <Trouble error={trouble ?? picture.error} />
    </Sheet>
  );
}

/** What a script wrote, or what ran on a laptop. */
function Output({ of: c, onClose }: { of: Command; onClose: () => void }) {
  const output = useQuery({
    queryKey: ['output', c.id],
    staleTime: Infinity,
    gcTime: 0,
    queryFn: () => answer(api.GET('/commands/{id}/output', { params: { path: { id: c.id } } })),
  });
  const o = output.data;
  return (
    <Sheet
      title={c.command === 'processes' ? `What ran on ${c.device}` : `What the script wrote on ${c.device}`}
      wide
      onClose={onClose}
      actions={
        <Button weight="main" onClick={onClose}>
          Close
        </Button>
      }
    >
      {o?.command === 'run-script' && (
        <>
          <p className="text-sm">
            {o.exit === undefined
              ? 'It took too long and was stopped.'
              : o.exit === 0
                ? 'It ended well (0).'
                : `It ended with ${o.exit}.`}{' '}
            <span className="text-quiet">{moment(c.endedAt ?? c.queuedAt)}</span>
          </p>
          {o.text ? (
            <pre className="border-line bg-paper max-h-[55vh] overflow-auto border p-3 font-mono text-xs whitespace-pre-wrap">
              {o.text}
            </pre>
          ) : (
            <Empty title="It wrote nothing.">What a script writes to its output is shown here.</Empty>
          )}
        </>
      )}
      {o?.command === 'processes' && <Processes of={c} list={o.processes} />}
      <Trouble error={output.error} />
    </Sheet>
  );
}

function Processes({ of: c, list }: { of: Command; list: Schemas['Process'][] }) {
  const queries = useQueryClient();
  const [ended, setEnded] = useState<number[]>([]);
  const end = useMutation({
    mutationFn: (p: Schemas['Process']) =>
      answer(
        api.POST('/dispatches', {
          params: { header: { 'Idempotency-Key': crypto.randomUUID() } },
          body: {
            command: 'end-process',
            fields: { process: String(p.number) },
            reason: `${p.name} was seen in the list of what runs`,
            targets: [{ kind: 'device', ref: c.deviceId }],
          },
        }),
      ),
    onSuccess: (_, p) => {
      setEnded((before) => [...before, p.number]);
      void queries.invalidateQueries({ queryKey: ['device', c.deviceId] });
    },
  });
  return (
    <>
      <p className="text-quiet text-sm">As it was {moment(c.endedAt ?? c.queuedAt)}.</p>
      <table className="w-full text-sm">
        <thead>
          <tr className="label border-line border-b text-left">
            <th className="py-1 font-normal">Number</th>
            <th className="font-normal">Name</th>
            <th className="font-normal">Runs for</th>
            <th className="text-right font-normal">Processor</th>
            <th className="text-right font-normal">Memory</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {list.map((p) => (
            <tr key={p.number} className="border-line/60 border-b">
              <td className="py-1 font-mono text-xs">{p.number}</td>
              <td>{p.name}</td>
              <td className="text-quiet">{p.owner}</td>
              <td className="text-right tabular-nums">{p.cpu.toFixed(1)} %</td>
              <td className="text-right tabular-nums">{Math.round(p.memory)} MiB</td>
              <td className="text-right">
                {ended.includes(p.number) ? (
                  <span className="text-quiet text-xs">End ordered</span>
                ) : (
                  <Button
                    weight="bare"
                    aria-label={`End ${p.name}`}
                    disabled={end.isPending}
                    onClick={() => end.mutate(p)}
                  >
                    End
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Trouble error={end.error} />
    </>
  );
}
