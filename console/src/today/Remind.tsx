import { useState } from 'react';
import { useCatalogue } from '../api/session';
import { OrderSheet } from '../devices/OrderSheet';
import { Button } from '../ui/parts';

const TEXT =
  'Please choose a new passcode on this device. The time you had for it is over; until then it cannot be used.';

/** Writes to the holders of all devices a rule finds. */
export function Remind({ rule, count, called }: { rule: string; count: number; called: string }) {
  const catalogue = useCatalogue();
  const [writing, setWriting] = useState(false);
  const message = catalogue.data?.commands.find((c) => c.key === 'message');
  return (
    <>
      <Button onClick={() => setWriting(true)} disabled={!message}>
        Remind their holders
      </Button>
      {writing && message && (
        <OrderSheet
          spec={message}
          whom={{ matching: { rule }, count }}
          called={called}
          given={{ text: TEXT }}
          onClose={() => setWriting(false)}
        />
      )}
    </>
  );
}
