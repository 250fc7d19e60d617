import { useState } from 'react';
import { Asked, type Filters, usePart } from '../ui/filters';
import { Button, counted } from '../ui/parts';
import { useReading } from './rule';
import { RuleField } from './RuleField';

/** Filters by a rule; how many devices it finds, or what is wrong with it, while typing. */
export function RuleFilter({ filters }: { filters: Filters<'rule'> }) {
  const part = usePart();
  const { rule } = filters.asked;
  const [typed, setTyped] = useState(rule);
  const reading = useReading(part === 'choices' ? typed : '').data;
  if (part === 'words' || (part === 'asked' && !rule)) {
    return null;
  }
  if (part === 'asked') {
    return <Asked onForget={() => filters.set('rule', undefined)}>{rule}</Asked>;
  }
  const show = () => filters.set('rule', typed.trim());
  return (
    <form
      className="col-span-full space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        show();
      }}
    >
      <RuleField value={typed} onChange={setTyped} onSubmit={show} />
      <Button
        type="submit"
        disabled={typed.trim() === rule || (typed.trim() !== '' && reading?.fault !== undefined)}
      >
        {typed.trim() !== '' && reading?.devices !== undefined
          ? `Show ${counted(reading.devices, 'device')}`
          : 'Show'}
      </Button>
    </form>
  );
}
