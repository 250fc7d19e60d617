import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { reference, type StoredFile } from '../rules/files';
import { TargetPicker } from '../rules/TargetPicker';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Trouble } from '../ui/parts';

/** What an entry of the documents is called. */
export const entryOf = (title: string): string =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 32)
    .replace(/^-|-$/g, '') || 'document';

/** Hands a document out: a kit that holds it, rehearsed before anything happens. */
export function HandOutDocument({ file, onClose }: { file: StoredFile; onClose: () => void }) {
  const go = useNavigate();
  const { act, trouble, busy } = useAct('profiles', 'files');
  const [title, setTitle] = useState(file.name.replace(/\.[^.]{1,5}$/, ''));
  const [targets, setTargets] = useState<Schemas['NamedTarget'][]>([]);
  const entry = `documents[${entryOf(title)}]`;
  return (
    <Sheet
      title={`Hand out ${file.name}`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !title.trim() || targets.length === 0}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/profiles', {
                      body: {
                        kind: 'kit',
                        name: title.trim(),
                        description: `Hands out ${file.name}`,
                        settings: {
                          [`${entry}.title`]: title.trim(),
                          [`${entry}.file`]: reference(file.id),
                        },
                        targets: targets.map((t) => ({ kind: t.kind, ref: t.ref }) as Schemas['TargetSpec']),
                      },
                    }),
                  ),
                (made) => go(`/rules/kits/${made.id}?rehearse=1`),
              )
            }
          >
            Rehearse it
          </Button>
        </>
      }
    >
      <Labelled label="Title" hint="What holders see on their device; the kit is called so, too.">
        <input className="field" maxLength={80} value={title} onChange={(e) => setTitle(e.target.value)} />
      </Labelled>
      <TargetPicker label="Goes to" value={targets} onChange={setTargets} everyone />
      <p className="text-quiet text-sm">
        It is withdrawn again by taking the kit back, or this document out of it.
      </p>
      <Trouble error={trouble} />
    </Sheet>
  );
}
