import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { SiteSelect } from '../organisation/choices';
import { Button, counted, Labelled, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';

export type LicensePool = Schemas['LicensePool'];

/** What one license is for. */
export const LICENSED: Record<Schemas['Licensing'], string> = {
  free: 'no license needed',
  'by-device': 'one license per device',
  'by-holder': 'one license per holder',
};

/** Devices or holders, counted. */
export const licensees = (n: number, licensing: Schemas['Licensing']) =>
  counted(n, licensing === 'by-holder' ? 'holder' : 'device');

/** How long a pool lasts, in words; empty when nothing was taken lately. */
export const lasts = (p: LicensePool) =>
  p.daysLeft === undefined
    ? ''
    : p.daysLeft === 0
      ? 'none left'
      : `${counted(p.daysLeft, 'day')} at this rate`;

/** How much of a pool is used: one bar, with what was given away in the portal apart. */
export function LicenseBar({ pool: p }: { pool: LicensePool }) {
  const here = p.used - p.elsewhere;
  const said = `${p.used} of ${p.owned} used${p.elsewhere ? `, ${p.elsewhere} of them in the portal` : ''}`;
  return (
    <div className="bg-raised flex h-2 w-full gap-px" role="img" aria-label={said} title={said}>
      {here > 0 && (
        <div
          className={p.lacking > 0 ? 'bg-rust' : p.free === 0 ? 'bg-amber' : 'bg-moss'}
          style={{ flexGrow: here, flexBasis: 0 }}
        />
      )}
      {p.elsewhere > 0 && <div className="bg-slate" style={{ flexGrow: p.elsewhere, flexBasis: 0 }} />}
      {p.free > 0 && <div style={{ flexGrow: p.free, flexBasis: 0 }} />}
    </div>
  );
}

/** Where licenses nobody holds are moved from one place to another. */
function Move({ pool: p, onDone }: { pool: LicensePool; onDone: () => void }) {
  const { act, trouble, busy } = useAct('licenses', 'apps');
  const [place, setPlace] = useState('');
  const [number, setNumber] = useState('1');
  const n = Number(number);
  return (
    <form
      className="space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        void act(
          () =>
            answer(
              api.POST('/license-pools/{id}/moves', {
                params: { path: { id: p.id } },
                body: { place, number: n },
              }),
            ),
          onDone,
        );
      }}
    >
      <div className="grid grid-cols-[1fr_6rem] gap-3">
        <Labelled label="To the place" hint="As the vendor's portal calls it; a new one is made there.">
          <input className="field" value={place} autoFocus onChange={(e) => setPlace(e.target.value)} />
        </Labelled>
        <Labelled label="How many">
          <input
            className="field"
            type="number"
            min={1}
            max={p.free}
            value={number}
            onChange={(e) => setNumber(e.target.value)}
          />
        </Labelled>
      </div>
      <div className="flex gap-2">
        <Button type="submit" weight="main" disabled={busy || !place.trim() || !(n >= 1 && n <= p.free)}>
          Move {n >= 1 ? counted(n, 'license') : 'licenses'}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
      <Trouble error={trouble} />
    </form>
  );
}

/** One pool: what it holds, whose devices draw on it, and what can be moved from it. */
export function Pool({ pool: p }: { pool: LicensePool }) {
  const { act, trouble } = useAct('licenses', 'apps');
  const [moving, setMoving] = useState(false);
  return (
    <div className="border-line/60 space-y-2 border-b py-3 text-sm">
      <div className="flex items-baseline gap-3">
        <b className="min-w-0 flex-1 truncate">{p.place}</b>
        <span className="text-quiet text-xs">
          {p.used} of {p.owned} used, <b className={p.lacking > 0 ? 'text-rust' : ''}>{p.free} free</b>
        </span>
      </div>
      <LicenseBar pool={p} />
      <p className="text-quiet text-xs">
        {[
          p.coming > 0 && `${p.coming} on their way`,
          p.elsewhere > 0 && `${p.elsewhere} given away in the portal`,
          lasts(p),
          p.owned < p.used && `${p.used - p.owned} more used than owned`,
        ]
          .filter(Boolean)
          .join('; ')}
      </p>
      {p.fault && <p className="text-rust text-xs">At the last try {p.fault}. Read the store again.</p>}
      <div className="flex items-end gap-3">
        <div className="flex-1">
          <SiteSelect
            label="For the devices of"
            none="every site"
            value={p.siteId}
            onChange={(siteId) =>
              void act(() =>
                answer(
                  api.PATCH('/license-pools/{id}', {
                    params: { path: { id: p.id }, header: onVersion(p) },
                    body: siteId ? { siteId } : {},
                  }),
                ),
              )
            }
          />
        </div>
        {!moving && p.free > 0 && <Button onClick={() => setMoving(true)}>Move some</Button>}
      </div>
      {moving && <Move pool={p} onDone={() => setMoving(false)} />}
      <Trouble error={trouble} />
    </div>
  );
}

/** The licenses of one app, on its card. */
export function LicensesOf({ app, side }: { app: string; side: Schemas['AppStoreSide'] }) {
  const pools = useQuery({
    queryKey: ['licenses', 'app', app],
    queryFn: () => answer(api.GET('/license-pools', { params: { query: { app, limit: 50 } } })),
  });
  const prices = Object.entries(side.prices);
  return (
    <section>
      <h3 className="label">Store and licenses</h3>
      <p className="text-quiet mt-1 text-sm">
        From the store of {side.platform}, {LICENSED[side.licensing]}
        {prices.length > 0 && `; ${prices.map(([country, price]) => `${price} in ${country}`).join(', ')}`}.
        {!side.sold && <b className="text-rust"> No longer sold: those who have it keep it.</b>}
      </p>
      {side.lacking > 0 && (
        <p className="border-rust mt-2 border-l-2 pl-3 text-sm">
          <b>{licensees(side.lacking, side.licensing)} without.</b> They get it as soon as a license is free:
          those to whom it is required first, in the order they were enrolled.
        </p>
      )}
      {pools.data?.items.map((p) => (
        <Pool key={p.id} pool={p} />
      ))}
      {side.licensing !== 'free' && pools.data?.items.length === 0 && (
        <p className="text-quiet mt-1 text-sm">
          None was bought. Buy some in the vendor's portal; they appear here by themselves.
        </p>
      )}
      <Trouble error={pools.error} />
    </section>
  );
}
