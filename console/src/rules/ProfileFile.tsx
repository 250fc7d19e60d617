import { Copy, Download } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { DropFile } from '../ui/DropFile';
import { Button, Labelled, Trouble } from '../ui/parts';

/** Hands the browser a text to save. */
function save(name: string, text: string) {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Copies a profile under another name, or saves it as a file. */
export function CopyOrSave({ profile }: { profile: Schemas['Profile'] }) {
  const go = useNavigate();
  const path = { id: profile.id };
  const { act, trouble, busy } = useAct('profiles');
  const [name, setName] = useState<string>();
  return (
    <>
      <Button
        weight="bare"
        title="Save it as a file, without its secrets"
        disabled={busy}
        onClick={() =>
          void act(
            () => answer(api.GET('/profiles/{id}/file', { params: { path } })),
            (file) => save(`${profile.name}.json`, JSON.stringify(file, undefined, 2)),
          )
        }
      >
        <Download className="size-4" />
        As a file
      </Button>
      <Button weight="bare" onClick={() => setName(`${profile.name} 2`)}>
        <Copy className="size-4" />
        Copy
      </Button>
      {name !== undefined && (
        <Sheet
          title={`Copy ${profile.name}`}
          onClose={() => setName(undefined)}
          actions={
            <>
              <Button onClick={() => setName(undefined)}>Cancel</Button>
              <Button
                weight="main"
                disabled={busy || !name.trim()}
                onClick={() =>
                  void act(
                    () => answer(api.POST('/profiles/{id}/copy', { params: { path }, body: { name } })),
                    (made) => {
                      setName(undefined);
                      go(`/rules/${made.kind}s/${made.id}`);
                    },
                  )
                }
              >
                Make the copy
              </Button>
            </>
          }
        >
          <p className="text-sm">
            The copy says the same and goes to the same devices; it is a draft until it is published.
          </p>
          <Labelled label="Name of the copy">
            <input className="field" maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
          </Labelled>
          <Trouble error={trouble} />
        </Sheet>
      )}
    </>
  );
}

/** Writes a new profile from a file that was saved here or elsewhere. */
export function FromFile({ onClose }: { onClose: () => void }) {
  const go = useNavigate();
  const { act, trouble, busy } = useAct('profiles');
  const [file, setFile] = useState<Schemas['ProfileFile']>();
  const [fault, setFault] = useState<string>();
  const [chosen, setChosen] = useState<File>();
  async function read(given?: File) {
    setChosen(given);
    setFault(undefined);
    setFile(undefined);
    if (!given) {
      return;
    }
    try {
      setFile(JSON.parse(await given.text()) as Schemas['ProfileFile']);
    } catch {
      setFault(`${given.name} is no profile file.`);
    }
  }
  return (
    <Sheet
      title="A profile from a file"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !file?.name?.trim()}
            onClick={() =>
              void act(
                () => answer(api.POST('/profile-files', { body: file! })),
                (made) => go(`/rules/${made.kind}s/${made.id}`),
              )
            }
          >
            Write profile
          </Button>
        </>
      }
    >
      <DropFile
        thing="profile file"
        file={chosen}
        accept=".json,application/json"
        onTake={(given) => void read(given)}
      />
      {file && (
        <>
          <Labelled label="Name">
            <input
              className="field"
              maxLength={80}
              value={file.name ?? ''}
              onChange={(e) => setFile({ ...file, name: e.target.value })}
            />
          </Labelled>
          <p className="text-quiet text-sm">
            {Object.keys(file.settings ?? {}).length} settings. It is a draft that goes to nobody yet.
            {file.secretsLeftOut?.length
              ? ` These secrets are not in the file and have to be set: ${file.secretsLeftOut.join(', ')}.`
              : ''}
          </p>
        </>
      )}
      <Trouble error={fault ? new Error(fault) : trouble} />
    </Sheet>
  );
}
