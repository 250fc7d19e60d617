import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, everyPage, type Schemas } from '../api/client';
import { FileField } from '../rules/FileField';
import { Sheet } from '../ui/Dialog';
import { Button, counted, Labelled, Trouble } from '../ui/parts';

type Kind = Schemas['CableWork'];

const WORKS: { key: Kind; title: string; help: string; value?: 'name' | 'version' | 'app' | 'document' }[] = [
  { key: 'update-os', title: 'Update the OS', help: 'Puts a version of its OS on it.', value: 'version' },
  { key: 'app', title: 'Put an app on', help: 'The latest package of an app of your own.', value: 'app' },
  { key: 'document', title: 'Put a document on', help: 'A document from Files.', value: 'document' },
  { key: 'back-up', title: 'Back up', help: 'Keeps what it was prepared with at the cable.', value: 'name' },
  {
    key: 'restore',
    title: 'Restore',
    help: 'Prepares it with what was backed up from another one.',
    value: 'name',
  },
  {
    key: 'rename',
    title: 'Rename',
    help: 'Gives it a name of its own. One that is managed is renamed on its card.',
    value: 'name',
  },
  { key: 'clear-passcode', title: 'Clear the passcode', help: 'Whoever holds it gets in without one.' },
  { key: 'erase', title: 'Erase', help: 'Everything on it is gone, and cannot be brought back.' },
];

/** Has something done to devices that are plugged in. */
export function CableWork({
  session,
  serials,
  onClose,
}: {
  session: string;
  /** Those it is done to. */
  serials: string[];
  onClose: () => void;
}) {
  const [kind, setKind] = useState<Kind>('update-os');
  const [value, setValue] = useState('');
  const [number, setNumber] = useState('');
  const [left, setLeft] = useState<string[]>();
  const { act, trouble, busy } = useAct('bench');
  const work = WORKS.find((w) => w.key === kind)!;
  const apps = useQuery({
    queryKey: ['apps', 'own'],
    enabled: work.value === 'app',
    queryFn: () =>
      everyPage((after) => answer(api.GET('/apps', { params: { query: { after, limit: 200 } } }))),
  });
  const erases = kind === 'erase';
  const ready =
    (work.value === undefined || value.trim() !== '') && (!erases || number === String(serials.length));
  const go = () =>
    act(
      () =>
        answer(
          api.POST('/bench-sessions/{id}/work', {
            params: { path: { id: session } },
            body: {
              what: kind,
              value: work.value ? value : undefined,
              serials,
              confirmDevices: erases ? serials.length : undefined,
            },
          }),
        ),
      (ordered) => {
        if (ordered.left.length > 0) {
          setLeft(ordered.left);
        } else {
          onClose();
        }
      },
    );
  return (
    <Sheet
      title={`By cable: ${counted(serials.length, 'device')}`}
      onClose={onClose}
      actions={
        left ? (
          <Button weight="main" onClick={onClose}>
            Close
          </Button>
        ) : (
          <>
            <Button onClick={onClose}>Cancel</Button>
            <Button weight={erases ? 'danger' : 'main'} disabled={busy || !ready} onClick={() => void go()}>
              {work.title}: {counted(serials.length, 'device')}
            </Button>
          </>
        )
      }
    >
      {left ? (
        <div role="status" className="text-sm">
          <p className="mb-2">It is not done to {counted(left.length, 'device')}:</p>
          <ul className="text-rust space-y-1">
            {left.map((l) => (
              <li key={l}>{l}.</li>
            ))}
          </ul>
        </div>
      ) : (
        <>
          <Labelled label="What" hint={work.help}>
            <select
              className="field w-full"
              value={kind}
              onChange={(e) => {
                setKind(e.target.value as Kind);
                setValue('');
              }}
            >
              {WORKS.map((w) => (
                <option key={w.key} value={w.key}>
                  {w.title}
                </option>
              ))}
            </select>
          </Labelled>
          {work.value === 'version' && (
            <Labelled label="Version">
              <input
                className="field w-32"
                placeholder="7.2.1"
                value={value}
                onChange={(e) => setValue(e.target.value)}
              />
            </Labelled>
          )}
          {work.value === 'name' && (
            <Labelled label={kind === 'rename' ? 'Name' : 'Name of the backup'}>
              <input
                className="field"
                maxLength={80}
                value={value}
                onChange={(e) => setValue(e.target.value)}
              />
            </Labelled>
          )}
          {work.value === 'app' && (
            <Labelled label="App">
              <select className="field w-full" value={value} onChange={(e) => setValue(e.target.value)}>
                <option value="">Choose one</option>
                {apps.data?.items
                  .filter((a) => a.origin === 'package')
                  .map((a) => (
                    <option key={a.id} value={a.id}>
                      {a.name}
                    </option>
                  ))}
              </select>
            </Labelled>
          )}
          {work.value === 'document' && (
            <Labelled label="Document">
              <FileField
                id="cable-document"
                kind="document"
                value={value}
                onChange={(v) => setValue(String(v))}
              />
            </Labelled>
          )}
          {erases && (
            <Labelled label={`Type ${serials.length} to erase them`}>
              <input className="field w-24" value={number} onChange={(e) => setNumber(e.target.value)} />
            </Labelled>
          )}
        </>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}
