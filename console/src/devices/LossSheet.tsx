import { useState, type ReactNode } from 'react';
import { fromField } from '../ui/dates';
import { Sheet } from '../ui/Dialog';
import { Button, Labelled, Trouble } from '../ui/parts';

/** What is said when a device is reported lost. */
export interface Loss {
  what: string;
  phone?: string;
  lostAt?: string;
}

/** The sheet in which a device is reported lost, by whoever does. */
export function LossSheet({
  device,
  note,
  busy,
  trouble,
  onReport,
  onClose,
  children,
}: {
  device: string;
  note: string;
  busy: boolean;
  trouble: unknown;
  onReport: (loss: Loss) => void;
  onClose: () => void;
  children?: ReactNode;
}) {
  const [what, setWhat] = useState('');
  const [phone, setPhone] = useState('');
  const [lostAt, setLostAt] = useState('');
  return (
    <Sheet
      title={`${device} is lost`}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !what.trim()}
            onClick={() => onReport({ what, phone: phone || undefined, lostAt: fromField(lostAt) })}
          >
            Report it and lock it
          </Button>
        </>
      }
    >
      <p className="text-quiet text-sm">{note}</p>
      <Labelled label="What happened">
        <textarea
          className="field h-20 py-1"
          maxLength={2000}
          value={what}
          onChange={(e) => setWhat(e.target.value)}
        />
      </Labelled>
      <Labelled label="Missing since (if you know)" hint="In your own time.">
        <input
          type="datetime-local"
          className="field w-56"
          value={lostAt}
          onChange={(e) => setLostAt(e.target.value)}
        />
      </Labelled>
      <Labelled label="Number to call, on its lock screen (if you like)">
        <input
          className="field w-56"
          maxLength={40}
          value={phone}
          onChange={(e) => setPhone(e.target.value)}
        />
      </Labelled>
      {children}
      <Trouble error={trouble} />
    </Sheet>
  );
}
