import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { RotateCw, X } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { size } from '../ui/size';
import { AskButton } from '../ui/AskButton';
import { Button, counted, Moment, sideCard, Tag, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { SheetLink } from '../ui/SheetLink';
import { AppMark } from './AppMark';
import { type AppDetail, type AppVersion, ORIGINS, runsOn, type With, WITHS } from './apps';
import { AssignSheet } from './AssignSheet';
import { CodesOf } from './Codes';
import { Followed } from './Followed';
import { LicensesOf } from './licenses';
import { ReleaseSheet } from './ReleaseSheet';
import { WebApp } from './WebApp';

const COLOURS: Record<With, string> = {
  there: 'bg-moss',
  missing: 'bg-slate',
  old: 'bg-amber',
  'under-way': 'bg-brass',
  failing: 'bg-rust',
};

/** How devices are with it, as a strip and as numbers that open the list behind each. */
function Where({ detail }: { detail: AppDetail }) {
  const [open, setOpen] = useState<With>();
  const { counts } = detail;
  const all = counts.there + counts.missing;
  const parts = [
    { with: 'there' as With, n: counts.there - counts.old },
    { with: 'old' as With, n: counts.old },
    { with: 'missing' as With, n: counts.missing },
  ];
  return (
    <section>
      <h3 className="label mb-1.5">Where it is</h3>
      {all > 0 && (
        <div className="mb-2 flex h-2 gap-px" aria-hidden>
          {parts
            .filter((p) => p.n > 0)
            .map((p) => (
              <div key={p.with} className={COLOURS[p.with]} style={{ flexGrow: p.n }} />
            ))}
        </div>
      )}
      <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm">
        {WITHS.map((w) => (
          <li key={w.with}>
            <button
              type="button"
              aria-expanded={open === w.with}
              disabled={counts[w.count] === 0}
              className={clsx(
                'flex items-center gap-1.5',
                counts[w.count] === 0 ? 'text-quiet' : 'hover:underline',
                open === w.with && 'underline',
              )}
              onClick={() => setOpen(open === w.with ? undefined : w.with)}
            >
              <span className={clsx('size-2', COLOURS[w.with])} aria-hidden />
              <b>{counts[w.count]}</b> {w.word}
            </button>
          </li>
        ))}
      </ul>
      {open && <Devices detail={detail} which={open} />}
    </section>
  );
}

/** Ways to be with an app that are not as they should be. */
const LAGS: With[] = ['missing', 'old', 'failing'];

/** The rule that finds devices which are so with an app, where there is one. */
const rule = ({ app }: AppDetail, which: With) =>
  which === 'there'
    ? `app has ${app.packageId}`
    : which === 'old' && app.forAll && /^[\d.]+$/.test(app.forAll)
      ? `app has ${app.packageId} and not version ${app.packageId} is ${app.forAll}`
      : undefined;

function Devices({ detail, which }: { detail: AppDetail; which: With }) {
  const { id } = detail.app;
  const found = rule(detail, which);
  const { act, trouble, busy } = useAct('apps', 'device', 'devices');
  const pages = usePages<Schemas['AppDevice']>(['apps', 'devices', id, which], (after) =>
    answer(
      api.GET('/apps/{id}/devices', {
        params: { path: { id }, query: { with: which, after, limit: 50 } },
      }),
    ),
  );
  const push = (device?: string) =>
    void act(() => answer(api.POST('/apps/{id}/push', { params: { path: { id } }, body: { device } })));
  return (
    <div className="border-line mt-2 max-h-64 overflow-y-auto border-y text-sm">
      {pages.items.length > 0 && (
        <p className="flex items-center gap-4 py-1.5">
          <SheetLink path={`/apps/${id}/devices.csv`} asked={{ with: which }} name={`${which}.csv`} />
          {found && (
            <Link className="text-brass text-xs underline" to={`/devices?rule=${encodeURIComponent(found)}`}>
              Among all devices
            </Link>
          )}
        </p>
      )}
      {LAGS.includes(which) && pages.items.length > 0 && (
        <p className="py-1.5">
          <Button disabled={busy} onClick={() => push()}>
            <RotateCw className="size-4" /> Push to all that lack it now
          </Button>
        </p>
      )}
      <ul>
        {pages.items.map((d) => (
          <li key={d.id} className="border-line/60 border-b py-1">
            <span className="flex items-baseline gap-2">
              <Link className="min-w-0 flex-1 truncate underline" to={`/devices/${d.id}`}>
                {d.name}
              </Link>
              <span className="text-quiet text-xs">{d.version ?? 'not there'}</span>
              {LAGS.includes(which) && (
                <button
                  type="button"
                  className="text-brass text-xs underline"
                  aria-label={`Push to ${d.name}`}
                  disabled={busy}
                  onClick={() => push(d.id)}
                >
                  push
                </button>
              )}
            </span>
            {d.reason && <span className="text-rust block text-xs">{d.reason}</span>}
          </li>
        ))}
      </ul>
      {pages.hasNextPage && (
        <Button weight="bare" onClick={() => void pages.fetchNextPage()}>
          More
        </Button>
      )}
      <Trouble error={trouble ?? pages.error} />
    </div>
  );
}

function Version({
  detail,
  version: v,
  onRelease,
}: {
  detail: AppDetail;
  version: AppVersion;
  onRelease: () => void;
}) {
  const [open, setOpen] = useState(false);
  const all = detail.forAll?.code === v.code;
  const early = detail.forEarly?.code === v.code && !all;
  return (
    <li className="border-line/60 border-b py-2 text-sm">
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="font-semibold hover:underline"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {v.version}
        </button>
        {all && <Tag>released to all</Tag>}
        {early && <Tag>early</Tag>}
        <span className="text-quiet ml-auto text-xs">
          {counted(v.devices, 'device')}, <Moment at={v.broughtAt} />
        </span>
        {!all && <Button onClick={onRelease}>Release</Button>}
      </div>
      {open && (
        <dl className="mt-2 grid grid-cols-[6rem_1fr] gap-y-1 text-xs">
          <dt className="text-quiet">Code</dt>
          <dd>{v.code}</dd>
          <dt className="text-quiet">Runs on</dt>
          <dd>{runsOn(v)}</dd>
          {v.opens && (
            <>
              <dt className="text-quiet">Opens</dt>
              <dd className="break-all">{v.opens}</dd>
            </>
          )}
          <dt className="text-quiet">Size</dt>
          <dd>
            {size(v.size)}
            {v.installedSize > 0 && `, ${size(v.installedSize)} once installed`}
          </dd>
          <dt className="text-quiet">May use</dt>
          <dd>{v.permissions.length > 0 ? v.permissions.join(', ') : 'nothing besides itself'}</dd>
          <dt className="text-quiet">Brought</dt>
          <dd>by {v.broughtBy}</dd>
          <dt className="text-quiet">SHA-256</dt>
          <dd className="font-mono break-all">{v.sha256}</dd>
          {v.notes && (
            <>
              <dt className="text-quiet">New</dt>
              <dd className="whitespace-pre-line">{v.notes}</dd>
            </>
          )}
        </dl>
      )}
    </li>
  );
}

/** One app: where it is, its versions, its assignments. */
export function AppCard({ detail, onClose }: { detail: AppDetail; onClose: () => void }) {
  const { app } = detail;
  const { act, trouble, busy } = useAct('apps');
  const [assigning, setAssigning] = useState(false);
  const [releasing, setReleasing] = useState<AppVersion>();
  const [changing, setChanging] = useState(false);
  const versions = useQuery({
    queryKey: ['apps', 'versions', app.id],
    queryFn: () =>
      answer(api.GET('/apps/{id}/versions', { params: { path: { id: app.id }, query: { limit: 20 } } })),
  });
  return (
    <aside className={sideCard} aria-label={app.name}>
      <div className="border-line flex items-start gap-3 border-b px-5 py-4">
        <AppMark app={app} large />
        <div className="min-w-0 flex-1">
          <h2 className="truncate text-base font-semibold">{app.name}</h2>
          <p className="text-quiet truncate text-sm">
            {[app.publisher, ORIGINS[app.origin], app.category].filter(Boolean).join(', ')}
          </p>
          <p className="text-quiet truncate font-mono text-xs">{app.packageId}</p>
        </div>
        <Button weight="bare" className="px-1!" aria-label="Close" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </div>
      <div className="space-y-6 px-5 py-4">
        {app.summary && <p className="text-sm">{app.summary}</p>}
        <Where detail={detail} />
        {detail.store && <LicensesOf app={app.id} side={detail.store} />}
        <section>
          <div className="mb-1 flex items-center">
            <h3 className="label">Assigned</h3>
            <Button className="ml-auto" weight="main" onClick={() => setAssigning(true)}>
              Assign
            </Button>
          </div>
          {detail.assignments.map((a) => (
            <p key={a.id} className="border-line/60 flex border-b py-1.5 text-sm">
              <Link className="text-brass min-w-0 flex-1 underline" to={`/apps/assignments/${a.id}`}>
                {a.name}
              </Link>
              <span className="text-quiet text-right text-xs">
                {a.publishedVersion ? counted(a.devices, 'device') : 'draft'}
                {a.publishedVersion && a.draftChanged && ', draft changed'}
                {a.spreading && (
                  <span className={clsx('block', a.spreading === 'stopped' && 'text-rust font-semibold')}>
                    {a.spreading === 'stopped' ? 'its waves stopped' : 'spreads in waves'}
                  </span>
                )}
              </span>
            </p>
          ))}
          {detail.assignments.length === 0 && (
            <p className="text-quiet text-sm">To nobody yet. Say for whom it is, and what it is to them.</p>
          )}
        </section>
        <CodesOf detail={detail} />
        {app.origin !== 'system' && (
          <section>
            <div className="flex items-center">
              <h3 className="label">Versions</h3>
              {app.origin === 'web' && (
                <Button className="ml-auto" onClick={() => setChanging(true)}>
                  Change the page
                </Button>
              )}
            </div>
            <ul>
              {versions.data?.items.map((v) => (
                <Version key={v.code} detail={detail} version={v} onRelease={() => setReleasing(v)} />
              ))}
            </ul>
            {detail.signer && (
              <p className="text-quiet mt-2 text-xs">
                Signed by {detail.signer}. Packages of another signer are refused.
                <span className="block font-mono break-all">{detail.signerKey}</span>
              </p>
            )}
            {app.origin === 'package' && <Followed detail={detail} />}
          </section>
        )}
        <Trouble error={trouble ?? versions.error} />
        {detail.assignments.length === 0 && app.origin !== 'system' && (
          <AskButton
            doing={`Delete ${app.name}`}
            label="Delete"
            busy={busy}
            trouble={trouble}
            onYes={() =>
              act(
                () =>
                  answer(
                    api.DELETE('/apps/{id}', {
                      params: { path: { id: app.id }, header: onVersion(detail) },
                    }),
                  ),
                onClose,
              )
            }
          >
            Nothing assigns it. Its versions go with it; devices keep what they have.
          </AskButton>
        )}
      </div>
      {assigning && <AssignSheet app={detail.app} onClose={() => setAssigning(false)} />}
      {changing && <WebApp before={detail} onClose={() => setChanging(false)} />}
      {releasing && (
        <ReleaseSheet detail={detail} version={releasing} onClose={() => setReleasing(undefined)} />
      )}
    </aside>
  );
}
