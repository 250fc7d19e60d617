import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, ProblemError, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { Sheet } from '../ui/Dialog';
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

function Rows({ sheet, only }: { sheet: string; only: 'faulty' | 'repaired' }) {
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
  const [csv, setCsv] = useState('');
  const [name, setName] = useState('');
  const [columns, setColumns] = useState<Record<string, string>>();
  const [id, setId] = useState<string>();
  const [only, setOnly] = useState<'faulty' | 'repaired'>('faulty');
  const [unmatched, setUnmatched] = useState<string>();
  const sheet = useQuery({
    queryKey: ['roster-import', id],
    enabled: id !== undefined,
    refetchInterval: (q) => (q.state.data?.state === 'checking' ? 300 : false),
    queryFn: () => answer(api.GET('/roster/imports/{id}', { params: { path: { id: id! } } })),
  });
  const s = sheet.data;
  const check = (chosen?: Record<string, string>) =>
    act(
      async () => {
        setUnmatched(undefined);
        try {
          return await answer(api.POST('/roster/imports', { body: { csv, sheet: name, columns: chosen } }));
        } catch (e) {
          const headings = e instanceof ProblemError && (e.problem as { headings?: string[] }).headings;
          if (!headings) {
            throw e;
          }
          setUnmatched(e.message);
          setColumns(Object.fromEntries(headings.map((h) => [h, ''])));
          return undefined;
        }
      },
      (made) => {
        if (made) {
          setId(made.id);
          setColumns(made.columns);
        }
      },
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
  const read = async (file: File | undefined) => {
    if (file) {
      setName(file.name);
      setCsv(await file.text());
    }
  };
  const rows = (n: number) => `${n} ${n === 1 ? 'row' : 'rows'}`;
  return (
    <Sheet
      wide
      title="Import a sheet into the roster"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {(id || columns) && (
            <Button disabled={busy} onClick={() => (setId(undefined), setColumns(undefined))}>
              Another sheet
            </Button>
          )}
          {s?.state === 'checked' ? (
            <Button weight="main" disabled={busy || s.sound === 0} onClick={() => void take()}>
              {s.faulty > 0 ? `Take over the ${rows(s.sound)} that are sound` : `Take over ${rows(s.sound)}`}
            </Button>
          ) : (
            <Button weight="main" disabled={busy || !csv.trim() || !!id} onClick={() => void check(columns)}>
              Check the sheet
            </Button>
          )}
        </>
      }
    >
      {!id && (
        <>
          <Labelled label="File" hint="CSV with a heading line; commas, semicolons or tabs.">
            <input
              type="file"
              accept=".csv,text/csv,text/plain"
              className="field"
              onChange={(e) => void read(e.target.files?.[0])}
            />
          </Labelled>
          <Labelled label="Or paste it here">
            <textarea
              rows={7}
              className="field font-mono text-xs"
              placeholder={'Serial,Asset,Name,Unit\nAR10-0042-7731,VM-00071,Quay door,VM-HAR'}
              value={csv}
              onChange={(e) => setCsv(e.target.value)}
            />
          </Labelled>
        </>
      )}
      {unmatched && (
        <p role="status" className="border-amber border-l-2 pl-3 text-sm">
          {unmatched}
        </p>
      )}
      {columns && (
        <>
          <Columns columns={columns} onChange={setColumns} />
          {id && JSON.stringify(columns) !== JSON.stringify(s?.columns) && (
            <Button disabled={busy} onClick={() => void check(columns)}>
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
              <b className="text-lg">{s.sound}</b> sound
            </span>
            <button
              type="button"
              className={only === 'repaired' ? 'font-semibold' : 'underline'}
              onClick={() => setOnly('repaired')}
            >
              <b className="text-lg">{s.repaired}</b> of them with something to know
            </button>
            <button
              type="button"
              className={`text-rust ${only === 'faulty' ? 'font-semibold' : 'underline'}`}
              onClick={() => setOnly('faulty')}
            >
              <b className="text-lg">{s.faulty}</b> faulty
            </button>
          </p>
          {(only === 'faulty' ? s.faulty : s.repaired) > 0 && <Rows key={only} sheet={s.id} only={only} />}
          <p className="text-quiet text-xs">Nothing is saved until you take it over.</p>
        </>
      )}
      <Trouble error={trouble ?? sheet.error} />
    </Sheet>
  );
}
