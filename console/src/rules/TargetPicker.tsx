import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useGroups } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { useUnits } from '../organisation/choices';
import { Button, counted } from '../ui/parts';

type Named = Schemas['NamedTarget'];
export const sayTarget = (t: Named) => (t.kind === 'everyone' ? 'everyone' : `${t.kind} ${t.name}`);

/** Something to choose, how many devices it is where that is known, and what it is found by. */
interface Offer {
  target: Named;
  devices?: number;
  sought: string;
}

const offer = (target: Named, devices?: number): Offer => ({
  target,
  devices,
  sought: sayTarget(target).toLowerCase(),
});

/** So many are drawn; the others are found by typing on. */
const DRAWN = 40;

/**
 * What fits the words best comes first: that which begins with them, then that which has them all.
 * People and devices are found by the service, by more than their names.
 */
export function fitting(offers: Offer[], words: string): Offer[] {
  const plain = words.trim().toLowerCase();
  const parts = plain.split(/\s+/);
  const named = offers.filter(
    (o) =>
      o.target.kind === 'device' || o.target.kind === 'person' || parts.every((p) => o.sought.includes(p)),
  );
  const first = (o: Offer) => o.target.name.toLowerCase().startsWith(plain);
  return plain === '' ? named : [...named.filter(first), ...named.filter((o) => !first(o))];
}

function useOffers(words: string, everyone: boolean): Offer[] {
  const groups = useGroups();
  const tags = useQuery({ queryKey: ['tags'], queryFn: () => answer(api.GET('/tags')) });
  const units = useUnits();
  const asked = words.trim().length > 1;
  const people = useQuery({
    queryKey: ['people', 'target', words],
    enabled: asked,
    queryFn: () => answer(api.GET('/people', { params: { query: { q: words, limit: 5 } } })),
  });
  const devices = useQuery({
    queryKey: ['devices', 'target', words],
    enabled: asked,
    queryFn: () => answer(api.GET('/devices', { params: { query: { q: words, limit: 8 } } })),
  });
  // made once for however many units there are, not at every letter
  const known = useMemo(
    () => [
      ...(everyone ? [offer({ kind: 'everyone', ref: '', name: 'everyone' })] : []),
      ...(units.data ?? []).map((u) =>
        offer({ kind: 'unit', ref: u.id, name: `${u.code} ${u.name}` }, u.devices),
      ),
      ...(groups.data?.items ?? []).map((g) => offer({ kind: 'group', ref: g.id, name: g.name }, g.devices)),
      ...Object.entries(tags.data ?? {}).map(([t, n]) => offer({ kind: 'tag', ref: t, name: t }, n)),
    ],
    [everyone, units.data, groups.data, tags.data],
  );
  return [
    ...known,
    ...(asked ? (people.data?.items ?? []) : []).map((p) =>
      offer({ kind: 'person', ref: p.id, name: p.name }),
    ),
    ...(asked ? (devices.data?.items ?? []) : []).map((d) =>
      offer({ kind: 'device', ref: d.id, name: d.name }),
    ),
  ];
}

/** Picks whom: everyone, a unit, a group, a tag, a person or a device. */
export function TargetPicker({
  label,
  value,
  onChange,
  everyone,
  kinds,
  none = 'nobody',
}: {
  /** What may be picked; anything where it is not said. */
  kinds?: Named['kind'][];
  /** What is said when nothing is picked. */
  none?: string;
  label: string;
  value: Named[];
  onChange: (targets: Named[]) => void;
  everyone: boolean;
}) {
  const [words, setWords] = useState('');
  const fit = fitting(useOffers(words, everyone), words).filter(
    (o) =>
      (!kinds || kinds.includes(o.target.kind)) &&
      !value.some((v) => v.kind === o.target.kind && v.ref === o.target.ref),
  );
  const drawn = fit.slice(0, DRAWN);
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
        {value.length === 0 && <span className="text-quiet text-sm">{none}</span>}
      </div>
      <Combobox<Offer | null>
        immediate
        value={null}
        onChange={(o) => {
          if (o) {
            onChange([...value, o.target]);
            setWords('');
          }
        }}
      >
        <ComboboxInput
          className="field"
          aria-label={`${label}: find`}
          autoComplete="off"
          placeholder={
            kinds ? `Find a ${kinds.join(', a ')}` : 'Find a unit, a group, a tag, a person or a device'
          }
          displayValue={() => words}
          onChange={(e) => setWords(e.target.value)}
        />
        <ComboboxOptions
          anchor={{ to: 'bottom start', gap: 4 }}
          className="frame z-30 max-h-80! w-(--input-width) overflow-y-auto rounded-[3px] py-1 shadow-lg empty:invisible"
        >
          {drawn.map((o) => (
            <ComboboxOption
              key={o.target.kind + o.target.ref}
              value={o}
              className="data-focus:bg-raised flex h-8 cursor-pointer items-center gap-3 px-3 text-sm"
            >
              <span className="text-quiet w-14 shrink-0">
                {o.target.kind === 'everyone' ? '' : o.target.kind}
              </span>
              <span className="flex-1 truncate">{o.target.name}</span>
              {o.devices !== undefined && (
                <span className="text-quiet text-xs">{counted(o.devices, 'device')}</span>
              )}
            </ComboboxOption>
          ))}
          {fit.length > drawn.length && (
            <p className="text-quiet px-3 py-1.5 text-xs">
              {(fit.length - drawn.length).toLocaleString('en')} more: type on to find them.
            </p>
          )}
          {fit.length === 0 && words.trim() !== '' && (
            <p className="text-quiet px-3 py-1.5 text-xs">Nothing is called that.</p>
          )}
        </ComboboxOptions>
      </Combobox>
    </div>
  );
}
