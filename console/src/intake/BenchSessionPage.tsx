import { useQuery } from '@tanstack/react-query';
import { Cable, Copy, Download, Printer, Volume2, VolumeX } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { AskButton } from '../ui/AskButton';
import { Button, Heading, linkButton, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';
import { BenchList } from './BenchList';
import { CableWork } from './CableWork';

type OnBench = Schemas['BenchDevice'];

const edges: Record<string, string> = {
  ready: 'border-l-moss',
  refused: 'border-l-rust',
  attention: 'border-l-rust',
  held: 'border-l-rust',
  plugged: 'border-l-slate',
};

function Slot({
  number,
  device,
  onErase,
}: {
  number: number;
  device?: OnBench;
  onErase: (serial: string) => Promise<unknown>;
}) {
  if (!device) {
    return (
      <li className="border-line text-quiet flex h-28 items-center justify-center border border-dashed text-sm">
        {number}
      </li>
    );
  }
  return (
    <li
      className={`border-line bg-sheet flex h-28 min-w-0 flex-col gap-0.5 border border-l-4 p-2.5 ${edges[device.state] ?? 'border-l-amber'}`}
    >
      <div className="text-quiet flex justify-between text-xs">
        <span>{number}</span>
        <span className="font-mono">{device.asset}</span>
      </div>
      <div className="truncate text-base font-semibold">
        {device.deviceId ? (
          <Link to={`/devices/${device.deviceId}`} className="hover:underline">
            {device.name}
          </Link>
        ) : (
          <span className="font-mono text-sm">{device.serial}</span>
        )}
      </div>
      <div className="text-sm">
        <Standing of={device.state} reason={device.reason} />
      </div>
      <div
        className={`truncate text-xs ${device.state === 'ready' ? 'text-quiet font-mono' : 'text-rust'}`}
        title={device.reason}
      >
        {device.state === 'ready' ? device.serial : device.reason}
      </div>
      {device.state === 'held' && (
        <AskButton
          doing={`Erase ${device.serial} and prepare it`}
          label="Erase …"
          weight="bare"
          className="self-start"
          onYes={() => onErase(device.serial)}
        >
          <p>It {device.reason.split(';')[0]}. Erased, it loses all that is on it and joins anew.</p>
        </AskButton>
      )}
    </li>
  );
}

/** Two tones when a device is ready, a low one when it is in trouble; only once it is asked for. */
function useSound(slots: OnBench[] | undefined, on: boolean) {
  const before = useRef(new Map<string, string>());
  useEffect(() => {
    const known = before.current;
    const fresh = new Map(slots?.map((s) => [s.serial, s.state]));
    if (on && slots && known.size > 0) {
      const changed = slots.filter((s) => known.get(s.serial) !== s.state).map((s) => s.state);
      const tone = changed.some((s) => s === 'refused' || s === 'attention')
        ? 180
        : changed.includes('ready')
          ? 880
          : 0;
      if (tone) {
        const audio = new AudioContext();
        const osc = audio.createOscillator();
        osc.frequency.value = tone;
        osc.connect(audio.destination);
        osc.start();
        osc.stop(audio.currentTime + 0.18);
        osc.onended = () => void audio.close();
      }
    }
    before.current = fresh;
  }, [slots, on]);
}

/** One bench session: a big readable state for each slot. */
export function BenchSessionPage() {
  const { id = '' } = useParams();
  const path = { id };
  const session = useQuery({
    queryKey: ['bench', id],
    queryFn: () => answer(api.GET('/bench-sessions/{id}', { params: { path } })),
  });
  const slots = useQuery({
    queryKey: ['bench', id, 'slots'],
    queryFn: () => answer(api.GET('/bench-sessions/{id}/slots', { params: { path } })),
  });
  const { act, trouble } = useAct('bench');
  const [sound, setSound] = useState(false);
  const [copied, setCopied] = useState(false);
  const [listed, setListed] = useState(false);
  const [ticked, setTicked] = useState<string[]>([]);
  const [working, setWorking] = useState(false);
  useSound(slots.data, sound);
  const s = session.data;
  if (!s) {
    return <Trouble error={session.error} />;
  }
  const link = s.link;
  const present = (slots.data ?? []).map((d) => d.serial);
  const some = present.filter((serial) => ticked.includes(serial));
  const chosen = listed && some.length > 0 ? some : present;
  const at = new Map(slots.data?.map((d) => [`${d.rack}.${d.slot}`, d]));
  return (
    <section className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <Heading title={s.name} note={`${s.profile}, ${s.namePattern}`}>
        <Button aria-pressed={sound} onClick={() => setSound(!sound)}>
          {sound ? <Volume2 className="size-4" /> : <VolumeX className="size-4" />}
          {sound ? 'Sound on' : 'Sound off'}
        </Button>
        <a
          href={`/api/v1/bench-sessions/${id}/labels.pdf`}
          target="_blank"
          rel="noreferrer"
          className={linkButton}
        >
          <Printer className="size-4" /> Labels
        </a>
        <Button
          onClick={() =>
            void act(() =>
              answer(
                s.open
                  ? api.POST('/bench-sessions/{id}/close', { params: { path } })
                  : api.POST('/bench-sessions/{id}/opening', { params: { path } }),
              ),
            )
          }
        >
          {s.open ? 'Close session' : 'Go on with it'}
        </Button>
      </Heading>
      <div className="space-y-5 px-5 pb-8">
        <Trouble error={trouble} />
        {s.fault && (
          <p role="alert" className="border-rust border-l-2 pl-3 text-sm">
            {s.fault}
          </p>
        )}
        <div className="flex flex-wrap items-end gap-x-10 gap-y-2">
          <dl className="flex gap-x-10">
            {[
              ['ready', s.prepared],
              ['in all', s.devices],
              ['in trouble', s.troubled],
            ].map(([what, n]) => (
              <div key={what} className="flex flex-row-reverse items-baseline gap-2">
                <dt className="text-quiet text-sm">{what}</dt>
                <dd className="text-2xl font-semibold">{n}</dd>
              </div>
            ))}
          </dl>
          {s.missing.length > 0 && (
            <p className="text-amber text-sm">Missing: number {s.missing.join(', ')}</p>
          )}
          {s.doubled.length > 0 && <p className="text-rust text-sm">Twice: number {s.doubled.join(', ')}</p>}
          {link && (
            <div className="text-quiet ml-auto flex items-center gap-2 text-xs">
              <span>The cable is told this link:</span>
              <Button
                onClick={() => {
                  void navigator.clipboard.writeText(link);
                  setCopied(true);
                }}
              >
                <Copy className="size-4" /> {copied ? 'Copied' : 'Copy link'}
              </Button>
            </div>
          )}
        </div>
        <div className="flex flex-wrap items-center gap-2">
          <Button
            aria-pressed={!listed}
            className={listed ? '' : 'border-brass font-semibold'}
            onClick={() => setListed(false)}
          >
            Racks
          </Button>
          <Button
            aria-pressed={listed}
            className={listed ? 'border-brass font-semibold' : ''}
            onClick={() => setListed(true)}
          >
            List
          </Button>
          <span className="flex-1" />
          <a href={`/api/v1/bench-sessions/${id}/facts.csv`} className={linkButton}>
            <Download className="size-4" /> Facts as a sheet
          </a>
          <Button disabled={!s.open || present.length === 0} onClick={() => setWorking(true)}>
            <Cable className="size-4" />{' '}
            {chosen.length === present.length ? 'Do to all by cable' : `Do to ${chosen.length} by cable`}
          </Button>
        </div>
        {working && <CableWork session={id} serials={chosen} onClose={() => setWorking(false)} />}
        {listed && <BenchList devices={slots.data ?? []} ticked={ticked} onTick={setTicked} />}
        {!listed &&
          Array.from({ length: s.racks }, (_, rack) => (
            <section key={rack} aria-label={`Rack ${rack + 1}`}>
              {s.racks > 1 && <h2 className="mb-2 font-semibold">Rack {rack + 1}</h2>}
              <ol className="grid grid-cols-4 gap-2.5 max-md:grid-cols-2">
                {Array.from({ length: 16 }, (_, slot) => (
                  <Slot
                    key={slot}
                    number={slot + 1}
                    device={at.get(`${rack + 1}.${slot + 1}`)}
                    onErase={(serial) =>
                      act(() =>
                        answer(
                          api.POST('/bench-sessions/{id}/devices/{serial}/erasure', {
                            params: { path: { id, serial } },
                          }),
                        ),
                      )
                    }
                  />
                ))}
              </ol>
            </section>
          ))}
      </div>
    </section>
  );
}
