import { ListPlus } from 'lucide-react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { DropFile } from '../ui/DropFile';
import { Button, counted, Labelled, Trouble } from '../ui/parts';

function Said({ title, words, rust }: { title: string; words: string[]; rust?: boolean }) {
  return (
    words.length > 0 && (
      <p className={`text-sm ${rust ? 'text-rust' : ''}`}>
        {title}:{' '}
        <span className="font-mono text-xs">
          {words.slice(0, 30).join(', ')}
          {words.length > 30 && ` and ${words.length - 30} more`}
        </span>
      </p>
    )
  );
}

/** Selects devices by a list of their serial numbers, IMEIs or asset numbers. */
export function NamedSheet({
  onSelect,
  onClose,
}: {
  onSelect: (ids: string[]) => void;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState('');
  const [file, setFile] = useState<File>();
  const [named, setNamed] = useState<Schemas['NamedDevices']>();
  const { act, trouble, busy } = useAct();
  const put = (text: string) => {
    setTyped(text);
    setNamed(undefined);
  };
  const find = () =>
    act(() => answer(api.POST('/devices/named', { body: { identifiers: typed.split(/\r?\n/) } })), setNamed);
  return (
    <Sheet
      title="Select devices by a list"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {named ? (
            <Button
              weight="main"
              disabled={named.found.length === 0}
              onClick={() => {
                onSelect(named.found.map((f) => f.id));
                onClose();
              }}
            >
              Select {counted(named.found.length, 'device')}
            </Button>
          ) : (
            <Button weight="main" disabled={busy || typed.trim() === ''} onClick={() => void find()}>
              Find them
            </Button>
          )}
        </>
      }
    >
      <Labelled
        label="Serial numbers, IMEIs or asset numbers"
        hint="One a line, with commas between them, or a sheet with a column of them."
      >
        <textarea
          className="field h-40 py-1 font-mono text-xs"
          value={typed}
          onChange={(e) => put(e.target.value)}
        />
      </Labelled>
      <DropFile
        thing="list"
        file={file}
        accept=".txt,.csv,text/plain,text/csv"
        onTake={async (given) => {
          setFile(given);
          if (given) {
            put(await given.text());
          }
        }}
      />
      {named && (
        <div className="space-y-1" role="status">
          <p className="text-sm">
            <b>{counted(named.found.length, 'device')}</b> found.
          </p>
          <Said title="No managed device has" words={named.unknown} rust />
          <Said title="More than one device has" words={named.several} rust />
          <Said title="Named more than once, taken once" words={named.doubled} />
        </div>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Opens it. */
export function SelectByList({ onSelect }: { onSelect: (ids: string[]) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        onClick={() => setOpen(true)}
        title="Select devices by a list of serial numbers, IMEIs or asset numbers"
      >
        <ListPlus className="size-4" /> By a list
      </Button>
      {open && <NamedSheet onSelect={onSelect} onClose={() => setOpen(false)} />}
    </>
  );
}
