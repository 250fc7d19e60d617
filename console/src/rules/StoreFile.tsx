import { useState } from 'react';
import { useAct } from '../api/act';
import { ProblemError } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Trouble } from '../ui/parts';
import { DropFile } from '../ui/DropFile';
import { ENDINGS, type Kind, store, type StoredFile } from './files';

const asksForPassword = (trouble: unknown) =>
  trouble instanceof ProblemError && trouble.problem.pointer === '/password';

/** Where a file is chosen or dropped, to be stored once it was checked. */
export function StoreFile({
  kind,
  first,
  onStored,
  onClose,
}: {
  /** What it has to be, where only that is of use. */
  kind?: Kind;
  /** A file that was dropped already. */
  first?: File;
  onStored: (file: StoredFile) => void;
  onClose: () => void;
}) {
  const { act, trouble, busy } = useAct('files');
  const [file, setFile] = useState(first);
  const [name, setName] = useState(first?.name ?? '');
  const [password, setPassword] = useState('');
  const [locked, setLocked] = useState(false);
  const [there, setThere] = useState<StoredFile>();
  const take = (chosen?: File) => {
    setFile(chosen);
    setName(chosen?.name ?? '');
    setThere(undefined);
  };
  const keyed = locked || asksForPassword(trouble) || /\.(p12|pfx)$/i.test(file?.name ?? '');
  const keep = () =>
    act(
      () => store(file!, name, password, kind),
      (stored) => {
        setLocked(false);
        // what is on file already has the name it was given then
        if (stored.name === name.trim() || there) {
          onStored(stored);
        } else {
          setThere(stored);
        }
      },
    );
  return (
    <Sheet
      title="Store a file"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !file || !name.trim()}
            onClick={() => void (there ? onStored(there) : keep())}
          >
            {busy ? 'Storing …' : there ? `Use ${there.name}` : 'Store file'}
          </Button>
        </>
      }
    >
      <DropFile thing="file" file={file} accept={kind && ENDINGS[kind]} onTake={take} />
      <Labelled label="Name" hint="What it is called here; devices do not see it.">
        <input className="field" maxLength={120} value={name} onChange={(e) => setName(e.target.value)} />
      </Labelled>
      {keyed && (
        <Labelled
          label="Password of the PKCS#12"
          hint="To look into it once. It is not kept: devices get it from the setting beside the certificate."
        >
          <input
            className="field"
            type="password"
            autoComplete="off"
            value={password}
            onChange={(e) => {
              setPassword(e.target.value);
              setLocked(true);
            }}
          />
        </Labelled>
      )}
      {there && (
        <p className="text-sm">
          This is on file already, as <span className="font-semibold">{there.name}</span>: {there.about}.
        </p>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}
