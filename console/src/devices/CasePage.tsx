import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import L from 'leaflet';
import { BellRing, Download, FileText, Lock, MapPin, Pause, Play } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue, useMe } from '../api/session';
import { colour, drawPlace, drawSites, MapView } from '../places/MapView';
import { StoreFile } from '../rules/StoreFile';
import { moment } from '../ui/dates';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Moment, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { CaseState, Every, RingsAt, type Lost } from './lost';
import { OrderSheet } from './OrderSheet';
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

/** Where it was since it was reported, to be gone over again. */
function Way({ of: c }: { of: Lost }) {
  const sites = useQuery({
    queryKey: ['sites', 'all'],
    queryFn: () => answer(api.GET('/sites', { params: { query: { limit: 200 } } })),
  });
  const pages = useInfiniteQuery({
    queryKey: ['cases', 'way', c.id],
    initialPageParam: undefined as string | undefined,
    staleTime: Infinity,
    queryFn: ({ pageParam }) =>
      answer(
        api.POST('/devices/{id}/trail', {
          params: { path: { id: c.deviceId } },
          body: { to: c.endedAt, after: pageParam },
        }),
      ),
    getNextPageParam: (page) => page.next,
  });
  const { hasNextPage, isFetching, fetchNextPage } = pages;
  useEffect(() => {
    if (hasNextPage && !isFetching) {
      void fetchNextPage();
    }
  }, [hasNextPage, isFetching, fetchNextPage]);
  const points = useMemo(
    () => [...(pages.data?.pages.flatMap((p) => p.items) ?? [])].reverse(),
    [pages.data],
  );
  const [shown, setShown] = useState<number>();
  const [playing, setPlaying] = useState(false);
  const upTo = Math.min(shown ?? points.length - 1, points.length - 1);
  useEffect(() => {
    if (!playing) {
      return;
    }
    const tick = setInterval(() => {
      setShown((n) => {
        const next = (n ?? 0) + Math.max(1, Math.round(points.length / 120));
        if (next >= points.length - 1) {
          setPlaying(false);
          return undefined;
        }
        return next;
      });
    }, 80);
    return () => clearInterval(tick);
  }, [playing, points.length]);
  const at = points[upTo];
  const box = useMemo(
    () =>
      points.length > 0 ? L.latLngBounds(points.map((p) => [p.latitude, p.longitude])).pad(0.4) : undefined,
    [points],
  );
  if (pages.isLoading) {
    return null;
  }
  return (
    <div className="flex h-full flex-col">
      <Trouble error={pages.error} />
      <div className="min-h-0 flex-1">
        <MapView
          key={box ? 'way' : 'none'}
          label={`Way of ${c.device}`}
          fit={box}
          on={[points, upTo, sites.data]}
          draw={(layer, map) => {
            drawSites(layer, map, sites.data?.items);
            const gone = points.slice(0, upTo + 1).map((p) => [p.latitude, p.longitude] as L.LatLngTuple);
            L.polyline(gone, { color: colour('slate'), weight: 1.6 }).addTo(layer);
            if (at) {
              drawPlace(layer, [at.latitude, at.longitude], at.accuracy, moment(at.at), 'rust');
            }
          }}
        />
      </div>
      <div className="border-line flex items-center gap-3 border-t px-4 py-2 text-sm">
        {points.length > 1 && (
          <>
            <Button
              aria-label={playing ? 'Stop' : 'Go over it again'}
              onClick={() => {
                setShown(playing ? upTo : 0);
                setPlaying(!playing);
              }}
            >
              {playing ? <Pause className="size-4" /> : <Play className="size-4" />}
            </Button>
            <input
              type="range"
              aria-label="Moment"
              className="accent-brass min-w-0 flex-1"
              min={0}
              max={points.length - 1}
              value={upTo}
              onChange={(e) => {
                setPlaying(false);
                setShown(Number(e.target.value));
              }}
            />
          </>
        )}
        <span className="text-quiet shrink-0">
          {at
            ? `${moment(at.at)}, ${at.accuracy ? `± ${Math.round(at.accuracy)} m, ` : ''}${at.source}`
            : 'It has not said where it is.'}
        </span>
        {points.length > 0 && (
          <a className="text-brass shrink-0 underline" href={`/api/v1/devices/${c.deviceId}/trail.gpx`}>
            <Download className="inline size-4" /> GPX
          </a>
        )}
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
          <Way of={c} />
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
