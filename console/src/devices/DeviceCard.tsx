import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { Maximize2, Pencil, Tag as TagIcon, X } from 'lucide-react';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { AttributeFields } from '../organisation/AttributeFields';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Moment, Tag, Trouble, sideCard } from '../ui/parts';
import { Standing } from '../ui/Standing';
import { ActMenu } from './ActMenu';
import { Activity, Commands } from './DeviceActivity';
import { Facts } from './DeviceFacts';
import { DeviceApps } from './DeviceApps';
import { DeviceOrder } from './DeviceOrder';
import { KioskExit } from './KioskExit';
import { InEffect } from './DeviceSettings';
import { PlaceSheet } from './PlaceSheet';
import { RecoveryKey } from './RecoveryKey';
import { Trail } from './Trail';
import { LostNote, ReportLost } from './lost';
import { LastWipe } from './wipes';
import { ReplaceSheet } from './ReplaceSheet';
import { onVersion } from '../ui/RecordSheet';

function Rename({ detail, onClose }: { detail: Schemas['DeviceDetail']; onClose: () => void }) {
  const [name, setName] = useState(detail.device.name);
  const [tags, setTags] = useState(detail.device.tags.join(', '));
  const { act, trouble, busy } = useAct('device', 'devices', 'tags');
  // as it was when this sheet was opened: the card behind it goes on
  const [seen] = useState(detail);
  const id = detail.device.id;
  const save = () =>
    act(async () => {
      let at = seen;
      if (name !== seen.device.name) {
        at = await answer(
          api.PATCH('/devices/{id}', { params: { path: { id }, header: onVersion(at) }, body: { name } }),
        );
      }
      const wanted = tags
        .split(',')
        .map((t) => t.trim())
        .filter(Boolean);
      if (wanted.join() !== seen.device.tags.join()) {
        await answer(
          api.PUT('/devices/{id}/tags', {
            params: { path: { id }, header: onVersion(at) },
            body: { tags: wanted },
          }),
        );
      }
    }, onClose);
  return (
    <Sheet
      title="Name and tags"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" disabled={busy} onClick={() => void save()}>
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
  const { act, trouble, busy } = useAct('device', 'devices', 'fleet');
  const retire = () =>
    act(
      () =>
        answer(
          api.POST('/devices/{id}/retirement', {
            params: { path: { id: detail.device.id } },
            body: { reason },
          }),
        ),
      onClose,
    );
  return (
    <Sheet
      title={`Retire ${detail.device.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="danger" disabled={busy || !reason.trim()} onClick={() => void retire()}>
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
  const [sheet, setSheet] = useState<'rename' | 'place' | 'replace' | 'retire' | 'lost'>();
  const device = useQuery({
    queryKey: ['device', id],
    queryFn: () => answer(api.GET('/devices/{id}', { params: { path: { id } } })),
  });
  const detail = device.data;
  const d = detail?.device;
  return (
    <aside aria-label="Device" className={whole ? 'mx-auto w-full max-w-3xl overflow-y-auto' : sideCard}>
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
              <span className="text-quiet min-w-0 flex-1">
                {d.standingReason && `${d.standingReason}, `}since <Moment at={detail.standingSince} />
              </span>
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
            {d.retired && (
              <p className="bg-raised rounded-md px-3 py-2 text-sm">
                Retired <Moment at={d.retired.at} /> by {d.retired.by ?? 'somebody'}.{' '}
                {d.retired.letGoAt ? (
                  <>
                    The device let go of what it had from here <Moment at={d.retired.letGoAt} />.
                  </>
                ) : (
                  'The device has not heard of it yet; it lets go when it is heard next.'
                )}
              </p>
            )}
            {!d.retired && (
              <div className="flex flex-wrap gap-2">
                <ActMenu
                  whom={{ devices: [id], count: 1 }}
                  name="this device"
                  device={id}
                  onRename={() => setSheet('rename')}
                />
                <Button onClick={() => setSheet('place')}>Place</Button>
                <Button onClick={() => setSheet('replace')}>Replace</Button>
                <Button onClick={() => setSheet('lost')}>Lost</Button>
                <Button weight="danger" onClick={() => setSheet('retire')}>
                  Retire
                </Button>
              </div>
            )}
            <LostNote device={d} />
            <LastWipe device={id} />
            <DeviceOrder device={d} />
            <KioskExit detail={detail} />
            <RecoveryKey device={d} />
            <Trail device={d} />
            {detail.refused.map((r) => (
              <p key={r.setting} className="border-rust text-rust border-l-2 pl-3 text-sm">
                Refused {r.title}: {r.reason}.
              </p>
            ))}
          </div>
          <TabGroup>
            <TabList className="border-line flex gap-4 border-b px-5 text-sm">
              {['Facts', 'Settings', 'Apps', 'Commands', 'Activity', 'Attributes'].map((t) => (
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
                <DeviceApps id={id} />
              </TabPanel>
              <TabPanel>
                <Commands id={id} />
              </TabPanel>
              <TabPanel>
                <Activity id={id} />
              </TabPanel>
              <TabPanel>
                <AttributeFields kind="device" id={id} />
              </TabPanel>
            </TabPanels>
          </TabGroup>
          {sheet === 'rename' && <Rename detail={detail} onClose={() => setSheet(undefined)} />}
          {sheet === 'place' && <PlaceSheet detail={detail} onClose={() => setSheet(undefined)} />}
          {sheet === 'replace' && <ReplaceSheet detail={detail} onClose={() => setSheet(undefined)} />}
          {sheet === 'lost' && <ReportLost device={d} onClose={() => setSheet(undefined)} />}
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
