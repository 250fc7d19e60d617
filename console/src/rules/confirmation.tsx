import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, Labelled, Trouble } from '../ui/parts';

/** What a rehearsal asks for before it may be done. */
type Asks = Partial<Pick<Schemas['Rehearsal'], 'confirmDevices' | 'reasonWanted' | 'secondWanted'>>;

export interface Confirmation {
  /** Whether all that is asked for was given, so that it may be done. */
  ready: boolean;
  /** Whether somebody else has to agree, so that it can only be proposed. */
  second: boolean;
  /** What was given, as calls take it. */
  given: { confirmDevices?: number; reason?: string };
  /** Where it is given. */
  fields: ReactNode;
}

/**
 * What has to be given before devices are changed: the number, a reason; and where a second person
 * has to agree, a word to them.
 *
 * @param doing what it is given for, such as "move it"
 */
export function useConfirmation(of: Asks | undefined, doing: string): Confirmation {
  const [typed, setTyped] = useState('');
  const [reason, setReason] = useState('');
  const number = of?.confirmDevices;
  const second = of?.secondWanted ?? false;
  const numbered = number === undefined || Number(typed) === number;
  return {
    ready: of !== undefined && !second && numbered && (!of.reasonWanted || reason.trim() !== ''),
    second,
    given: {
      confirmDevices: typed && numbered ? Number(typed) : undefined,
      reason: reason.trim() || undefined,
    },
    fields: (
      <>
        {!second && number !== undefined && (
          <Labelled label={`Type ${number}, the number of devices that change, to ${doing}`}>
            <input className="field w-32" value={typed} onChange={(e) => setTyped(e.target.value)} />
          </Labelled>
        )}
        {(second || of?.reasonWanted) && (
          <Labelled
            label={second ? 'A word to whoever agrees' : 'Why'}
            hint={
              second
                ? 'This is done only once somebody else has agreed. They see what it would do.'
                : 'It is kept with the change and in the journal.'
            }
          >
            <input
              className="field"
              maxLength={300}
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
          </Labelled>
        )}
      </>
    ),
  };
}

/** The button that hands something to a second person, and where it went. */
export function ProposeButton({
  intent,
  confirmation,
  weight,
  disabled,
}: {
  intent: Schemas['Intent'];
  confirmation: Confirmation;
  weight?: 'main';
  disabled?: boolean;
}) {
  const { act, trouble, busy } = useAct('proposals', 'notices');
  const [made, setMade] = useState<Schemas['ProposalDetail']>();
  if (made) {
    return (
      <span className="self-center text-sm">
        Proposed.{' '}
        <Link className="text-brass underline" to={`/rules/proposals?card=${made.proposal.id}`}>
          Follow it
        </Link>
      </span>
    );
  }
  return (
    <>
      <Trouble error={trouble} />
      <Button
        weight={weight}
        disabled={busy || disabled}
        onClick={() =>
          void act(
            () => answer(api.POST('/proposals', { body: { intent, note: confirmation.given.reason } })),
            setMade,
          )
        }
      >
        Ask a second person
      </Button>
    </>
  );
}
