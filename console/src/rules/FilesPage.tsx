import type { ColumnDef } from '@tanstack/react-table';
import { Download, X } from 'lucide-react';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { HandOutDocument } from '../apps/HandOutDocument';
import { answer, api, type Schemas } from '../api/client';
import { AskButton } from '../ui/AskButton';
import { day } from '../ui/dates';
import { Choice, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Empty, Labelled, linkButton, Moment, sideCard, Trouble } from '../ui/parts';
import { onVersion, Read } from '../ui/RecordSheet';
import { FileMark } from './FileMark';
import { contentOf, type Kind, KINDS, reference, type StoredFile } from './files';
import { size } from '../ui/size';
import { StoreFile } from './StoreFile';

/** Whether one of its certificates ends within two months, or has. */
const lapses = (f: StoredFile) =>
  f.validUntil !== undefined && new Date(f.validUntil).getTime() < Date.now() + 60 * 86_400_000;

const columns: ColumnDef<StoredFile>[] = [
  {
    id: 'name',
    header: 'Name',
    size: 260,
    accessorFn: (f) => f.name,
    cell: ({ row: { original: f } }) => (
      <span className="flex items-center gap-2">
        <FileMark file={f} />
        {f.name}
      </span>
    ),
  },
  { id: 'kind', header: 'Kind', size: 110, accessorFn: (f) => KINDS[f.kind] },
  {
    id: 'about',
    header: 'What it is',
    size: 360,
    accessorFn: (f) => f.about,
    cell: ({ row: { original: f } }) => <span className={lapses(f) ? 'text-rust' : ''}>{f.about}</span>,
  },
  { id: 'size', header: 'Size', size: 90, accessorFn: (f) => size(f.bytes) },
  {
    id: 'uses',
    header: 'Used by',
    size: 210,
    accessorFn: (f) => f.profiles,
    cell: ({ row: { original: f } }) =>
      f.clearedAt ? (
        <span className="text-quiet">nothing; goes on {day(f.clearedAt)}</span>
      ) : (
        counted(f.profiles, 'profile')
      ),
  },
  {
    id: 'stored',
    header: 'Stored',
    size: 120,
    accessorFn: (f) => f.storedAt,
    cell: ({ row: { original: f } }) => <Moment at={f.storedAt} />,
  },
];

function named(use: Schemas['FileUse']): string {
  const version = use.latest && `version ${use.latest}`;
  return [version, use.draft && 'its draft'].filter(Boolean).join(' and ');
}

/** One file: what is in it, what names it, another name. */
function FileCard({ detail, onClose }: { detail: Schemas['StoredFileDetail']; onClose: () => void }) {
  const { file, uses } = detail;
  const path = { id: file.id };
  const { act, trouble, busy } = useAct('files');
  const [name, setName] = useState(file.name);
  const [handing, setHanding] = useState(false);
  const header = onVersion(file);
  return (
    <aside className={sideCard} aria-label={file.name}>
      <div className="border-line flex items-center gap-2 border-b px-5 py-3">
        <h2 className="min-w-0 flex-1 truncate text-base font-semibold">{file.name}</h2>
        <Button weight="bare" className="px-1!" aria-label="Close" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </div>
      <div className="space-y-5 px-5 py-4 text-sm">
        <FileMark file={file} large />
        <dl className="grid grid-cols-[6rem_1fr] gap-y-1.5">
          <dt className="text-quiet">Kind</dt>
          <dd>{KINDS[file.kind]}</dd>
          <dt className="text-quiet">What it is</dt>
          <dd className={lapses(file) ? 'text-rust' : ''}>{file.about}</dd>
          <dt className="text-quiet">Size</dt>
          <dd>{size(file.bytes)}</dd>
          <dt className="text-quiet">Stored</dt>
          <dd>
            <Moment at={file.storedAt} /> by {file.storedBy}
          </dd>
          <dt className="text-quiet">Settings say</dt>
          <dd className="font-mono text-xs break-all">{reference(file.id)}</dd>
        </dl>
        <section>
          <h3 className="label mb-1">Used by</h3>
          {uses.map((u) => (
            <p key={u.profileId}>
              <Link className="text-brass underline" to={`/rules/profiles/${u.profileId}`}>
                {u.profileName}
              </Link>
              <span className="text-quiet">, {named(u)}</span>
            </p>
          ))}
          {file.clearedAt && (
            <p className="text-quiet">
              Nothing. It goes by itself on {day(file.clearedAt)}, unless a profile names it until then.
            </p>
          )}
        </section>
        <Labelled label="Name">
          <input className="field" maxLength={120} value={name} onChange={(e) => setName(e.target.value)} />
        </Labelled>
        <Trouble error={trouble} />
        <div className="flex flex-wrap gap-2">
          {file.kind === 'document' && (
            <Button weight="main" onClick={() => setHanding(true)}>
              Hand it out
            </Button>
          )}
          <Button
            disabled={busy || !name.trim() || name.trim() === file.name}
            onClick={() =>
              void act(() =>
                answer(api.PUT('/files/{id}', { params: { path, header }, body: { name: name.trim() } })),
              )
            }
          >
            Rename
          </Button>
          <a className={linkButton} href={contentOf(file.id)} download={file.name}>
            <Download className="size-4" /> Save a copy
          </a>
          {uses.length === 0 && (
            <AskButton
              doing={`Delete ${file.name}`}
              label="Delete"
              busy={busy}
              trouble={trouble}
              onYes={() =>
                act(() => answer(api.DELETE('/files/{id}', { params: { path, header } })), onClose)
              }
            >
              Nothing uses it.
            </AskButton>
          )}
        </div>
      </div>
      {handing && <HandOutDocument file={file} onClose={() => setHanding(false)} />}
    </aside>
  );
}

/** Files devices are handed. */
export function FilesPage() {
  return (
    <Files title="Files" note="pictures, certificates, fonts, documents and scripts that profiles hand out" />
  );
}

/** Documents and books, which are handed out like apps. */
export function DocumentsPage() {
  return (
    <Files only="document" title="Documents" note="PDFs, books and texts holders read on their device" />
  );
}

function Files({ title, note, only }: { title: string; note: string; only?: Kind }) {
  const [search, setSearch] = useSearchParams();
  const filters = useFilters(['q', 'kind']);
  const { asked, query } = filters;
  const kind = only ?? ((asked.kind || undefined) as Kind | undefined);
  return (
    <ListPage<StoredFile>
      list={only ? 'documents' : 'files'}
      title={title}
      note={note}
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          {only === 'document' ? 'Store a document' : 'Store a file'}
        </Button>
      }
      columns={only ? columns.filter((c) => c.id !== 'kind') : columns}
      toolbar={
        <>
          <Words filters={filters} placeholder="Name, or what is in it" />
          {!only && <Choice filters={filters} name="kind" label="Kind" options={Object.entries(KINDS)} />}
        </>
      }
      query={['files', 'list', query, only]}
      load={(after) =>
        answer(api.GET('/files', { params: { query: { q: asked.q, kind, after, limit: 100 } } }))
      }
      card={(id, close) => (
        <Read
          query={['files', 'one', id]}
          load={() => answer(api.GET('/files/{id}', { params: { path: { id } } }))}
        >
          {(detail) => <FileCard key={`${id} ${detail.file.version}`} detail={detail} onClose={close} />}
        </Read>
      )}
      empty={
        <Empty
          title={query.q || query.kind ? 'No file is like that.' : `There are no ${only ?? 'file'}s yet.`}
        >
          {only === 'document'
            ? 'House rules, the manual of a till, a book to read: store it, then hand it out.'
            : 'A wallpaper, the root of your network, the manual of a till: store it, then name it in a profile.'}
        </Empty>
      }
    >
      {search.get('new') && (
        <StoreFile kind={only} onStored={(f) => setSearch({ card: f.id })} onClose={() => setSearch({})} />
      )}
    </ListPage>
  );
}
