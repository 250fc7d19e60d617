import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { Button, counted, Moment, Trouble } from '../ui/parts';

type Profile = Schemas['EnrollmentProfile'];
type Draft = Schemas['EnrollmentProfileDraft'];

/** What of a profile as shown can be written again. */
export function written(p: Profile): Draft {
  const { name, ownership, mode, platforms, kinds, signIn, directoryGroup, termsVersion } = p;
  const { minimumOs, approval, rosterOnly, namePattern, fillGaps, unitId, siteId, groups, tags } = p;
  const { firstRun, readyGate, removable, comesBack } = p;
  return {
    ...{ name, ownership, mode, platforms, kinds, signIn, directoryGroup, termsVersion },
    ...{ minimumOs, approval, rosterOnly, namePattern, fillGaps, unitId, siteId, groups, tags },
    ...{ firstRun, readyGate, removable, comesBack },
  };
}

/** A field of a profile in words. */
export const called = (field: string) => field.replace(/([A-Z])/g, (c) => ` ${c.toLowerCase()}`);

function said(value: unknown): string {
  if (value === undefined || value === null || value === '') {
    return 'nothing';
  }
  if (typeof value === 'boolean') {
    return value ? 'yes' : 'no';
  }
  if (Array.isArray(value)) {
    return value.length === 0 ? 'none' : value.map(said).join(', ');
  }
  if (typeof value === 'object') {
    const parts = Object.entries(value).filter(([, v]) => said(v) !== 'nothing');
    return parts.length === 0 ? 'none' : parts.map(([k, v]) => `${called(k)} ${said(v)}`).join('; ');
  }
  return String(value);
}

/** The fields in which what was written then is another than what is written now. */
export function differences(then: Draft, now: Draft): { field: string; then: string; now: string }[] {
  const fields = new Set([...Object.keys(then), ...Object.keys(now)]) as Set<keyof Draft>;
  return [...fields]
    .map((field) => ({ field: called(field), then: said(then[field]), now: said(now[field]) }))
    .filter((d) => d.then !== d.now);
}

const places: Record<string, string> = {
  invitation: '/intake/invitations?card=',
  identifier: '/intake/roster?card=',
  gateway: '/house/gateways?open=',
  device: '/devices?card=',
};

function Compared(props: { then: Draft; now: Draft; onTakeBack: () => void }) {
  const found = differences(props.then, props.now);
  return (
    <div className="bg-raised space-y-2 p-3">
      {found.length === 0 ? (
        <p className="text-quiet">It said what the form says now.</p>
      ) : (
        <>
          <dl className="space-y-1">
            {found.map((d) => (
              <div key={d.field}>
                <dt className="text-quiet text-xs">{d.field}</dt>
                <dd>
                  <del className="text-quiet decoration-rust">{d.now}</del> <ins>{d.then}</ins>
                </dd>
              </div>
            ))}
          </dl>
          <Button onClick={props.onTakeBack}>
            Put {found.length === 1 ? 'it' : `these ${found.length}`} back into the form
          </Button>
        </>
      )}
    </div>
  );
}

/** Where a profile is used, and what it said each time it was written. */
export function UsesAndVersions(props: { id: string; draft: Draft; onTakeBack: (then: Draft) => void }) {
  const path = { id: props.id };
  const [open, setOpen] = useState<number>();
  const uses = useQuery({
    queryKey: ['enrollment-profiles', 'uses', props.id],
    queryFn: () => answer(api.GET('/enrollment-profiles/{id}/uses', { params: { path } })),
  });
  const versions = useQuery({
    queryKey: ['enrollment-profiles', 'versions', props.id],
    queryFn: () =>
      answer(api.GET('/enrollment-profiles/{id}/versions', { params: { path, query: { limit: 20 } } })),
  });
  return (
    <div className="grid grid-cols-2 gap-8 text-sm max-md:grid-cols-1">
      <section>
        <h3 className="border-line border-b pb-1 font-semibold">Where it is used</h3>
        <ul className="max-h-80 overflow-y-auto">
          {uses.data?.map((u) => (
            <li key={u.kind + u.id} className="border-line/60 flex h-8 items-center gap-3 border-b">
              <span className="text-quiet w-20">{u.kind}</span>
              <Link className="truncate hover:underline" to={`${places[u.kind]}${u.id}`}>
                {u.name}
              </Link>
            </li>
          ))}
          {uses.data?.length === 0 && <li className="text-quiet py-2">Nowhere: it can be deleted.</li>}
        </ul>
      </section>
      <section>
        <h3 className="border-line border-b pb-1 font-semibold">Who wrote it</h3>
        <ul className="max-h-96 overflow-y-auto">
          {versions.data?.items.map((v) => {
            const then = written(v.content);
            const n = differences(then, props.draft).length;
            return (
              <li key={v.number} className="border-line/60 border-b">
                <button
                  type="button"
                  aria-expanded={open === v.number}
                  className="hover:bg-raised flex h-8 w-full items-center gap-3 text-left"
                  onClick={() => setOpen(open === v.number ? undefined : v.number)}
                >
                  <span className="w-20">version {v.number}</span>
                  <span className="flex-1 truncate">{v.writtenBy}</span>
                  <span className="text-quiet text-xs">
                    {n === 0 ? 'as now' : `${counted(n, 'difference')}`}, <Moment at={v.writtenAt} />
                  </span>
                </button>
                {open === v.number && (
                  <Compared then={then} now={props.draft} onTakeBack={() => props.onTakeBack(then)} />
                )}
              </li>
            );
          })}
        </ul>
      </section>
      <Trouble error={uses.error ?? versions.error} />
    </div>
  );
}
