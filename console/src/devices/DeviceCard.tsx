import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Maximize2, Pencil, Tag as TagIcon, X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Link, useParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { Sheet } from '../ui/Dialog';
import { Button, bytes, Empty, Labelled, Moment, Tag, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';
import { ActMenu } from './ActMenu';

function Pair({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="border-line/60 flex justify-between gap-4 border-b py-1.5">
      <dt className="text-quiet shrink-0">{name}</dt>
      <dd className="min-w-0 text-right break-words">{children}</dd>
    </div>
  );
}

/** A share as a bar with its figure. */
function Gauge({ name, part, text, low }: { name: string; part: number; text: string; low: boolean }) {
  return (
    <div>
      <div className="flex justify-between text-xs">
        <span className="text-quiet">{name}</span>
        <span>{text}</span>
      </div>
      <div className="bg-line mt-1 h-1.5" aria-hidden>
        <div
          className={`h-full ${low ? 'bg-rust' : 'bg-slate'}`}
          style={{ width: `${Math.min(100, part)}%` }}
        />
      </div>
    </div>
  );
}

const flags: Record<string, string> = { true: 'yes', false: 'no' };

function Facts({ detail }: { detail: Schemas['DeviceDetail'] }) {
  const d = detail.device;
  const fact = (key: string) => detail.facts.find((f) => f.key === key)?.value;
  const capacity = Number(fact('storage/capacity') ?? 0);
  const free = Number(fact('storage/free') ?? 0);
  const battery = Number(fact('battery/level') ?? -1);
  return (
    <div className="space-y-4">
      {(battery >= 0 || capacity > 0) && (
        <div className="grid grid-cols-2 gap-5">
          {battery >= 0 && (
            <Gauge
              name={fact('battery/charging') === 'true' ? 'Battery, charging' : 'Battery'}
              part={battery}
              text={`${battery} %`}
              low={battery < 15}
            />
          )}
          {capacity > 0 && (
            <Gauge
              name="Storage used"
              part={(100 * (capacity - free)) / capacity}
              text={`${bytes(free)} of ${bytes(capacity)} free`}
              low={free / capacity < 0.1}
            />
          )}
        </div>
      )}
      <dl className="text-sm">
        <Pair name="System">
          {d.platform} {d.osVersion}
        </Pair>
        <Pair name="Ownership, mode">
          {d.ownership}, {d.mode}
        </Pair>
        <Pair name="Serial">
          <span className="font-mono text-xs">{d.serial ?? '–'}</span>
        </Pair>
        {d.imei && (
          <Pair name="IMEI">
            <span className="font-mono text-xs">{d.imei}</span>
          </Pair>
        )}
        <Pair name="Joined by">{detail.enrollmentProfile ?? '–'}</Pair>
        <Pair name="Groups">{detail.groups.map((g) => g.name).join(', ') || '–'}</Pair>
        {detail.facts
          .filter((f) => !/^(battery|storage|system\/os|system\/model)/.test(f.key))
          .map((f) => (
            <Pair key={f.key} name={f.title}>
              {flags[f.value] ?? f.value} {f.unit}
            </Pair>
          ))}
        <Pair name="Facts read">
          <Moment at={detail.factsAt} />
        </Pair>
      </dl>
      {d.ownership === 'personal' && (
        <p className="border-slate text-quiet border-l-2 pl-3 text-xs">
          A personal device: its network, phone number, private apps and location are never collected.
        </p>
      )}
    </div>
  );
}

function show(value: unknown): string {
  if (value === true) return 'on';
  if (value === false) return 'off';
  return Array.isArray(value) ? value.join(', ') || 'none' : String(value);
}

function InEffect({ id }: { id: string }) {
  const settings = useQuery({
    queryKey: ['device', id, 'settings'],
    queryFn: () => answer(api.GET('/devices/{id}/settings', { params: { path: { id } } })),
  });
  if (!settings.data) {
    return <Trouble error={settings.error} />;
  }
  if (settings.data.inEffect.length + settings.data.unavailable.length === 0) {
    return (
      <Empty title="No profile reaches this device.">
        Assign one to it, to one of its groups or tags, or to everyone.
      </Empty>
    );
  }
  return (
    <ul className="text-sm">
      {settings.data.inEffect.map((s) => (
        <li key={s.setting} className="border-line/60 border-b py-2">
          <div className="flex justify-between gap-4">
            <span className="shrink-0">{s.title}</span>
            <span
              className={`min-w-0 text-right font-semibold break-words ${s.refused ? 'text-rust line-through' : ''}`}
            >
              {show(s.value)}
            </span>
          </div>
          <div className="text-quiet text-xs">
            from{' '}
            {s.from.map((f, i) => (
              <span key={f.profileId}>
                {i > 0 && ', '}
                <Link className="underline" to={`/rules/profiles/${f.profileId}`}>
                  {f.profile}
                </Link>{' '}
                v{f.version}
              </span>
            ))}
            {s.overruled.map((o) => (
              <span key={o.from.profileId} className="block">
                over {o.from.profile} ({show(o.value)}): {o.reason}
              </span>
            ))}
            {s.refused && <span className="text-rust block">refused: {s.refused}</span>}
          </div>
        </li>
      ))}
      {settings.data.unavailable.map((u) => (
        <li key={u.setting + u.from.profileId} className="border-line/60 text-quiet border-b py-2">
          <div className="flex justify-between gap-4">
            <span>{u.title}</span>
            <span>cannot</span>
          </div>
          <div className="text-xs">
            {u.from.profile} asks for it, but it {u.reason}
          </div>
        </li>
      ))}
    </ul>
  );
}

function Activity({ id }: { id: string }) {
  const pages = usePages<Schemas['ActivityLine']>(['device', id, 'activity'], (after) =>
    answer(api.GET('/devices/{id}/activity', { params: { path: { id }, query: { after, limit: 50 } } })),
  );
  return (
    <>
      <ol className="border-line ml-1 border-l text-sm">
        {pages.items.map((a) => (
          <li key={a.id} className="relative py-1.5 pl-4">
            <span className="bg-slate absolute top-3.5 -left-[3px] size-[5px] rounded-full" aria-hidden />
            <span className="flex justify-between gap-3">
              <span>{a.text}</span>
              <span className="text-quiet shrink-0 text-xs">
                <Moment at={a.at} />
              </span>
            </span>
          </li>
        ))}
      </ol>
      {pages.hasNextPage && (
        <Button weight="bare" onClick={() => void pages.fetchNextPage()}>
          Earlier
        </Button>
      )}
    </>
  );
}

function Commands({ id }: { id: string }) {
  const [trouble, setTrouble] = useState<unknown>();
  const queries = useQueryClient();
  const pages = usePages<Schemas['Command']>(['device', id, 'commands'], (after) =>
    answer(api.GET('/devices/{id}/commands', { params: { path: { id }, query: { after, limit: 50 } } })),
  );
  async function cancel(command: string) {
    try {
      await answer(api.POST('/commands/{id}/cancellation', { params: { path: { id: command } } }));
      await queries.invalidateQueries({ queryKey: ['device', id] });
    } catch (e) {
      setTrouble(e);
    }
  }
  if (pages.items.length === 0 && !pages.isLoading) {
    return <Empty title="No command was ever sent.">Use the button above.</Empty>;
  }
  return (
    <>
      <Trouble error={trouble} />
      <ul className="text-sm">
        {pages.items.map((c) => (
          <li key={c.id} className="border-line/60 flex items-center gap-3 border-b py-1.5">
            <span className="flex-1">
              {c.title}
              {c.reason && <span className="text-quiet block text-xs">{c.reason}</span>}
            </span>
            <Standing of={c.state} />
            {c.state === 'queued' && (
              <Button weight="bare" onClick={() => void cancel(c.id)}>
                Cancel
              </Button>
            )}
            <span className="text-quiet w-20 text-right text-xs">
              <Moment at={c.endedAt ?? c.deliveredAt ?? c.queuedAt} />
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Rename({ detail, onClose }: { detail: Schemas['DeviceDetail']; onClose: () => void }) {
  const [name, setName] = useState(detail.device.name);
  const [tags, setTags] = useState(detail.device.tags.join(', '));
  const [trouble, setTrouble] = useState<unknown>();
  const queries = useQueryClient();
  const id = detail.device.id;
  async function save() {
    try {
      if (name !== detail.device.name) {
        await answer(api.PATCH('/devices/{id}', { params: { path: { id } }, body: { name } }));
      }
      const wanted = tags
        .split(',')
        .map((t) => t.trim())
        .filter(Boolean);
      if (wanted.join() !== detail.device.tags.join()) {
        await answer(api.PUT('/devices/{id}/tags', { params: { path: { id } }, body: { tags: wanted } }));
      }
      await queries.invalidateQueries();
      onClose();
    } catch (e) {
      setTrouble(e);
    }
  }
  return (
    <Sheet
      title="Name and tags"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" onClick={save}>
            Save
          </Button>
        </>
      }
    >
      <Labelled label="Name">
        <input className="field" value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
      </Labelled>
      <Labelled label="Tags" hint="Separated by commas. Profiles assigned by tag follow at once.">
        <input className="field" value={tags} onChange={(e) => setTags(e.target.value)} />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

function Retire({ detail, onClose }: { detail: Schemas['DeviceDetail']; onClose: () => void }) {
  const [reason, setReason] = useState('');
  const [trouble, setTrouble] = useState<unknown>();
  const queries = useQueryClient();
  async function retire() {
    try {
      await answer(
        api.POST('/devices/{id}/retirement', {
          params: { path: { id: detail.device.id } },
          body: { reason },
        }),
      );
      await queries.invalidateQueries();
      onClose();
    } catch (e) {
      setTrouble(e);
    }
  }
  return (
    <Sheet
      title={`Retire ${detail.device.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="danger" disabled={!reason.trim()} onClick={retire}>
            Retire 1 device
          </Button>
        </>
      }
    >
      <p className="text-sm">
        Its certificate stops working and it is no longer told anything. What is on it stays on it; its record
        stays on file and it can join again.
      </p>
      <Labelled label="Reason">
        <input className="field" value={reason} onChange={(e) => setReason(e.target.value)} />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** The card of a device, beside the list or as a page of its own. */
export function DeviceCard({ id, onClose, whole }: { id: string; onClose?: () => void; whole?: boolean }) {
  const [sheet, setSheet] = useState<'rename' | 'retire'>();
  const device = useQuery({
    queryKey: ['device', id],
    queryFn: () => answer(api.GET('/devices/{id}', { params: { path: { id } } })),
  });
  const detail = device.data;
  const d = detail?.device;
  return (
    <aside
      aria-label="Device"
      className={
        whole
          ? 'mx-auto w-full max-w-3xl overflow-y-auto'
          : 'border-line bg-sheet flex w-[410px] shrink-0 flex-col overflow-y-auto border-l'
      }
    >
      <Trouble error={device.error} />
      {detail && d && (
        <>
          <div className="space-y-3 px-5 pt-4 pb-3">
            <div className="flex items-start gap-2">
              <div className="min-w-0 flex-1">
                <h2 className="truncate text-base font-semibold">{d.name}</h2>
                <p className="text-quiet text-sm">
                  {d.maker} {d.model}, {d.kind}
                </p>
              </div>
              <Button weight="bare" aria-label="Change name and tags" onClick={() => setSheet('rename')}>
                <Pencil className="size-4" />
              </Button>
              {!whole && (
                <Link
                  to={`/devices/${id}`}
                  aria-label="Open as a page"
                  className="hover:bg-raised inline-flex h-8 items-center px-3"
                >
                  <Maximize2 className="size-4" />
                </Link>
              )}
              {onClose && (
                <Button weight="bare" aria-label="Close the card" onClick={onClose}>
                  <X className="size-4" />
                </Button>
              )}
            </div>
            <div className="flex items-center gap-3 text-sm" data-testid="standing">
              <Standing of={d.standing} />
              <span className="text-quiet min-w-0 flex-1">{d.standingReason}</span>
              <span className="text-quiet text-xs">
                seen <Moment at={d.lastSeen} />
              </span>
            </div>
            <div className="flex flex-wrap items-center gap-1.5">
              <TagIcon className="text-quiet size-3.5" aria-hidden />
              {d.tags.length === 0 && <span className="text-quiet text-xs">no tags</span>}
              {d.tags.map((t) => (
                <Tag key={t}>{t}</Tag>
              ))}
            </div>
            {!detail.retiredAt && (
              <div className="flex gap-2">
                <ActMenu whom={{ devices: [id], count: 1 }} name="this device" />
                <Button weight="danger" onClick={() => setSheet('retire')}>
                  Retire
                </Button>
              </div>
            )}
            {detail.refused.map((r) => (
              <p key={r.setting} className="border-rust text-rust border-l-2 pl-3 text-sm">
                Refused {r.title}: {r.reason}.
              </p>
            ))}
          </div>
          <TabGroup>
            <TabList className="border-line flex gap-4 border-b px-5 text-sm">
              {['Facts', 'Settings', 'Commands', 'Activity'].map((t) => (
                <Tab
                  key={t}
                  className="data-selected:border-brass -mb-px border-b-2 border-transparent py-1.5 data-selected:font-semibold"
                >
                  {t}
                </Tab>
              ))}
            </TabList>
            <TabPanels className="px-5 py-4">
              <TabPanel>
                <Facts detail={detail} />
              </TabPanel>
              <TabPanel>
                <InEffect id={id} />
              </TabPanel>
              <TabPanel>
                <Commands id={id} />
              </TabPanel>
              <TabPanel>
                <Activity id={id} />
              </TabPanel>
            </TabPanels>
          </TabGroup>
          {sheet === 'rename' && <Rename detail={detail} onClose={() => setSheet(undefined)} />}
          {sheet === 'retire' && <Retire detail={detail} onClose={() => setSheet(undefined)} />}
        </>
      )}
    </aside>
  );
}

/** The card at an address of its own. */
export function DevicePage() {
  const { id = '' } = useParams();
  return <DeviceCard id={id} whole />;
}
