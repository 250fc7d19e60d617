import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { useEnrollmentProfiles } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { UnitSelect } from '../organisation/choices';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Trouble } from '../ui/parts';

type From = 'unit' | 'group' | 'sheet';

/** Invites many people at once: first what that would do, then doing it. */
export function InviteMany({ onClose }: { onClose: () => void }) {
  const profiles = useEnrollmentProfiles();
  const groups = useQuery({
    queryKey: ['directory', 'groups'],
    queryFn: () => answer(api.GET('/directory/groups')),
    retry: false,
  });
  const { act, trouble, busy } = useAct('invitations', 'people');
  const [profileId, setProfile] = useState('');
  const [from, setFrom] = useState<From>('unit');
  const [unitId, setUnit] = useState<string>();
  const [group, setGroup] = useState('');
  const [sheet, setSheet] = useState('');
  const [mail, setMail] = useState(true);
  const [days, setDays] = useState(7);
  const [report, setReport] = useState<Schemas['InvitedReport']>();
  const whom = { unit: { unitId }, group: { group }, sheet: { sheet } }[from];
  const named = { unit: unitId, group, sheet: sheet.trim() }[from];
  const send = (save: boolean) =>
    act(
      () =>
        answer(
          api.POST('/invitations/many', {
            body: { profileId, ...whom, mail, expiresInMinutes: days * 24 * 60, save },
          }),
        ),
      setReport,
    );
  const change =
    <T,>(set: (v: T) => void) =>
    (v: T) => {
      setReport(undefined);
      set(v);
    };
  const faults = report?.rows.filter((r) => r.fault) ?? [];
  return (
    <Sheet
      wide
      title="Invite many people"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>{report?.saved ? 'Close' : 'Cancel'}</Button>
          {!report?.saved && (
            <>
              <Button disabled={busy || !profileId || !named} onClick={() => void send(false)}>
                Check
              </Button>
              <Button
                weight="main"
                disabled={busy || !report || report.invited === 0}
                onClick={() => void send(true)}
              >
                {report ? `Invite ${counted(report.invited, 'person', 'people')}` : 'Invite'}
              </Button>
            </>
          )}
        </>
      }
    >
      <div className="grid grid-cols-2 max-md:grid-cols-1 gap-x-6 gap-y-4">
        <Labelled label="Enrollment profile">
          <select className="field" value={profileId} onChange={(e) => change(setProfile)(e.target.value)}>
            <option value="">Choose one</option>
            {profiles.data?.items.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </Labelled>
        <Labelled label="Days it holds">
          <input
            className="field"
            type="number"
            min={1}
            max={365}
            value={days}
            onChange={(e) => setDays(Number(e.target.value))}
          />
        </Labelled>
        <Labelled label="Who">
          <select className="field" value={from} onChange={(e) => change(setFrom)(e.target.value as From)}>
            <option value="unit">everybody of a unit</option>
            <option value="group">a group of the staff directory</option>
            <option value="sheet">a sheet</option>
          </select>
        </Labelled>
        {from === 'unit' && (
          <UnitSelect label="Unit, with those below it" value={unitId} onChange={change(setUnit)} />
        )}
        {from === 'group' && (
          <Labelled label="Group">
            <select className="field" value={group} onChange={(e) => change(setGroup)(e.target.value)}>
              <option value="">Choose one</option>
              {groups.data?.map((g) => (
                <option key={g}>{g}</option>
              ))}
            </select>
          </Labelled>
        )}
        <label className="flex items-center gap-2 self-end pb-2 text-sm">
          <input type="checkbox" checked={mail} onChange={(e) => change(setMail)(e.target.checked)} />
          Mail each their invitation
        </label>
        {from === 'sheet' && (
          <div className="md:col-span-2">
            <Labelled
              label="Sheet"
              hint="A heading with login, mail or name; a line each. People who are new here need name and mail."
            >
              <textarea
                className="field font-mono text-xs"
                rows={6}
                placeholder={'name,mail\nInes Orrin,ines.orrin@vellmar.example'}
                value={sheet}
                onChange={(e) => change(setSheet)(e.target.value)}
              />
            </Labelled>
          </div>
        )}
      </div>
      {report && (
        <div className="text-sm" role="status">
          <p className="font-semibold">
            {report.saved
              ? `${counted(report.invited, 'person is', 'people are')} invited${mail ? '; the letters are on their way' : ''}.`
              : `${report.invited} would be invited, ${report.leftOut} left out.`}
          </p>
          <ul className="max-h-48 overflow-y-auto">
            {faults.map((r) => (
              <li key={r.line} className="border-line/60 flex gap-3 border-b py-1">
                <span className="text-quiet w-14">line {r.line}</span>
                <span className="w-44 truncate">{r.who}</span>
                <span className="text-rust">{r.fault}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
      <Trouble error={trouble ?? (from === 'group' ? groups.error : undefined)} />
    </Sheet>
  );
}
