import { useQuery } from '@tanstack/react-query';
import { House, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { moment } from '../ui/dates';
import { Button, Heading, Trouble } from '../ui/parts';
import type { openScreen, Seen } from './screen';

type Shown = Schemas['AssistShown'];

const STEPS = ['Ordered', 'The holder is asked', 'Seen', 'Over'];

/** How many of the steps are behind it. */
const far: Record<Shown['stage'], number> = { ordered: 1, waiting: 1, asked: 2, on: 3, ended: 4, not: 4 };

function lasted(from: string, to: number): string {
  const s = Math.max(0, Math.floor((to - Date.parse(from)) / 1000));
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`;
}

/** Where it is, in words for whoever waits. */
function words({ stage, assist: a }: Shown): string {
  switch (stage) {
    case 'ordered':
    case 'waiting':
      return `Waiting for ${a.device} to be heard. Its holder is asked as soon as it is.`;
    case 'asked':
      return 'The holder is asked now. Nothing is seen before they agree.';
    case 'on':
      return 'The screen is on its way.';
    case 'ended':
      return `Ended by ${a.endedBy}, after ${lasted(a.begunAt!, Date.parse(a.endedAt!))}.`;
    case 'not':
      return `It did not come to it: ${a.outcome || 'it was cancelled'}.`;
  }
}

/** The screen of a device, looked at together with its holder. */
export function AssistPage({ open }: { open?: typeof openScreen }) {
  const { id = '' } = useParams();
  const me = useMe();
  const assist = useQuery({
    queryKey: ['assists', id],
    queryFn: () => answer(api.GET('/assists/{id}', { params: { path: { id } } })),
  });
  const { act, trouble, busy } = useAct('assists', 'dispatches', 'device');
  const glass = useRef<HTMLDivElement>(null);
  const seen = useRef<Seen>(undefined);
  const [come, setCome] = useState(false);
  const [fault, setFault] = useState<unknown>();
  const [now, setNow] = useState(() => Date.now());
  const shown = assist.data;
  const a = shown?.assist;
  const over = shown?.stage === 'ended' || shown?.stage === 'not';
  const mine = a !== undefined && a.actor === me.data?.account.login;
  const looks = mine && !over;
  const taps = a?.taps ?? false;
  const { refetch } = assist;

  useEffect(() => {
    const element = glass.current;
    if (!looks || !element) {
      return;
    }
    let gone = false;
    void (async () => {
      try {
        const opening = open ?? (await import('./screen')).openScreen;
        if (!gone) {
          seen.current = opening(
            element,
            id,
            taps,
            () => setCome(true),
            () => {
              setCome(false);
              void refetch();
            },
          );
        }
      } catch (e) {
        setFault(e);
      }
    })();
    return () => {
      gone = true;
      seen.current?.close();
      seen.current = undefined;
      setCome(false);
    };
  }, [looks, id, taps, open, refetch]);

  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);

  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <Heading
        title={a ? `Screen of ${a.device}` : 'Screen'}
        note={a && (a.shows === 'work' ? 'The organisation’s apps alone are shown' : 'The whole screen')}
      >
        {come && taps && (
          <Button onClick={() => seen.current?.home()}>
            <House className="size-4" /> Home
          </Button>
        )}
        {shown && !over && (
          <Button
            weight="danger"
            disabled={busy}
            onClick={() =>
              void act(() => answer(api.POST('/assists/{id}/end', { params: { path: { id } } })))
            }
          >
            <Square className="size-4" /> End
          </Button>
        )}
      </Heading>
      <div className="flex min-h-0 flex-1 gap-6 px-5 pb-5 max-md:flex-col">
        <div className="border-line bg-raised relative min-h-96 min-w-0 flex-1 border">
          <div ref={glass} className="absolute inset-3" data-testid="screen" />
          {shown && !come && (
            <div className="absolute inset-0 flex flex-col items-center justify-center gap-2 p-8 text-center">
              <p className="max-w-md text-base" role="status">
                {!mine && !over ? `Only ${a!.actor}, who ordered it, sees this screen.` : words(shown)}
              </p>
              {over && (
                <Link className="text-brass underline" to={`/devices/${a!.deviceId}`}>
                  Back to {a!.device}
                </Link>
              )}
            </div>
          )}
        </div>
        {a && shown && (
          <aside className="w-64 shrink-0 space-y-5 text-sm max-md:w-full" aria-label="About this">
            <ol className="border-line ml-1 border-l">
              {STEPS.map((step, i) => (
                <li key={step} className={`relative py-1.5 pl-4 ${i < far[shown.stage] ? '' : 'text-quiet'}`}>
                  <span
                    className={`absolute top-3 -left-[4px] size-[7px] rounded-full ${i < far[shown.stage] ? 'bg-brass' : 'bg-line'}`}
                    aria-hidden
                  />
                  {step}
                </li>
              ))}
            </ol>
            {shown.stage === 'on' && a.begunAt && (
              <p className="text-2xl font-light tabular-nums" aria-label="Lasts">
                {lasted(a.begunAt, now)}
              </p>
            )}
            <dl className="space-y-2">
              <div>
                <dt className="label">Who looks</dt>
                <dd>{a.actor}</dd>
              </div>
              <div>
                <dt className="label">What they may do</dt>
                <dd>{a.taps ? 'See, tap and type; Escape goes home' : 'See; nothing is touched'}</dd>
              </div>
              <div>
                <dt className="label">Ordered</dt>
                <dd>{moment(a.askedAt)}</dd>
              </div>
            </dl>
            <p className="text-quiet border-line border-t pt-3">
              The holder sees who is looking and can end it at any time. Recorded are who looked and how long,
              never what was seen.
            </p>
          </aside>
        )}
      </div>
      <Trouble error={trouble ?? fault ?? assist.error} />
    </div>
  );
}
