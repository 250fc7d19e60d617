import { useQuery } from '@tanstack/react-query';
import { BellRing, FileText, Lock, MapPin } from 'lucide-react';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue, useMe } from '../api/session';
import { StoreFile } from '../rules/StoreFile';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Moment, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { CaseState, Every, RingsAt, type Lost } from './lost';
import { OrderSheet } from './OrderSheet';
import { Way, useWay } from './Way';
import { LastWipe } from './wipes';

type Entry = Schemas['CaseEntry'];

const DOTS: Record<string, string> = {
  opened: 'bg-rust border-rust',
  heard: 'bg-moss border-moss',
  rings: 'bg-moss border-moss',
  watch: 'bg-amber border-amber',
  ended: 'bg-ink border-ink',
  note: 'bg-brass border-brass',
  told: 'bg-brass border-brass',
};

function Timeline({ entries }: { entries: Entry[] }) {
  return (
    <ol className="border-line ml-1 border-l text-sm" aria-label="What happened">
      {entries.map((e, i) => (
        <li key={`${e.at} ${i}`} className="relative py-1.5 pl-4">
          <span
            aria-hidden
            className={`absolute top-3 -left-[4px] size-[7px] rounded-full border ${DOTS[e.kind] ?? 'bg-sheet border-slate'}`}
          />
          <span className="flex justify-between gap-3">
            <span className="min-w-0 break-words first-letter:uppercase">
              {e.kind === 'told' && <span className="label mr-1.5">Told</span>}
              {e.text}
              {e.fileId && (
                <a className="text-brass ml-2 underline" href={`/api/v1/files/${e.fileId}/content`}>
                  {e.fileName}
                </a>
              )}
            </span>
            <span className="text-quiet shrink-0 text-xs">
              <Moment at={e.at} />
            </span>
          </span>
          {e.by && <span className="text-quiet block text-xs">{e.by}</span>}
        </li>
      ))}
    </ol>
  );
}

/** Something is written down, with a file where there is one. */
function WriteDown({ of: c }: { of: Lost }) {
  const [text, setText] = useState('');
  const [told, setTold] = useState(false);
  const [file, setFile] = useState<Schemas['StoredFile']>();
  const [storing, setStoring] = useState(false);
  const { act, trouble, busy } = useAct('cases');
  const keep = () =>
    act(
      () =>
        answer(
          api.POST('/cases/{id}/notes', {
            params: { path: { id: c.id } },
            body: { text, told, fileId: file?.id },
          }),
        ),
      () => {
        setText('');
        setTold(false);
        setFile(undefined);
      },
    );
  return (
    <form
      className="space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <textarea
        aria-label="Write something down"
        className="field h-16 w-full py-1"
        placeholder="What somebody said, whom you told, the number of the report…"
        maxLength={2000}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <label className="flex items-center gap-1.5">
          <input type="checkbox" checked={told} onChange={(e) => setTold(e.target.checked)} />
          It says who was told
        </label>
        <Button onClick={() => setStoring(true)}>
          <FileText className="size-4" /> {file ? file.name : 'Add a file'}
        </Button>
        <Button type="submit" weight="main" disabled={busy || !text.trim()} className="ml-auto">
          Write down
        </Button>
      </div>
      <Trouble error={trouble} />
      {storing && (
        <StoreFile
          onClose={() => setStoring(false)}
          onStored={(f) => {
            setFile(f);
            setStoring(false);
          }}
        />
      )}
    </form>
  );
}

function EndCase({ of: c, found, onClose }: { of: Lost; found: boolean; onClose: () => void }) {
  const [words, setWords] = useState('');
  const [then, setThen] = useState<'wipe' | 'retire' | 'leave'>('wipe');
  const { act, trouble, busy } = useAct('cases', 'device', 'devices', 'notices', 'wipes', 'dispatches');
  const end = () =>
    act(
      () =>
        answer(
          api.PUT('/cases/{id}/end', {
            params: { path: { id: c.id }, header: onVersion(c) },
            body: { found, words, wipe: !found && then === 'wipe', retire: !found && then === 'retire' },
          }),
        ),
      onClose,
    );
  return (
    <Sheet
      title={found ? `${c.device} was found` : `Give ${c.device} up`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight={found ? 'main' : 'danger'}
            disabled={busy || !words.trim()}
            onClick={() => void end()}
          >
            {found ? 'Put everything back' : 'Give it up'}
          </Button>
        </>
      }
    >
      <p className="text-quiet text-sm">
        {found
          ? 'It is unlocked, its SIM too; what was wiped of its work part comes back; nobody asks where it is any more.'
          : 'Nobody looks for it any more. Its licenses are free for others once it is retired.'}
      </p>
      {!found && (
        <Labelled label="And then">
          <select className="field" value={then} onChange={(e) => setThen(e.target.value as typeof then)}>
            <option value="wipe">
              {c.personal ? 'wipe its work part' : 'wipe it, and retire it once it is proved blank'}
            </option>
            <option value="retire">retire it at once, without a wipe</option>
            <option value="leave">leave it as it is</option>
          </select>
        </Labelled>
      )}
      <Labelled label="How it ended">
        <textarea
          className="field h-20 py-1"
          maxLength={2000}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Where it was, to be gone over again; it grows while it is looked for. */
function WayOf({ of: c }: { of: Lost }) {
  const stretch = { to: c.endedAt };
  const way = useWay('cases', c.deviceId, stretch);
  if (way.isLoading) {
    return null;
  }
  return (
    <div className="flex h-full flex-col">
      <Trouble error={way.error} />
      <div className="min-h-0 flex-1">
        <Way device={{ id: c.deviceId, name: c.device }} points={way.points} stretch={stretch} />
      </div>
    </div>
  );
}

function Case({ of: c }: { of: Lost }) {
  const me = useMe();
  const catalogue = useCatalogue();
  const role = me.data?.account.role ?? 'reader';
  const operates = ['owner', 'operator'].includes(role);
  const helps = operates || role === 'helpdesk';
  const [sheet, setSheet] = useState<'found' | 'given-up'>();
  const [ordering, setOrdering] = useState<string>();
  const { act, trouble } = useAct('cases');
  const timeline = useQuery({
    queryKey: ['cases', 'timeline', c.id],
    refetchInterval: c.state === 'open' ? 10_000 : false,
    queryFn: () => answer(api.GET('/cases/{id}/timeline', { params: { path: { id: c.id } } })),
  });
  const change = (body: Schemas['CaseChange']) =>
    act(() =>
      answer(api.PATCH('/cases/{id}', { params: { path: { id: c.id }, header: onVersion(c) }, body })),
    );
  const spec = catalogue.data?.commands.find((x) => x.key === ordering);
  const open = c.state === 'open';
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col overflow-y-auto lg:flex-row lg:overflow-hidden">
      <section className="border-line space-y-4 px-5 py-4 lg:w-[440px] lg:shrink-0 lg:overflow-y-auto lg:border-r">
        <header className="space-y-1">
          <h1 className="text-lg font-semibold">
            <Link className="hover:underline" to={`/devices/${c.deviceId}`}>
              {c.device}
            </Link>
          </h1>
          <p className="flex flex-wrap items-center gap-x-3 text-sm">
            <CaseState of={c} />
            <span className="text-quiet">
              reported <Moment at={c.openedAt} /> by {c.openedBy}
              {c.holder && `; held by ${c.holder}`}
            </span>
          </p>
          {c.lostAt && (
            <p className="text-quiet text-sm">
              missing since <Moment at={c.lostAt} />
            </p>
          )}
          <p className="text-sm">{c.what}</p>
          {c.heardAt && (
            <p className="text-moss text-sm">
              Heard <Moment at={c.heardAt} />
            </p>
          )}
          {c.words && <p className="text-sm font-semibold">{c.words}</p>}
        </header>
        {open && helps && (
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => setOrdering('ring')}>
              <BellRing className="size-4" /> Ring
            </Button>
            {!c.personal && (
              <Button onClick={() => setOrdering('locate')}>
                <MapPin className="size-4" /> Locate now
              </Button>
            )}
            <Button onClick={() => setOrdering('lock')}>
              <Lock className="size-4" /> Lock again
            </Button>
            <Button weight="main" onClick={() => setSheet('found')}>
              It was found
            </Button>
            {operates && (
              <Button weight="danger" onClick={() => setSheet('given-up')}>
                Give it up
              </Button>
            )}
          </div>
        )}
        {open && helps && !c.personal && (
          <div className="flex flex-wrap gap-4">
            <Every
              value={String(c.everyMinutes ?? 0)}
              onChange={(v) => void change({ everyMinutes: Number(v) })}
            />
            <RingsAt value={c.ringSiteId ?? ''} onChange={(v) => void change({ ringSiteId: v })} />
          </div>
        )}
        <Trouble error={trouble} />
        <LastWipe device={c.deviceId} />
        {helps && <WriteDown of={c} />}
        <div>
          <h2 className="label mb-1 flex items-center">
            <span className="flex-1">
              What happened
              {timeline.data &&
                `, ${counted(timeline.data.items.length, 'entry').replace('entrys', 'entries')}`}
            </span>
            <a className="text-brass normal-case underline" href={`/api/v1/cases/${c.id}/sheet.pdf`}>
              Paper for the insurer
            </a>
          </h2>
          <Timeline entries={timeline.data?.items ?? []} />
        </div>
      </section>
      <section className="min-h-96 min-w-0 flex-1" aria-label="Where it was">
        {c.personal ? (
          <p className="text-quiet p-6 text-sm">
            It is its holder’s own. Where such a device is is never asked for, kept or shown.
          </p>
        ) : operates ? (
          <WayOf of={c} />
        ) : (
          <p className="text-quiet p-6 text-sm">Where it was is for operators; ask one to look.</p>
        )}
      </section>
      {sheet && <EndCase of={c} found={sheet === 'found'} onClose={() => setSheet(undefined)} />}
      {spec && (
        <OrderSheet
          spec={spec}
          whom={{ devices: [c.deviceId], count: 1 }}
          called={c.device}
          onClose={() => setOrdering(undefined)}
        />
      )}
    </div>
  );
}

/** A lost device, from the report to the end. */
export function CasePage() {
  const { id = '' } = useParams();
  const found = useQuery({
    queryKey: ['cases', 'one', id],
    queryFn: () => answer(api.GET('/cases/{id}', { params: { path: { id } } })),
  });
  return (
    <>
      <Trouble error={found.error} />
      {found.data && <Case of={found.data} />}
    </>
  );
}
