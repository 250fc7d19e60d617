import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { useUnits } from '../organisation/choices';
import { Button } from '../ui/parts';

type Named = Schemas['NamedTarget'];
export const sayTarget = (t: Named) => (t.kind === 'everyone' ? 'everyone' : `${t.kind} ${t.name}`);

/** Picks whom: everyone, a unit, a group, a tag, a person or a device. */
export function TargetPicker({
  label,
  value,
  onChange,
  everyone,
}: {
  label: string;
  value: Named[];
  onChange: (targets: Named[]) => void;
  everyone: boolean;
}) {
  const [words, setWords] = useState('');
  const groups = useQuery({
    queryKey: ['groups', 'choice'],
    queryFn: () => answer(api.GET('/groups', { params: { query: { limit: 200 } } })),
  });
  const tags = useQuery({ queryKey: ['tags'], queryFn: () => answer(api.GET('/tags')) });
  const units = useUnits();
  const people = useQuery({
    queryKey: ['people', 'target', words],
    enabled: words.trim().length > 1,
    queryFn: () => answer(api.GET('/people', { params: { query: { q: words, limit: 5 } } })),
  });
  const devices = useQuery({
    queryKey: ['devices', 'target', words],
    enabled: words.trim().length > 1,
    queryFn: () => answer(api.GET('/devices', { params: { query: { q: words, limit: 8 } } })),
  });
  const plain = words.trim().toLowerCase();
  const all: Named[] = [
    ...(everyone ? [{ kind: 'everyone' as const, ref: '', name: 'everyone' }] : []),
    ...(units.data ?? []).map((u) => ({ kind: 'unit' as const, ref: u.id, name: `${u.code} ${u.name}` })),
    ...(groups.data?.items ?? []).map((g) => ({ kind: 'group' as const, ref: g.id, name: g.name })),
    ...Object.keys(tags.data ?? {}).map((t) => ({ kind: 'tag' as const, ref: t, name: t })),
    ...(plain.length > 1 ? (people.data?.items ?? []) : []).map((p) => ({
      kind: 'person' as const,
      ref: p.id,
      name: p.name,
    })),
    ...(plain.length > 1 ? (devices.data?.items ?? []) : []).map((d) => ({
      kind: 'device' as const,
      ref: d.id,
      name: d.name,
    })),
  ];
  const offers = all
    .filter((o) => !value.some((v) => v.kind === o.kind && v.ref === o.ref))
    .filter((o) => o.kind === 'device' || o.kind === 'person' || sayTarget(o).toLowerCase().includes(plain))
    .slice(0, 12);
  return (
    <div>
      <p className="label mb-1">{label}</p>
      <div className="mb-2 flex flex-wrap gap-1.5">
        {value.map((t) => (
          <span
            key={t.kind + t.ref}
            className="border-line flex items-center rounded-[3px] border pl-2 text-sm"
          >
            {sayTarget(t)}
            <Button
              weight="bare"
              className="h-6! px-1.5!"
              aria-label={`Take out ${sayTarget(t)}`}
              onClick={() => onChange(value.filter((x) => x !== t))}
            >
              <X className="size-3.5" />
            </Button>
          </span>
        ))}
        {value.length === 0 && <span className="text-quiet text-sm">nobody</span>}
      </div>
      <input
        className="field"
        aria-label={`${label}: find`}
        placeholder="Find a unit, a group, a tag, a person or a device"
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <div className="mt-1 flex flex-wrap gap-1">
        {offers.map((o) => (
          <Button
            key={o.kind + o.ref}
            weight="bare"
            className="text-brass h-6! px-2!"
            onClick={() => (onChange([...value, o]), setWords(''))}
          >
            + {sayTarget(o)}
          </Button>
        ))}
      </div>
    </div>
  );
}
