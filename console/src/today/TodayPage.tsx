import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, counted, Heading, Moment, Trouble } from '../ui/parts';
import { Remind } from './Remind';
import { Standing, standingColour, standings } from '../ui/Standing';

function Section({ title, to, children }: { title: string; to: string; children: ReactNode }) {
  return (
    <section>
      <h2 className="border-line flex items-baseline justify-between border-b pb-1 font-semibold">
        {title}
        <Link to={to} className="text-brass text-xs font-normal underline">
          all
        </Link>
      </h2>
      <ul className="text-sm">{children}</ul>
    </section>
  );
}

/** What somebody should know: each thing is said once, until it is put away. */
function Notices() {
  const notices = useQuery({
    queryKey: ['notices'],
    queryFn: () => answer(api.GET('/notices', { params: { query: { limit: 5 } } })),
  });
  const { act, trouble } = useAct('notices');
  return (
    <>
      <Trouble error={trouble} />
      {notices.data?.items.map((n) => (
        <div
          key={n.id}
          role="note"
          className={`flex items-start gap-4 border-l-2 py-1 pl-3 text-sm ${n.urgent ? 'border-rust' : 'border-amber'}`}
        >
          <div className="flex-1">
            <Link to={n.link} className="font-semibold hover:underline">
              {n.title}
            </Link>
            <p className="text-quiet">{n.detail}</p>
          </div>
          <Button
            weight="bare"
            onClick={() =>
              void act(() => answer(api.DELETE('/notices/{id}', { params: { path: { id: n.id } } })))
            }
          >
            Put away
          </Button>
        </div>
      ))}
    </>
  );
}

const OVERDUE = 'passcode is overdue';
const OUT = 'order is out-of-order';

type Device = Schemas['DeviceSummary'];

/** Devices that need a person, by what they have in common. */
function Devices(props: {
  title: string;
  /** What the list of devices is filtered by. */
  filter: { standing?: Schemas['Standing']; rule?: string; sort?: 'enrolled' };
  none: string;
  /** What is said of each, at its right. */
  said: (d: Device) => ReactNode;
  /** What can be done about them all. */
  act?: (found: Device[]) => ReactNode;
}) {
  const search = new URLSearchParams(props.filter).toString();
  const found = useQuery({
    queryKey: ['devices', 'today', search],
    queryFn: () => answer(api.GET('/devices', { params: { query: { ...props.filter, limit: 6 } } })),
  });
  const items = found.data?.items;
  return (
    <Section title={props.title} to={`/devices?${search}`}>
      {items?.map((d) => (
        <li key={d.id} className="border-line/60 flex h-8 items-center gap-3 border-b">
          <Link to={`/devices?${search}&card=${d.id}`} className="flex-1 truncate hover:underline">
            {d.name}
          </Link>
          {props.said(d)}
        </li>
      ))}
      {items && items.length > 0 && props.act && <li className="py-2">{props.act(items)}</li>}
      {items?.length === 0 && <li className="text-quiet py-2">{props.none}</li>}
    </Section>
  );
}

/** What needs a person today. */
export function TodayPage() {
  const fleet = useQuery({ queryKey: ['fleet'], queryFn: () => answer(api.GET('/fleet')) });
  const waiting = useQuery({
    queryKey: ['arrivals', 'waiting', 'today'],
    queryFn: () => answer(api.GET('/arrivals', { params: { query: { outcome: 'waiting', limit: 6 } } })),
  });
  const refused = useQuery({
    queryKey: ['arrivals', 'refused', 'today'],
    queryFn: () => answer(api.GET('/arrivals', { params: { query: { outcome: 'refused', limit: 6 } } })),
  });
  const journal = useQuery({
    queryKey: ['journal', 'today'],
    queryFn: () => answer(api.GET('/journal', { params: { query: { limit: 6 } } })),
  });
  const f = fleet.data;
  return (
    <section className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <Heading title="Today" note={f && `${counted(f.total, 'device')}, ${f.online} connected now`} />
      <div className="space-y-8 px-5 pb-8">
        <Trouble error={fleet.error} />
        <Notices />
        {f && f.total > 0 && (
          <div>
            <div className="flex h-7 gap-px" role="group" aria-label="Standing of the fleet">
              {standings
                .filter((s) => f.byStanding[s])
                .map((s) => (
                  <Link
                    key={s}
                    to={`/devices?standing=${s}`}
                    title={`${f.byStanding[s]} ${s}`}
                    aria-label={`${f.byStanding[s]} ${s}`}
                    className={`${standingColour[s]} min-w-2`}
                    style={{ flexGrow: f.byStanding[s] }}
                  />
                ))}
            </div>
            <ul className="mt-2 flex flex-wrap gap-6 text-sm">
              {standings.map((s) => (
                <li key={s}>
                  <Link to={`/devices?standing=${s}`} className="flex items-center gap-2 hover:underline">
                    <Standing of={s} />
                    <b>{f.byStanding[s] ?? 0}</b>
                  </Link>
                </li>
              ))}
              <li className="text-quiet ml-auto">
                {Object.entries(f.byPlatform)
                  .map(([p, n]) => `${n} ${p}`)
                  .join(', ')}
              </li>
            </ul>
          </div>
        )}
        {f?.total === 0 && (
          <p className="text-sm">
            No device has joined yet.{' '}
            <Link className="text-brass underline" to="/intake/profiles?new=1">
              Write an enrollment profile
            </Link>
            , then{' '}
            <Link className="text-brass underline" to="/intake/invitations?new=1">
              invite the first device
            </Link>
            .
          </p>
        )}
        <div className="grid grid-cols-1 gap-x-10 gap-y-8 lg:grid-cols-2">
          <Section title="Arrivals that wait for somebody" to="/intake/arrivals?outcome=waiting">
            {waiting.data?.items.map((a) => (
              <li key={a.id} className="border-line/60 flex h-8 items-center gap-3 border-b">
                <Link to="/intake/arrivals?outcome=waiting" className="flex-1 truncate hover:underline">
                  {a.model} <span className="font-mono text-xs">{a.identifier}</span>
                </Link>
                <span className="text-quiet">{a.profile}</span>
                <span className="text-quiet text-xs">
                  <Moment at={a.startedAt} />
                </span>
              </li>
            ))}
            {waiting.data?.items.length === 0 && <li className="text-quiet py-2">Nobody waits.</li>}
          </Section>
          <Devices
            title="Devices that are out of order"
            filter={{ rule: OUT }}
            none="None: what the checks found has time left."
            said={(d) => (
              <span className="text-quiet truncate">{[d.model, d.unit].filter(Boolean).join(', ')}</span>
            )}
          />
          <Devices
            title="Devices that are blocked"
            filter={{ standing: 'blocked' }}
            none="None."
            said={(d) => <span className="text-rust truncate">{d.standingReason}</span>}
          />
          <Devices
            title="Devices something keeps changing"
            filter={{ standing: 'drifted' }}
            none="None: what was changed on a device was put right."
            said={(d) => <span className="text-quiet truncate">{d.standingReason}</span>}
          />
          <Devices
            title="Devices that are catching up"
            filter={{ standing: 'catching-up' }}
            none="None: every device has what it should."
            said={(d) => <span className="text-quiet truncate">{d.standingReason}</span>}
          />
          <Devices
            title="Passcodes that are overdue"
            filter={{ rule: OVERDUE }}
            none="None: every holder has one that is good, or time left."
            said={(d) => <span className="text-quiet truncate">{d.person ?? d.unit}</span>}
            act={(found) => (
              <Remind rule={OVERDUE} count={found.length} called="passcodes that are overdue" />
            )}
          />
          <Section title="Arrivals that were refused" to="/intake/arrivals?outcome=refused">
            {refused.data?.items.map((a) => (
              <li key={a.id} className="border-line/60 flex h-8 items-center gap-3 border-b">
                <span className="flex-1 truncate">
                  {a.model || 'unknown device'} <span className="font-mono text-xs">{a.identifier}</span>
                </span>
                <span className="text-quiet truncate">{a.reason}</span>
              </li>
            ))}
            {refused.data?.items.length === 0 && <li className="text-quiet py-2">None.</li>}
          </Section>
          <Devices
            title="Just arrived"
            filter={{ sort: 'enrolled' }}
            none="None yet."
            said={(d) => (
              <>
                <Standing of={d.standing} />
                <span className="text-quiet text-xs">
                  <Moment at={d.enrolledAt} />
                </span>
              </>
            )}
          />
          <Section title="Latest in the journal" to="/records/journal">
            {journal.data?.items.map((e) => (
              <li key={e.number} className="border-line/60 flex h-8 items-center gap-3 border-b">
                <span className="flex-1 truncate">{e.summary}</span>
                <span className="text-quiet w-24 truncate text-right">{e.who}</span>
                <span className="text-quiet w-20 text-right text-xs">
                  <Moment at={e.at} />
                </span>
              </li>
            ))}
          </Section>
        </div>
      </div>
    </section>
  );
}
