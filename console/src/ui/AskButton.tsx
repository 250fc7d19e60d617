import { type ReactNode, useState } from 'react';
import { Sheet } from './Dialog';
import { Button, Trouble } from './parts';

/** A button for what cannot be taken back: it asks first, saying what goes. */
export function AskButton(props: {
  /** The verb and what it is done to, such as "Delete Norhaven quay". */
  doing: string;
  /** What goes with it. */
  children?: ReactNode;
  label?: string;
  busy?: boolean;
  className?: string;
  weight?: 'danger' | 'bare';
  /** Whether it may go on; what it shows may ask for something. */
  ready?: boolean;
  trouble?: unknown;
  onYes: () => void | Promise<unknown>;
}) {
  const [asking, setAsking] = useState(false);
  const verb = props.label ?? props.doing.split(' ')[0];
  return (
    <>
      <Button
        weight={props.weight ?? 'danger'}
        className={props.className}
        disabled={props.busy}
        onClick={() => setAsking(true)}
      >
        {verb}
      </Button>
      {asking && (
        <Sheet
          title={`${props.doing}?`}
          onClose={() => setAsking(false)}
          actions={
            <>
              <Button onClick={() => setAsking(false)}>Keep it</Button>
              <Button
                weight="danger"
                disabled={props.busy || props.ready === false}
                onClick={() => void Promise.resolve(props.onYes()).then(() => setAsking(false))}
              >
                Yes, {verb.charAt(0).toLowerCase() + verb.slice(1)}
              </Button>
            </>
          }
        >
          <div className="space-y-3 text-sm">{props.children ?? <p>This cannot be taken back.</p>}</div>
          <Trouble error={props.trouble} />
        </Sheet>
      )}
    </>
  );
}
