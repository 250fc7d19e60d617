import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, asSheet, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { Sheet } from '../ui/Dialog';
import { DropFile } from '../ui/DropFile';
import { Button, Labelled, Trouble } from '../ui/parts';

const fields: [string, string][] = [
  ['', 'leave out'],
  ['serial', 'serial number'],
  ['imei', 'IMEI'],
  ['asset', 'asset number'],
  ['name', 'name'],
  ['person', 'person'],
  ['unit', 'unit'],
  ['site', 'site'],
  ['tags', 'tags'],
  ['profile', 'enrollment profile'],
  ['state', 'state'],
];

function Columns({
  columns,
  onChange,
}: {
  columns: Record<string, string>;
  onChange: (columns: Record<string, string>) => void;
}) {
  return (
    <div className="grid grid-cols-3 gap-3">
      {Object.entries(columns).map(([heading, field]) => (
        <Labelled key={heading} label={`“${heading}” holds`}>
          <select
            className="field"
            value={field}
            onChange={(e) => onChange({ ...columns, [heading]: e.target.value })}
          >
            {fields.map(([value, text]) => (
              <option key={value} value={value}>
                {text}
              </option>
            ))}
          </select>
        </Labelled>
      ))}
    </div>
  );
}

type Only = 'faulty' | 'repaired' | 'changed';

function Rows({ sheet, only }: { sheet: string; only: Only }) {
  const pages = usePages<Schemas['RosterImportRow']>(['roster-import', sheet, 'rows', only], (after) =>
    answer(
      api.GET('/roster/imports/{id}/rows', {
        params: { path: { id: sheet }, query: { only, after, limit: 100 } },
      }),
    ),
  );
  return (
    <div className="border-line max-h-56 overflow-y-auto border" data-testid={only}>
      <table className="w-full text-sm">
        <tbody>
          {pages.items.map((r) => (
            <tr key={r.line} className="border-line/60 border-b align-top">
              <td className="text-quiet w-16 px-2 py-1 text-right">line {r.line}</td>
              <td className="px-2 py-1 font-mono text-xs">{r.identifiers}</td>
              <td className={`px-2 py-1 ${only === 'faulty' ? 'text-rust' : ''}`}>
                {(only === 'faulty' ? r.faults : r.notes).join('; ')}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {pages.hasNextPage && (
        <Button weight="bare" onClick={() => void pages.fetchNextPage()}>
          More
        </Button>
      )}
    </div>
  );
}

/** Reads a sheet: matched, checked row by row, and only then taken over. */
export function RosterImport({ onClose }: { onClose: () => void }) {
  const { act, trouble, busy } = useAct('roster');
  const [csv, setCsv] = useState<string | File>('');
  const [columns, setColumns] = useState<Record<string, string>>();
  const [id, setId] = useState<string>();
  const [picked, setOnly] = useState<Only>();
  const sheet = useQuery({
    queryKey: ['roster-import', id],
    enabled: id !== undefined,
    refetchInterval: (q) => (q.state.data?.state === 'checking' ? 300 : false),
    queryFn: () => answer(api.GET('/roster/imports/{id}', { params: { path: { id: id! } } })),
  });
  const s = sheet.data;
  const begun = (made: Schemas['RosterImport']) => {
    setId(made.id);
    setColumns(made.columns);
    void sheet.refetch();
  };
  const check = () =>
    act(
      () =>
        answer(
          api.POST('/roster/imports', {
            params: { query: { sheet: typeof csv === 'string' ? 'pasted' : csv.name } },
            ...asSheet(csv),
          }),
        ),
      begun,
    );
  const match = () =>
    act(
      () =>
        answer(
          api.PUT('/roster/imports/{id}/columns', {
            params: { path: { id: id! } },
            body: { columns: columns! },
          }),
        ),
      begun,
    );
  const take = () =>
    act(
      () =>
        answer(
          api.POST('/roster/imports/{id}/takeover', {
            params: { path: { id: id! } },
            body: { leaveOutFaulty: true },
          }),
        ),
      onClose,
    );
  const rows = (n: number) => `${n} ${n === 1 ? 'row' : 'rows'}`;
  const other = s && JSON.stringify(columns) !== JSON.stringify(s.columns);
  const only: Only = picked ?? (s && s.faulty > 0 ? 'faulty' : s && s.changed > 0 ? 'changed' : 'repaired');
  const shown = s && { faulty: s.faulty, changed: s.changed, repaired: s.repaired }[only];
  const part = (of: Only, n: number, text: string) => (
    <button
      type="button"
      className={`${of === 'faulty' ? 'text-rust' : ''} ${only === of ? 'font-semibold' : 'underline'}`}
      onClick={() => setOnly(of)}
    >
      <b className="text-lg">{n}</b> {text}
    </button>
  );
  return (
    <Sheet
      wide
      title="Import a sheet into the roster"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {id && (
            <Button disabled={busy} onClick={() => (setId(undefined), setColumns(undefined))}>
              Another sheet
            </Button>
          )}
          {s?.state === 'checked' ? (
            <Button
              weight="main"
              disabled={busy || other || s.added + s.changed === 0}
              onClick={() => void take()}
            >
              {s.added + s.changed === 0 ? 'Nothing to take over' : `Take over ${rows(s.added + s.changed)}`}
            </Button>
          ) : (
            <Button weight="main" disabled={busy || csv === '' || !!id} onClick={() => void check()}>
              {busy ? 'Sending…' : 'Check the sheet'}
            </Button>
          )}
        </>
      }
    >
      {!id && (
        <>
          <DropFile
            thing="sheet"
            file={csv instanceof File ? csv : undefined}
            accept=".csv,text/csv,text/plain"
            hint="CSV with a heading line; commas, semicolons or tabs; up to 32 MiB."
            onTake={(given) => setCsv(given ?? '')}
          />
          <Labelled label="Or paste it here">
            <textarea
              rows={7}
              className="field font-mono text-xs"
              placeholder={'Serial,Asset,Name,Unit\nAR10-0042-7731,VM-00071,Quay door,VM-HAR'}
              value={typeof csv === 'string' ? csv : ''}
              onChange={(e) => setCsv(e.target.value)}
            />
          </Labelled>
        </>
      )}
      {s?.state === 'unmatched' && (
        <p role="status" className="border-amber border-l-2 pl-3 text-sm">
          {s.reason}
        </p>
      )}
      {id && columns && (
        <>
          <Columns columns={columns} onChange={setColumns} />
          {other && (
            <Button disabled={busy} onClick={() => void match()}>
              Check again with these columns
            </Button>
          )}
        </>
      )}
      {s?.state === 'checking' && (
        <div role="status" className="text-sm">
          Checking: {s.done} of {rows(s.total)}
          <div className="bg-line mt-1 h-1.5" aria-hidden>
            <div className="bg-brass h-full" style={{ width: `${(100 * s.done) / s.total}%` }} />
          </div>
        </div>
      )}
      {s?.state === 'failed' && <Trouble error={s.reason} />}
      {s?.state === 'checked' && (
        <>
          <p className="flex flex-wrap gap-6 text-sm" data-testid="report">
            <span>
              <b className="text-lg">{s.added}</b> new
            </span>
            {part('changed', s.changed, 'changed')}
            <span>
              <b className="text-lg">{s.sound - s.added - s.changed}</b> as they are
            </span>
            {part('repaired', s.repaired, 'with something to know')}
            {part('faulty', s.faulty, 'faulty')}
          </p>
          {(shown ?? 0) > 0 && <Rows key={only} sheet={s.id} only={only} />}
          <p className="text-quiet text-xs">
            Nothing is saved until you take it over{s.faulty > 0 && '; faulty rows are left out'}.
          </p>
        </>
      )}
      <Trouble error={trouble ?? sheet.error} />
    </Sheet>
  );
}
