import { useEffect, useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, Moment, Trouble } from '../ui/parts';

/** How long a device takes a code after the next one took its place, in seconds. */
const TAKEN = 30;
const STEP = 30;

/** Seconds a code is taken for, counted down. */
function useLeft(until?: string): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    if (!until) {
      return undefined;
    }
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, [until]);
  return until ? Math.max(0, Math.ceil((Date.parse(until) - now) / 1000) + TAKEN) : 0;
}

/** Whether a device is in its kiosk, and the code that leaves it on the spot. */
export function KioskExit({ detail }: { detail: Schemas['DeviceDetail'] }) {
  const { act, trouble, busy } = useAct();
  const [code, setCode] = useState<Schemas['ExitCode']>();
  const left = useLeft(code?.until);
  const fact = (key: string) => detail.facts.find((f) => f.key === key)?.value;
  const state = fact('kiosk/state');
  if (!state || detail.device.retired) {
    return null;
  }
  const back = fact('kiosk/back');
  const missing = fact('kiosk/missing');
  const show = () =>
    act(
      () => answer(api.POST('/devices/{id}/exit-code', { params: { path: { id: detail.device.id } } })),
      setCode,
    );
  return (
    <section aria-label="Kiosk" className="bg-raised space-y-2 rounded-[3px] px-3 py-2 text-sm">
      <div className="flex items-center gap-3">
        <p className="flex-1">
          {state === 'in' ? (
            'In its kiosk'
          ) : (
            <>
              Out of its kiosk{back ? ', which comes back ' : ' until it is told to go back'}
              {back && <Moment at={String(back)} />}
            </>
          )}
        </p>
        {state === 'in' && (
          <Button disabled={busy} onClick={() => void show()}>
            {code ? 'Show the next code' : 'Show exit code'}
          </Button>
        )}
      </div>
      {Boolean(missing) && <p className="text-rust">Not on it: {String(missing)}</p>}
      {code && left > 0 && (
        <div role="status" aria-label="Exit code">
          <p className="flex items-baseline gap-4">
            <span className="font-mono text-2xl tracking-[0.15em]">
              {code.code.slice(0, 3)} {code.code.slice(3)}
            </span>
            <span className="text-quiet text-xs">{left} s</span>
          </p>
          <div className="bg-line mt-1 h-1" aria-hidden>
            <div className="bg-brass h-full" style={{ width: `${(left / (STEP + TAKEN)) * 100}%` }} />
          </div>
          <p className="text-quiet mt-1 text-xs">
            Typed on the device behind ⋯, it opens it for {code.minutes} minutes, with or without a network.
            That you saw it is in the journal.
          </p>
        </div>
      )}
      {code && left === 0 && <p className="text-quiet text-xs">That code has lapsed.</p>}
      <Trouble error={trouble} />
    </section>
  );
}
