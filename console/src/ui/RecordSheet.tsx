import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { useAct } from '../api/act';
import { Sheet } from './Dialog';
import { Button, Trouble } from './parts';

/** The sheet one record is made or changed on. */
export function RecordSheet(props: {
  title: string;
  /** What the record is in, such as "sites"; made stale by a change. */
  list: string;
  /** The button that keeps it. */
  keep: string;
  ready: boolean;
  save: () => Promise<unknown>;
  /** The button that deletes it, for records that are there already. */
  remove?: string;
  takeAway?: () => Promise<unknown>;
  onClose: () => void;
  children: ReactNode;
}) {
  const { act, trouble, busy } = useAct(props.list);
  const { takeAway, onClose } = props;
  return (
    <Sheet
      title={props.title}
      onClose={onClose}
      actions={
        <>
          {takeAway && (
            <Button
              weight="danger"
              className="mr-auto"
              disabled={busy}
              onClick={() => void act(takeAway, onClose)}
            >
              {props.remove}
            </Button>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" disabled={busy || !props.ready} onClick={() => void act(props.save, onClose)}>
            {props.keep}
          </Button>
        </>
      }
    >
      {props.children}
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** Shows a thing as soon as it has been read. */
export function Read<T>(props: {
  query: unknown[];
  load: () => Promise<T>;
  children: (thing: T) => ReactNode;
}) {
  const read = useQuery({ queryKey: props.query, queryFn: props.load });
  return read.data === undefined ? <Trouble error={read.error} /> : <>{props.children(read.data)}</>;
}

/** The header that says which version a change was made on. */
export const onVersion = (of: { version: number }) => ({ 'If-Match': `"${of.version}"` });
