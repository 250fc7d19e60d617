import { ArrowDown, ArrowUp } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { bytes } from '../ui/parts';
import { Standing } from '../ui/Standing';

type OnBench = Schemas['BenchDevice'];

/** Versions by number, so that 7.10 comes after 7.9. */
function byVersion(a = '', b = ''): number {
  const [x, y] = [a, b].map((v) => v.split('.').map(Number));
  for (let i = 0; i < 3; i++) {
    const d = (x![i] ?? -1) - (y![i] ?? -1);
    if (d) return d;
  }
  return 0;
}

const byText = (a = '', b = '') => a.localeCompare(b);
const byNumber = (a?: string, b?: string) => Number(a ?? -1) - Number(b ?? -1);

const ORDERS: [string, string, (a: OnBench, b: OnBench) => number][] = [
  ['place', 'Place', (a, b) => a.rack - b.rack || a.slot - b.slot],
  ['name', 'Device', (a, b) => byText(a.name ?? a.serial, b.name ?? b.serial)],
  ['state', 'State', (a, b) => byText(a.state, b.state)],
  ['model', 'Model', (a, b) => byText(a.model, b.model)],
  ['os', 'OS', (a, b) => byVersion(a.osVersion, b.osVersion)],
  ['passcode', 'Passcode', (a, b) => byText(a.passcode, b.passcode)],
  ['battery', 'Battery', (a, b) => byNumber(a.battery, b.battery)],
  ['free', 'Free', (a, b) => byNumber(a.free, b.free)],
];

/** In words what the cable was told last: "update-os given" is "update os, under way". */
function workWords(work: string): string {
  const [what = '', state = ''] = work.split(' ');
  const words: Record<string, string> = {
    queued: 'waits',
    given: 'under way',
    done: 'done',
    failed: 'not done',
  };
  return `${what.replaceAll('-', ' ')}, ${words[state] ?? state}`;
}

/** The version most of them have, so that the odd one out is seen. */
function usual(devices: OnBench[]): string | undefined {
  const counted = new Map<string, number>();
  devices.forEach((d) => {
    const key = `${d.model} ${d.osVersion}`;
    if (d.osVersion) counted.set(key, (counted.get(key) ?? 0) + 1);
  });
  return [...counted].sort((a, b) => b[1] - a[1])[0]?.[0];
}

/** What is plugged in as a table: in any order, ticked to have something done to it. */
export function BenchList({
  devices,
  ticked,
  onTick,
}: {
  devices: OnBench[];
  ticked: string[];
  onTick: (serials: string[]) => void;
}) {
  const [order, setOrder] = useState({ by: 'place', up: true });
  const compare = ORDERS.find(([key]) => key === order.by)![2];
  const rows = [...devices].sort((a, b) => (order.up ? compare(a, b) : compare(b, a)));
  const most = usual(devices);
  const all = devices.length > 0 && ticked.length === devices.length;
  return (
    <div className="overflow-x-auto">
      <table className="w-full text-sm">
        <thead>
          <tr className="label border-line border-b text-left">
            <th className="w-8 py-1.5">
              <input
                type="checkbox"
                aria-label="All"
                checked={all}
                onChange={() => onTick(all ? [] : devices.map((d) => d.serial))}
              />
            </th>
            {ORDERS.map(([key, title]) => (
              <th
                key={key}
                className="pr-4 font-normal"
                aria-sort={order.by !== key ? 'none' : order.up ? 'ascending' : 'descending'}
              >
                <button
                  type="button"
                  className="hover:text-ink flex items-center gap-1"
                  onClick={() => setOrder({ by: key, up: order.by === key ? !order.up : true })}
                >
                  {title}
                  {order.by === key &&
                    (order.up ? <ArrowUp className="size-3" /> : <ArrowDown className="size-3" />)}
                </button>
              </th>
            ))}
            <th className="font-normal">By cable</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((d) => {
            const odd = d.osVersion !== undefined && most !== `${d.model} ${d.osVersion}`;
            return (
              <tr key={d.serial} className="border-line/60 border-b">
                <td className="py-1.5">
                  <input
                    type="checkbox"
                    aria-label={d.serial}
                    checked={ticked.includes(d.serial)}
                    onChange={() =>
                      onTick(
                        ticked.includes(d.serial)
                          ? ticked.filter((s) => s !== d.serial)
                          : [...ticked, d.serial],
                      )
                    }
                  />
                </td>
                <td className="pr-4 tabular-nums">
                  {d.rack}.{d.slot}
                </td>
                <td className="pr-4">
                  {d.deviceId ? (
                    <Link to={`/devices/${d.deviceId}`} className="text-brass underline">
                      {d.name}
                    </Link>
                  ) : (
                    <span className="font-mono text-xs">{d.serial}</span>
                  )}
                </td>
                <td className="pr-4">
                  <Standing of={d.state} reason={d.reason} />
                </td>
                <td className="text-quiet pr-4">{d.model}</td>
                <td className={`pr-4 tabular-nums ${odd ? 'text-amber font-semibold' : ''}`}>
                  {d.osVersion}
                </td>
                <td className="pr-4">{d.passcode && (d.passcode === 'true' ? 'set' : 'none')}</td>
                <td className="pr-4 tabular-nums">{d.battery && `${Math.round(Number(d.battery))} %`}</td>
                <td className="pr-4 tabular-nums">{d.free && bytes(Number(d.free))}</td>
                <td className="text-quiet">{d.work && workWords(d.work)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
