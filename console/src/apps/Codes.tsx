import { useQuery } from '@tanstack/react-query';
import { Copy, Download, Printer } from 'lucide-react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { UnitSelect } from '../organisation/choices';
import { AskButton } from '../ui/AskButton';
import { day } from '../ui/dates';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, linkButton, Moment, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';
import type { AppDetail } from './apps';
import { Configuration } from './Configuration';
import { told } from './schema';

type Code = Schemas['AppCode'];

const DAY = 24 * 60 * 60 * 1000;

/** Where a code is made for a unit: what the app is told there, and until when. */
function Make({
  detail,
  onMade,
  onClose,
}: {
  detail: AppDetail;
  onMade: (code: Code) => void;
  onClose: () => void;
}) {
  const { app } = detail;
  const { act, trouble, busy } = useAct('app-codes');
  const [unitId, setUnit] = useState<string>();
  const [name, setName] = useState('');
  const [until, setUntil] = useState(day(new Date(Date.now() + 90 * DAY).toISOString()));
  const [settings, setSettings] = useState<Record<string, unknown>>({});
  const of = (part: string) => told(settings[`apps[${app.key}].${part}`]);
  return (
    <Sheet
      title={`A code for ${app.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !unitId || !until || of('configuration') === undefined}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/app-codes', {
                      body: {
                        appId: app.id,
                        unitId: unitId!,
                        name: name.trim() || undefined,
                        until: new Date(new Date(`${until}T00:00:00`).getTime() + DAY).toISOString(),
                        configuration: of('configuration'),
                        secrets: of('secrets'),
                      },
                    }),
                  ),
                onMade,
              )
            }
          >
            Make the code
          </Button>
        </>
      }
    >
      <p className="text-sm">
        Printed and hung up, it tells {app.name} what it has to know on phones nobody manages: a volunteer
        scans it once.
      </p>
      <UnitSelect label="Hangs in" value={unitId} onChange={setUnit} none="Choose a unit" />
      <div className="grid grid-cols-2 gap-4">
        <Labelled label="Holds until">
          <input
            type="date"
            className="field"
            value={until}
            min={day(new Date().toISOString())}
            onChange={(e) => setUntil(e.target.value)}
          />
        </Labelled>
        <Labelled label="Name, if wanted">
          <input className="field" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
        </Labelled>
      </div>
      <Configuration
        app={app}
        schema={schema(detail)}
        settings={settings}
        note="A text may hold {self:Unit}, the unit the code hangs in. Whoever scans the code can read all of this, secrets too."
        onSet={(values) => setSettings({ ...settings, ...values })}
        onRemove={(keys) =>
          setSettings(Object.fromEntries(Object.entries(settings).filter(([k]) => !keys.includes(k))))
        }
      />
      <Trouble error={trouble} />
    </Sheet>
  );
}

const schema = (detail: AppDetail) =>
  (detail.forAll ?? detail.latest)?.schema as Record<string, unknown> | undefined;

/** One code: to be looked at, printed, taken back. */
function Shown({ id, onClose }: { id: string; onClose: () => void }) {
  const { act, trouble, busy } = useAct('app-codes');
  const [copied, setCopied] = useState(false);
  const read = useQuery({
    queryKey: ['app-codes', 'one', id],
    queryFn: () => answer(api.GET('/app-codes/{id}', { params: { path: { id } } })),
  });
  const c = read.data;
  if (!c) {
    return <Trouble error={read.error} />;
  }
  const base = `/api/v1/app-codes/${id}`;
  return (
    <Sheet
      title={c.name}
      onClose={onClose}
      actions={
        <>
          {c.state === 'open' && (
            <AskButton
              doing={`Revoke ${c.name}`}
              label="Revoke"
              className="mr-auto"
              busy={busy}
              trouble={trouble}
              onYes={() =>
                act(() => answer(api.POST('/app-codes/{id}/revocation', { params: { path: { id } } })))
              }
            >
              Nobody can read it any more. Apps that have read it keep what they were told.
            </AskButton>
          )}
          <Button onClick={onClose}>Close</Button>
        </>
      }
    >
      {c.state === 'open' && (
        <div className="border-line flex justify-center border-y py-4">
          <img src={`${base}/qr.svg`} alt={`QR code of ${c.name}`} className="size-60 bg-white" />
        </div>
      )}
      <div className="flex items-center gap-3 text-sm">
        <Standing of={c.state} />
        <span className="text-quiet">
          {c.unitCode} {c.unit}, until {day(c.until)}
        </span>
      </div>
      <p className="text-quiet text-sm">
        {c.readTimes === 0 ? (
          'No app has read it yet.'
        ) : (
          <>
            Read {counted(c.readTimes, 'time')}, last <Moment at={c.readAt} />.
          </>
        )}
      </p>
      <dl className="grid grid-cols-[8rem_1fr] gap-y-1.5 text-sm">
        {Object.entries(c.configuration).map(([k, v]) => (
          <div key={k} className="contents">
            <dt className="text-quiet">{k}</dt>
            <dd className="break-all">{typeof v === 'object' ? JSON.stringify(v) : String(v)}</dd>
          </div>
        ))}
        {c.secrets && (
          <>
            <dt className="text-quiet">Secrets</dt>
            <dd>told, and not shown</dd>
          </>
        )}
      </dl>
      {c.state === 'open' && c.link && (
        <>
          <Labelled label="What the code holds">
            <textarea readOnly rows={3} className="field font-mono text-xs break-all" value={c.link} />
          </Labelled>
          <div className="flex flex-wrap gap-2">
            <a
              href={`/api/v1/app-codes/sheet.pdf?id=${id}`}
              target="_blank"
              rel="noreferrer"
              className={linkButton}
            >
              <Printer className="size-4" /> Print a card
            </a>
            <a href={`${base}/qr.png`} download={`code-${c.codeEnds}.png`} className={linkButton}>
              <Download className="size-4" /> QR code
            </a>
            <Button onClick={() => void navigator.clipboard.writeText(c.link!).then(() => setCopied(true))}>
              <Copy className="size-4" /> {copied ? 'Copied' : 'Copy link'}
            </Button>
          </div>
        </>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** The codes of an app that can be told something, for phones nobody manages. */
export function CodesOf({ detail }: { detail: AppDetail }) {
  const { id } = detail.app;
  const [making, setMaking] = useState(false);
  const [shown, setShown] = useState<string>();
  const codes = usePages<Code>(
    ['app-codes', 'of', id],
    (after) => answer(api.GET('/app-codes', { params: { query: { app: id, after, limit: 20 } } })),
    schema(detail) !== undefined,
  );
  if (!schema(detail)) {
    return null;
  }
  return (
    <section>
      <div className="mb-1 flex items-center">
        <h3 className="label">Printed codes</h3>
        <Button className="ml-auto" onClick={() => setMaking(true)}>
          Make a code
        </Button>
      </div>
      <ul>
        {codes.items.map((c) => (
          <li key={c.id} className="border-line/60 flex items-baseline gap-2 border-b py-1.5 text-sm">
            <button
              type="button"
              className="text-brass min-w-0 flex-1 truncate text-left underline"
              onClick={() => setShown(c.id)}
            >
              {c.name}
            </button>
            <span className="text-quiet text-xs whitespace-nowrap">
              {c.state === 'open' ? `until ${day(c.until)}` : c.state}, read {counted(c.readTimes, 'time')}
            </span>
          </li>
        ))}
      </ul>
      {codes.isSuccess && codes.items.length === 0 && (
        <p className="text-quiet text-sm">
          None. A printed code tells the app what it has to know on phones that are not enrolled.
        </p>
      )}
      {codes.hasNextPage && (
        <Button weight="bare" onClick={() => void codes.fetchNextPage()}>
          More
        </Button>
      )}
      <Trouble error={codes.error} />
      {making && (
        <Make
          detail={detail}
          onMade={(code) => {
            setMaking(false);
            setShown(code.id);
          }}
          onClose={() => setMaking(false)}
        />
      )}
      {shown && <Shown id={shown} onClose={() => setShown(undefined)} />}
    </section>
  );
}
