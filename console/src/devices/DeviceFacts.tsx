import type { ReactNode } from 'react';
import type { Schemas } from '../api/client';
import { bytes, Moment } from '../ui/parts';

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

/** What a device says of itself. */
export function Facts({ detail }: { detail: Schemas['DeviceDetail'] }) {
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
        <Pair name="Unit, site">
          {d.unit ?? '–'}, {d.site ?? '–'}
        </Pair>
        <Pair name="Held by">{d.person ?? 'nobody'}</Pair>
        {detail.asset && (
          <Pair name="Asset">
            <span className="font-mono text-xs">{detail.asset}</span>
          </Pair>
        )}
        <Pair name="Joined by">{detail.enrollmentProfile ?? '–'}</Pair>
        <Pair name="Groups">{detail.groups.map((g) => g.name).join(', ') || '–'}</Pair>
        {detail.facts
          .filter((f) => !/^(battery|storage|system\/os|system\/model)/.test(f.key))
          .map((f) => (
            <Pair key={f.key} name={f.title}>
              {f.words}
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
