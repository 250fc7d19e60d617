import { Download, Upload } from 'lucide-react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, asSheet, type Schemas } from '../api/client';
import { useConfirmation } from '../rules/confirmation';
import { RehearsalNote } from '../rules/RehearsalNote';
import { Sheet } from '../ui/Dialog';
import { DropFile } from '../ui/DropFile';
import { Button, counted, linkButton, Trouble } from '../ui/parts';

type What = 'units' | 'sites' | 'people' | 'devices';

const columns: Record<What, string> = {
  devices: 'identifier, name, tags',
  units: 'code, name, parent',
  sites: 'name, address, latitude, longitude, outline',
  people: 'name, login, mail, unit, site',
};

const take = (
  what: What,
  csv: string | File,
  query: { save?: boolean; confirmDevices?: number; reason?: string },
) => {
  const sent = { params: { query }, ...asSheet(csv) };
  return answer(
    what === 'devices'
      ? api.POST('/organisation/devices.csv', sent)
      : what === 'units'
        ? api.POST('/organisation/units.csv', sent)
        : what === 'sites'
          ? api.POST('/organisation/sites.csv', sent)
          : api.POST('/organisation/people.csv', sent),
  );
};

function Import({ what, onClose }: { what: What; onClose: () => void }) {
  const { act, trouble, busy } = useAct(what, 'attributes', 'tags', 'changes');
  const [csv, setCsv] = useState<string | File>('');
  const [report, setReport] = useState<Schemas['SheetReport']>();
  const confirmation = useConfirmation(report?.rehearsal, 'take it over');
  const put = (text: string | File) => {
    setCsv(text);
    setReport(undefined);
  };
  const sound = report && report.faults.length === 0;
  return (
    <Sheet
      wide
      title={`Take in a sheet of ${what}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>{report?.saved ? 'Close' : 'Cancel'}</Button>
          {!report?.saved && (
            <>
              <Button
                disabled={busy || csv === ''}
                onClick={() => void act(() => take(what, csv, {}), setReport)}
              >
                Check
              </Button>
              <Button
                weight="main"
                disabled={busy || !sound || (report.rehearsal && !confirmation.ready)}
                onClick={() =>
                  void act(
                    () =>
                      take(what, csv, {
                        save: true,
                        ...confirmation.given,
                      }),
                    setReport,
                  )
                }
              >
                {sound ? `Take over ${counted(report.rows, 'row')}` : 'Take over'}
              </Button>
            </>
          )}
        </>
      }
    >
      <p className="text-quiet text-sm">
        The first line names the columns: {columns[what]}, and any attribute by its name.{' '}
        {what === 'devices'
          ? 'A column that is left out changes nothing, an empty cell takes away what was there.'
          : 'What is there already is changed, the rest added.'}{' '}
        Nothing is kept as long as one row is faulty.
      </p>
      <DropFile
        thing="sheet"
        file={csv instanceof File ? csv : undefined}
        accept=".csv,text/csv"
        onTake={(given) => put(given ?? '')}
      />
      <textarea
        aria-label="Rows of the sheet"
        className="field font-mono text-xs"
        rows={8}
        value={typeof csv === 'string' ? csv : ''}
        onChange={(e) => put(e.target.value)}
      />
      {report && (
        <div role="status" className="text-sm">
          <p className="font-semibold">
            {report.saved ? 'Taken over: ' : 'It would be: '}
            {what !== 'devices' && `${report.added} added, `}
            {report.changed} changed
            {report.faults.length > 0 && `, but ${counted(report.faults.length, 'row')} cannot be taken over`}
            .
          </p>
          <ul className="max-h-48 overflow-y-auto">
            {report.faults.map((f) => (
              <li key={f.line} className="border-line/60 flex gap-3 border-b py-1">
                <span className="text-quiet w-16">line {f.line}</span>
                <span className="text-rust">{f.fault}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      {report?.rehearsal && !report.saved && (
        <RehearsalNote rehearsal={report.rehearsal} confirmation={confirmation} />
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Takes a list out as a sheet, and in again. */
export function SheetButtons({ what }: { what: What }) {
  const [taking, setTaking] = useState(false);
  return (
    <>
      <a href={`/api/v1/organisation/${what}.csv`} download={`${what}.csv`} className={linkButton}>
        <Download className="size-4" /> Sheet
      </a>
      <Button onClick={() => setTaking(true)}>
        <Upload className="size-4" /> Take in a sheet
      </Button>
      {taking && <Import what={what} onClose={() => setTaking(false)} />}
    </>
  );
}
