import { useState } from 'react';
import { useAct } from '../api/act';
import type { Schemas } from '../api/client';
import { DropFile } from '../ui/DropFile';
import { size } from '../ui/size';
import { Sheet } from '../ui/Dialog';
import { Button, Trouble } from '../ui/parts';
import { bring, runsOn } from './apps';

/** Where a package is chosen or dropped; says what came of it before it is put away. */
export function BringPackage({
  onBrought,
  onClose,
}: {
  onBrought: (app: Schemas['AppDetail']) => void;
  onClose: () => void;
}) {
  const { act, trouble, busy } = useAct('apps');
  const [file, setFile] = useState<File>();
  const [sent, setSent] = useState(0);
  const [brought, setBrought] = useState<Schemas['AppBrought']>();
  const [begun, setBegun] = useState<{ id?: string }>({});
  const take = (chosen?: File) => {
    setFile(chosen);
    setBegun({});
    setSent(0);
  };
  if (brought) {
    const { app, version, before, newPermissions } = brought;
    return (
      <Sheet
        title={`${app.app.name} ${version.version}`}
        onClose={onClose}
        actions={
          <Button weight="main" onClick={() => onBrought(app)}>
            Go on to {app.app.name}
          </Button>
        }
      >
        <p className="text-sm">
          {before
            ? 'This package is here already; nothing changed.'
            : 'It is here. No device gets it before it is released.'}
        </p>
        <dl className="grid grid-cols-[7rem_1fr] gap-y-1.5 text-sm">
          <dt className="text-quiet">Signed by</dt>
          <dd>{app.signer}</dd>
          <dt className="text-quiet">Runs on</dt>
          <dd>{runsOn(version)}</dd>
          <dt className="text-quiet">Size</dt>
          <dd>{size(version.size)}</dd>
        </dl>
        {newPermissions.length > 0 && (
          <p className="border-amber border-l-2 pl-3 text-sm">
            It may do what the version before might not: <b>{newPermissions.join(', ')}</b>.
          </p>
        )}
        {version.notes && <p className="text-sm whitespace-pre-line">{version.notes}</p>}
      </Sheet>
    );
  }
  return (
    <Sheet
      title="Bring a package"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !file}
            onClick={() => void act(() => bring(file!, setSent, begun), setBrought)}
          >
            {busy
              ? sent < 1
                ? `Sending, ${Math.round(sent * 100)} %`
                : 'Checking …'
              : sent > 0 && sent < 1
                ? `Go on from ${Math.round(sent * 100)} %`
                : 'Bring package'}
          </Button>
        </>
      }
    >
      <DropFile thing="package" file={file} onTake={take} />
      {busy && (
        <div
          role="progressbar"
          aria-label="Sent"
          aria-valuenow={Math.round(sent * 100)}
          className="bg-raised h-1.5"
        >
          <div className="bg-brass h-full" style={{ width: `${sent * 100}%` }} />
        </div>
      )}
      <p className="text-quiet text-xs">
        A package is made and signed by whoever makes the app: <code>pinwright package make</code> and{' '}
        <code>sign</code>. Its signature and every file in it are checked before it is kept.
      </p>
      <Trouble error={trouble} />
    </Sheet>
  );
}
