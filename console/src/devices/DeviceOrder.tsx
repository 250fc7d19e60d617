import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { Moment } from '../ui/parts';
import { Standing } from '../ui/Standing';

/** What checks find on a device, since when, and what follows; nothing where it is in order. */
export function DeviceOrder({ device }: { device: Schemas['DeviceSummary'] }) {
  const order = useQuery({
    queryKey: ['device', device.id, 'order', device.order],
    queryFn: () => answer(api.GET('/devices/{id}/order', { params: { path: { id: device.id } } })),
  });
  const o = order.data;
  if (!o || o.findings.length === 0) {
    return null;
  }
  return (
    <section
      aria-label="Checks"
      className={`space-y-1.5 border-l-2 pl-3 text-sm ${o.order === 'out-of-order' ? 'border-rust' : 'border-amber'}`}
    >
      <p className="flex items-baseline gap-3">
        <Standing of={o.order} />
        <span className="text-quiet ml-auto text-xs">
          {o.toldAt ? (
            <>
              the device was told <Moment at={o.toldAt} />
            </>
          ) : (
            'the device was not told yet'
          )}
        </span>
      </p>
      <ul className="space-y-1">
        {o.findings.map((f) => (
          <li key={f.checkId}>
            <Link className="text-brass underline" to={`/rules/checks?card=${f.checkId}`}>
              {f.name}
            </Link>
            : {f.advice}
            <span className="text-quiet block text-xs">
              found <Moment at={f.since} />,{' '}
              {f.order === 'in-grace' ? (
                <>
                  out of order <Moment at={f.due} />
                </>
              ) : (
                <>
                  out of order since <Moment at={f.due} />
                </>
              )}
            </span>
          </li>
        ))}
      </ul>
      {o.withheld && (
        <p className="text-quiet text-xs">What kits give only to devices in order is withheld.</p>
      )}
    </section>
  );
}
