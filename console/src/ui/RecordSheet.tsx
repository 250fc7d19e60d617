import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { useAct } from '../api/act';
import { Sheet } from './Dialog';
import { AskButton } from './AskButton';
import type { Draft } from './draft';
import { Button, Trouble } from './parts';
import { SavedMeanwhile } from './SavedMeanwhile';

/** The sheet one record is made or changed on. */
export function RecordSheet(props: {
  title: string;
  /** What the record is in, such as "sites"; made stale by a change. */
  list: string;
  /** The button that keeps it. */
  keep: string;
  wide?: boolean;
  ready: boolean;
  save: () => Promise<unknown>;
  /** The button that deletes it, for records that are there already. */
  remove?: string;
  takeAway?: () => Promise<unknown>;
  /** What goes with it when it is deleted. */
  goes?: ReactNode;
  /** Whether all that is asked for before it is deleted was given; it is where nothing is asked. */
  mayGo?: boolean;
  /** The draft of a record others may save too, what the journal calls it, and its fields. */
  draft?: Pick<Draft<Record<string, unknown>>, 'meanwhile' | 'version' | 'clashes' | 'settle'>;
  subject?: string;
  called?: Record<string, string>;
  say?: (value: unknown, field: string) => string;
  onClose: () => void;
  children: ReactNode;
}) {
  const { act, trouble, busy } = useAct(props.list);
  const { takeAway, onClose, draft } = props;
  return (
    <Sheet
      title={props.title}
      wide={props.wide}
      onClose={onClose}
      actions={
        <>
          {takeAway && (
            <AskButton
              doing={`${props.remove} ${props.title}`}
              label={props.remove}
              className="mr-auto"
              busy={busy}
              ready={props.mayGo}
              trouble={trouble}
              onYes={() => act(takeAway, onClose)}
            >
              {props.goes}
            </AskButton>
          )}
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !props.ready || (draft?.clashes.length ?? 0) > 0}
            onClick={() => void act(props.save, onClose)}
          >
            {props.keep}
          </Button>
        </>
      }
    >
      {draft && (
        <SavedMeanwhile
          draft={draft}
          subject={props.subject ?? ''}
          called={(f) => props.called?.[f] ?? f}
          say={props.say}
        />
      )}
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
