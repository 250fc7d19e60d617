import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Download, FolderOpen } from 'lucide-react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, ProblemError, type Schemas } from '../api/client';
import { useMe } from '../api/session';
import { ProposeButton, useConfirmation } from '../rules/confirmation';
import { Effects } from '../rules/RehearsalSheet';
import { size } from '../ui/size';
import { Button, counted, Empty, Heading, Labelled, linkButton, Trouble } from '../ui/parts';
import { Read } from '../ui/RecordSheet';
import {
  type Folder,
  load,
  type Load,
  loadOf,
  PARTS,
  read,
  rehearse,
  type Secret,
  type Step,
  storeWanted,
  VERBS,
} from './configuration';

const secretsOf = (trouble: unknown): Secret[] =>
  trouble instanceof ProblemError && trouble.kind === 'secrets-wanted'
    ? (trouble.problem as unknown as { secrets: Secret[] }).secrets
    : [];

/** One thing that is added, changed or deleted, with what is different. */
function StepLine({ step }: { step: Step }) {
  return (
    <li className="border-line/60 border-b py-1.5 text-sm">
      <span className="text-quiet mr-2">{PARTS[step.part]}</span>
      <b>{step.name}</b>
      {step.file && <code className="text-quiet ml-3 text-xs">{step.file}</code>}
      {step.differences.slice(0, 12).map((d) => (
        <div key={d.where + (d.before ?? '') + (d.after ?? '')} className="flex gap-2 pl-4 text-xs">
          <span className="text-quiet w-56 shrink-0 truncate" title={d.where}>
            {d.where}
          </span>
          <span className="text-quiet line-through">{d.before}</span>
          <span>{d.after}</span>
        </div>
      ))}
      {step.differences.length > 12 && (
        <p className="text-quiet pl-4 text-xs">and {step.differences.length - 12} more</p>
      )}
    </li>
  );
}

function Steps({ steps }: { steps: Step[] }) {
  return (['delete', 'change', 'add', 'stay'] as const).map((verb) => {
    const some = steps.filter((s) => s.verb === verb);
    return (
      some.length > 0 && (
        <section key={verb} aria-label={VERBS[verb]}>
          <h3 className={`label mb-1 ${verb === 'delete' ? 'text-rust' : ''}`}>
            {VERBS[verb]}, {some.length}
          </h3>
          <ul className="max-h-72 overflow-y-auto">
            {some.map((s) => (
              <StepLine key={s.part + s.name} step={s} />
            ))}
          </ul>
        </section>
      )
    );
  });
}

/** Where secrets are given that are in no file. */
function Secrets({
  wanted,
  onGiven,
}: {
  wanted: Secret[];
  onGiven: (secrets: NonNullable<Load['secrets']>) => void;
}) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const keyOf = (s: Secret) => `${s.part}\n${s.name}\n${s.key}`;
  const given = () => {
    const all: NonNullable<Load['secrets']> = {};
    for (const s of wanted) {
      ((all[s.part] ??= {})[s.name] ??= {})[s.key] = typed[keyOf(s)] ?? '';
    }
    onGiven(all);
  };
  return (
    <form
      className="max-w-xl space-y-4"
      onSubmit={(e) => {
        e.preventDefault();
        given();
      }}
    >
      <p className="text-sm">
        Secrets are in no file. {wanted.length === 1 ? 'This one is' : 'These are'} not on file here yet:
      </p>
      {wanted.map((s) => (
        <Labelled key={keyOf(s)} label={`${s.key} of ${s.name}`}>
          <input
            className="field"
            type="password"
            autoComplete="off"
            value={typed[keyOf(s)] ?? ''}
            onChange={(e) => setTyped({ ...typed, [keyOf(s)]: e.target.value })}
          />
        </Labelled>
      ))}
      <Button weight="main" disabled={wanted.some((s) => !typed[keyOf(s)])} onClick={given}>
        Go on
      </Button>
    </form>
  );
}

/** What loading a folder would do, and the button that does it. */
function Loading({ folder, onClose }: { folder: Folder; onClose: () => void }) {
  const queries = useQueryClient();
  const { act, trouble, busy } = useAct();
  const [gone, setGone] = useState(false);
  const [secrets, setSecrets] = useState<Load['secrets']>();
  const [passwords, setPasswords] = useState<Record<string, string>>({});
  const [done, setDone] = useState<Schemas['ConfigurationLoaded']>();
  const body = loadOf(folder, secrets, gone);
  const rehearsal = useQuery({
    queryKey: ['configuration', 'rehearsal', folder.name, JSON.stringify(body)],
    gcTime: 0,
    retry: false,
    enabled: !done,
    queryFn: () => rehearse(body),
  });
  const r = rehearsal.data;
  const confirmation = useConfirmation(r, 'load it');
  const wanted = secretsOf(rehearsal.error);
  if (done) {
    return (
      <div className="space-y-3 px-5 py-2 text-sm" role="status">
        <p className="font-semibold">
          Loaded.{' '}
          {done.change
            ? `${counted(done.change.total, 'device')} ${done.change.total === 1 ? 'gets' : 'get'} other settings; the tray follows them.`
            : 'No device gets other settings.'}
        </p>
        {done.leftOut.map((l) => (
          <p key={l}>{l}</p>
        ))}
        <Button onClick={onClose}>Back to all files</Button>
      </div>
    );
  }
  const nothing = r && r.steps.every((s) => s.verb === 'stay');
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-5 py-2">
      <div className="max-w-4xl space-y-4">
        <div className="flex flex-wrap items-center gap-6 text-sm">
          <span>
            <b>{folder.name}</b>, {counted(Object.keys(folder.texts).length, 'text')} and{' '}
            {counted(Object.keys(folder.files).length, 'file')}
          </span>
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={gone} onChange={(e) => setGone(e.target.checked)} />
            Delete what is in no file
          </label>
        </div>
        {wanted.length > 0 ? (
          <Secrets wanted={wanted} onGiven={setSecrets} />
        ) : (
          <Trouble error={rehearsal.error} />
        )}
        {rehearsal.isFetching && !r && <p className="text-quiet text-sm">Rehearsing …</p>}
        {r && (
          <>
            {nothing && <p className="text-sm font-semibold">The files say what is so already.</p>}
            <Steps steps={r.steps} />
            {r.leftOut.map((l) => (
              <p key={l} className="border-amber border-l-2 pl-3 text-sm">
                {l}
              </p>
            ))}
            {r.outOfOrder > 0 && (
              <p className="border-amber border-l-2 pl-3 text-sm">
                {counted(r.outOfOrder, 'device')} more would be out of order at once.
              </p>
            )}
            {r.filesWanted.length > 0 && <p className="text-sm">Stored before: {r.filesWanted.join(', ')}</p>}
            {r.filesWanted
              .filter((f) => /\.(p12|pfx)$/i.test(f))
              .map((f) => (
                <Labelled key={f} label={`Password of ${f}`} hint="To look into it once. It is not kept.">
                  <input
                    className="field w-72"
                    type="password"
                    autoComplete="off"
                    value={passwords[f] ?? ''}
                    onChange={(e) => setPasswords({ ...passwords, [f]: e.target.value })}
                  />
                </Labelled>
              ))}
            {r.settings ? (
              <Effects rehearsal={r.settings} />
            ) : (
              <p className="text-sm" data-testid="rehearsal">
                No device gets other settings by this.
              </p>
            )}
            {confirmation.fields}
            <Trouble error={trouble} />
            <div className="flex gap-3 pb-6">
              <Button onClick={onClose}>Cancel</Button>
              {confirmation.second && (
                <ProposeButton
                  intent={{ load: loadOf(folder, undefined, gone) }}
                  confirmation={confirmation}
                  weight="main"
                />
              )}
              {!nothing && (
                <Button
                  weight="main"
                  disabled={busy || !confirmation.ready}
                  onClick={() =>
                    void act(
                      async () => {
                        await storeWanted(folder, r.filesWanted, passwords);
                        return load({ ...body, ...confirmation.given });
                      },
                      (loaded) => {
                        setDone(loaded);
                        void queries.invalidateQueries();
                      },
                    )
                  }
                >
                  {busy ? 'Loading …' : 'Load all of it'}
                </Button>
              )}
            </div>
          </>
        )}
      </div>
    </div>
  );
}

/** The files as they are now: their paths, and what is in one. */
function Texts({ all }: { all: Schemas['ConfigurationFiles'] }) {
  // what lies at the top comes before the folders
  const paths = Object.keys(all.texts).sort((a, b) => Number(a.includes('/')) - Number(b.includes('/')));
  const [shown, setShown] = useState(paths.find((p) => p.startsWith('rules/profiles/')) ?? paths[0]!);
  const text = all.texts[shown] ?? '';
  let folder = '';
  return (
    <div className="flex min-h-0 flex-1">
      <nav className="border-line w-72 shrink-0 overflow-y-auto border-r py-2 text-sm" aria-label="Files">
        {paths.map((path) => {
          const at = path.slice(0, path.lastIndexOf('/') + 1);
          const heading = at !== folder && at !== '';
          folder = at;
          return (
            <div key={path}>
              {heading && <p className="label px-5 pt-3 pb-1">{at.slice(0, -1).replaceAll('/', ' / ')}</p>}
              <button
                type="button"
                aria-current={path === shown}
                className={`block w-full truncate px-5 py-1 text-left ${path === shown ? 'bg-raised font-semibold' : 'hover:bg-raised'}`}
                onClick={() => setShown(path)}
              >
                {path.slice(at.length)}
              </button>
            </div>
          );
        })}
        {all.files.length > 0 && <p className="label px-5 pt-3 pb-1">files</p>}
        {all.files.map((f) => (
          <p key={f.id} className="truncate px-5 py-1" title={f.about}>
            {f.name} <span className="text-quiet text-xs">{size(f.bytes)}</span>
          </p>
        ))}
      </nav>
      <div className="min-w-0 flex-1 overflow-auto px-5 py-3">
        {all.leftOut.map((l) => (
          <p key={l} className="border-amber mb-3 border-l-2 pl-3 text-sm">
            {l}
          </p>
        ))}
        <p className="label mb-2">{shown}</p>
        {text === '[]\n' ? (
          <Empty title="None yet.">The file is there, so that loading it says there are none.</Empty>
        ) : (
          <pre className="text-xs leading-5" data-testid="text">
            {text}
          </pre>
        )}
      </div>
    </div>
  );
}

/** The whole of rules, intake and organisation as files: taken out, looked at, loaded. */
export function ConfigurationPage() {
  const me = useMe();
  const may = ['owner', 'operator'].includes(me.data?.account.role ?? '');
  const [folder, setFolder] = useState<Folder>();
  const [fault, setFault] = useState<unknown>();
  const choose = async (list: FileList | null) => {
    setFault(undefined);
    try {
      setFolder(await read([...(list ?? [])]));
    } catch (e) {
      setFault(e);
    }
  };
  return (
    <section className="flex min-w-0 flex-1 flex-col">
      <Heading
        title={folder ? 'What loading would do' : 'All as files'}
        note={
          folder
            ? 'nothing is stored before you load it'
            : 'rules, intake and organisation, to keep, to compare and to put elsewhere'
        }
      >
        {may && !folder && (
          <>
            <label
              className={`${linkButton} focus-within:outline-brass cursor-pointer focus-within:outline-2`}
            >
              <FolderOpen className="size-4" aria-hidden />
              Load a folder
              <input
                type="file"
                className="sr-only"
                aria-label="Folder to load"
                multiple
                // which browsers have had for long, and React's types have not
                {...{ webkitdirectory: '' }}
                onChange={(e) => void choose(e.target.files)}
              />
            </label>
            <a
              className={`${linkButton} bg-brass! text-onbrass border-brass font-semibold hover:brightness-110`}
              href="/api/v1/configuration.zip"
              download
            >
              <Download className="size-4" aria-hidden />
              Save all
            </a>
          </>
        )}
      </Heading>
      <Trouble error={fault} />
      {!may ? (
        <p className="text-quiet px-5 text-sm">Operators and owners see this.</p>
      ) : folder ? (
        <Loading key={folder.name} folder={folder} onClose={() => setFolder(undefined)} />
      ) : (
        <Read query={['configuration']} load={() => answer(api.GET('/configuration'))}>
          {(all) => <Texts all={all} />}
        </Read>
      )}
    </section>
  );
}
