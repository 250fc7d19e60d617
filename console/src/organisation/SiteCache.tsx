import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { AskButton } from '../ui/AskButton';
import { day } from '../ui/dates';
import { Button, Labelled, Moment, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';

const size = (n: number) =>
  n < 1e6
    ? `${Math.round(n / 1e3)} kB`
    : n < 1e9
      ? `${(n / 1e6).toFixed(1)} MB`
      : `${(n / 1e9).toFixed(1)} GB`;

/** What crossed the line, beside what devices have: one bar. */
function Saved({ cache: c }: { cache: Schemas['SiteCache'] }) {
  const kept = Math.max(0, c.servedBytes - c.lineBytes);
  return (
    <>
      <div className="bg-raised flex h-2 gap-px" aria-hidden>
        <div className="bg-amber" style={{ flexGrow: c.lineBytes, flexBasis: 0 }} />
        <div className="bg-moss" style={{ flexGrow: kept, flexBasis: 0 }} />
      </div>
      <p className="mt-1.5 flex flex-wrap gap-x-5 text-sm">
        <span className="flex items-center gap-1.5">
          <span className="bg-amber size-2" aria-hidden /> {size(c.lineBytes)} over the line
        </span>
        <span className="flex items-center gap-1.5">
          <span className="bg-moss size-2" aria-hidden /> {size(kept)} from the cache
          {c.servedBytes > 0 && `, ${Math.round((100 * kept) / c.servedBytes)} %`}
        </span>
      </p>
    </>
  );
}

/** Hands a text to whoever sits here as a file. */
function save({ name, text }: Schemas['SiteCacheScript']) {
  const url = URL.createObjectURL(new Blob([text], { type: 'text/x-shellscript' }));
  Object.assign(document.createElement('a'), { href: url, download: name }).click();
  URL.revokeObjectURL(url);
}

/** The cache of packages at a site: where it is, whether it is in use, and what it saved. */
export function SiteCache({ site }: { site: string }) {
  const { act, trouble, busy } = useAct('site-caches');
  const [address, setAddress] = useState('');
  const caches = useQuery({
    queryKey: ['site-caches'],
    queryFn: () => answer(api.GET('/site-caches')),
    refetchInterval: 5_000,
  });
  const cache = caches.data?.items.find((c) => c.siteId === site);
  const path = { id: site };
  const header = onVersion(cache ?? { version: 0 });
  return (
    <section className="border-line space-y-3 border-t pt-4">
      <h3 className="label">Cache of packages</h3>
      {caches.data && !cache && (
        <>
          <p className="text-quiet text-sm">
            Where the line is slow, a small machine at the site fetches each package once and gives it to all
            devices there.
          </p>
          <div className="flex items-end gap-3">
            <div className="flex-1">
              <Labelled label="Where it is to be">
                <input
                  className="field"
                  placeholder="https://cache.vellmar.example:8443"
                  value={address}
                  onChange={(e) => setAddress(e.target.value)}
                />
              </Labelled>
            </div>
            <Button
              disabled={busy || !address.trim()}
              onClick={() =>
                void act(() =>
                  answer(api.PUT('/sites/{id}/cache', { params: { path, header }, body: { address } })),
                )
              }
            >
              Set up
            </Button>
          </div>
        </>
      )}
      {cache && (
        <>
          <p className="text-sm">
            <span
              className={clsx('mr-2 inline-block size-2', cache.working ? 'bg-moss' : 'bg-rust rotate-45')}
              aria-hidden
            />
            {cache.working ? (
              <>
                In use since <Moment at={cache.since} />
              </>
            ) : (
              <>Not in use: {cache.fault}. Devices fetch from here.</>
            )}
            <span className="text-quiet block font-mono text-xs">{cache.address}</span>
          </p>
          {cache.servedBytes + cache.lineBytes > 0 && <Saved cache={cache} />}
          <p className="text-quiet text-xs">
            {cache.certificateUntil
              ? `Its certificate holds until ${day(cache.certificateUntil)}; the script, run again, renews it.`
              : 'Run the script on the machine at the site, as root. It sets up nginx with a certificate from here.'}
          </p>
          <div className="flex items-center gap-3">
            <Button
              disabled={busy}
              onClick={() =>
                void act(() => answer(api.POST('/sites/{id}/cache/script', { params: { path } })), save)
              }
            >
              Get the script
            </Button>
            <AskButton
              doing="Take the cache away"
              label="Take away"
              busy={busy}
              trouble={trouble}
              onYes={() => act(() => answer(api.DELETE('/sites/{id}/cache', { params: { path, header } })))}
            >
              Devices of this site fetch from here again.
            </AskButton>
          </div>
        </>
      )}
      <Trouble error={trouble ?? caches.error} />
    </section>
  );
}
