import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Trouble } from '../ui/parts';
import { FileMark } from './FileMark';
import { type Kind, reference, referred, useFile } from './files';
import { size } from '../ui/size';
import { StoreFile } from './StoreFile';

function Choose({
  kind,
  onPick,
  onStore,
  onClose,
}: {
  kind: Kind;
  onPick: (id: string) => void;
  onStore: () => void;
  onClose: () => void;
}) {
  const [words, setWords] = useState('');
  const found = useQuery({
    queryKey: ['files', 'choose', kind, words],
    placeholderData: (before) => before,
    queryFn: () => answer(api.GET('/files', { params: { query: { q: words, kind, limit: 50 } } })),
  });
  return (
    <Sheet
      title={`Choose a ${kind}`}
      onClose={onClose}
      actions={
        <>
          <Button className="mr-auto" onClick={onStore}>
            Store another …
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <input
        className="field"
        autoFocus
        aria-label={`Find a ${kind}`}
        placeholder="Its name, or what is in it"
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <ul className="divide-line/60 divide-y">
        {found.data?.items.map((f) => (
          <li key={f.id}>
            <button
              type="button"
              className="hover:bg-raised flex w-full items-center gap-3 px-2 py-2 text-left text-sm"
              onClick={() => onPick(f.id)}
            >
              <FileMark file={f} />
              <span className="min-w-0 flex-1">
                <span className="block truncate">{f.name}</span>
                <span className="text-quiet block truncate text-xs">{f.about}</span>
              </span>
              <span className="text-quiet text-xs">{size(f.bytes)}</span>
            </button>
          </li>
        ))}
      </ul>
      {found.data?.items.length === 0 && (
        <p className="text-quiet text-sm">
          {words ? `No ${kind} is called so.` : `There is no ${kind} on file yet; store one.`}
        </p>
      )}
      <Trouble error={found.error} />
    </Sheet>
  );
}

/** The form field of a setting that names a file: which it is, and a way to another. */
export function FileField({
  id,
  kind,
  value,
  onChange,
}: {
  id: string;
  kind: Kind;
  value: unknown;
  onChange: (value: string) => void;
}) {
  const [open, setOpen] = useState<'choose' | 'store'>();
  const file = useFile(referred(value)).data?.file;
  const pick = (picked: string) => {
    onChange(reference(picked));
    setOpen(undefined);
  };
  return (
    <>
      <button
        type="button"
        id={id}
        className="field flex h-auto! min-h-8 items-center gap-2 py-1 text-left"
        onClick={() => setOpen('choose')}
      >
        {file ? (
          <>
            <FileMark file={file} />
            <span className="min-w-0 flex-1">
              <span className="block truncate text-sm">{file.name}</span>
              <span className="text-quiet block truncate text-xs">{file.about}</span>
            </span>
          </>
        ) : (
          <span className="text-quiet text-sm">Choose a {kind} …</span>
        )}
      </button>
      {open === 'choose' && (
        <Choose
          kind={kind}
          onPick={pick}
          onStore={() => setOpen('store')}
          onClose={() => setOpen(undefined)}
        />
      )}
      {open === 'store' && (
        <StoreFile kind={kind} onStored={(f) => pick(f.id)} onClose={() => setOpen(undefined)} />
      )}
    </>
  );
}
