import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { answer, api, ProblemError } from '../api/client';
import { Asked, type Filters, usePart } from '../ui/filters';
import { Button, counted, Labelled } from '../ui/parts';

/** Where a rule stops being one: the text with a mark below the place. */
function Fault({ rule, problem }: { rule: string; problem: ProblemError }) {
  const column = Number(problem.problem.column ?? 1);
  const from = Math.max(0, column - 34);
  return (
    <div className="text-rust text-xs" role="alert">
      <pre aria-hidden className="overflow-hidden font-mono leading-4">
        {rule.slice(from, from + 68).replace(/\s/g, ' ')}
        {`\n${' '.repeat(column - 1 - from)}^`}
      </pre>
      {problem.message}
    </div>
  );
}

/** Filters by a rule in words; how many devices it finds, or what is wrong with it, while typing. */
export function RuleFilter({ filters }: { filters: Filters<'rule'> }) {
  const part = usePart();
  const { rule } = filters.asked;
  const [typed, setTyped] = useState(rule);
  const asked = useDeferredValue(typed.trim());
  const found = useQuery({
    queryKey: ['devices', 'count', 'rule', asked],
    enabled: part === 'choices' && asked !== '',
    retry: false,
    queryFn: () => answer(api.GET('/devices/count', { params: { query: { rule: asked } } })),
  });
  if (part === 'words' || (part === 'asked' && !rule)) {
    return null;
  }
  if (part === 'asked') {
    return <Asked onForget={() => filters.set('rule', undefined)}>{rule}</Asked>;
  }
  const problem = found.error instanceof ProblemError ? found.error : undefined;
  return (
    <form
      className="col-span-full space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        filters.set('rule', typed.trim());
      }}
    >
      <Labelled label="Rule" hint="Such as: os < 7.1 and unit in VM-GLA and not tag has spare">
        <textarea
          className="field font-mono text-xs"
          rows={2}
          spellCheck={false}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && !e.shiftKey) {
              e.preventDefault();
              e.currentTarget.form?.requestSubmit();
            }
          }}
        />
      </Labelled>
      {asked !== '' && problem && <Fault rule={asked} problem={problem} />}
      <Button type="submit" disabled={typed.trim() === rule || problem !== undefined}>
        {asked !== '' && found.data ? `Show ${counted(found.data.count, 'device')}` : 'Show'}
      </Button>
    </form>
  );
}
