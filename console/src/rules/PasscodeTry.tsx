import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { answer, api } from '../api/client';
import { Labelled, Trouble } from '../ui/parts';

/** How a question without a passcode begins. */
const NOTHING = '{"passcode":""';

/** A field to try passcodes in, judged as devices judge them; nothing of it is kept. */
export function PasscodeTry({ settings }: { settings: Record<string, unknown> }) {
  const [typed, setTyped] = useState('');
  const asked = useDeferredValue(
    JSON.stringify({
      passcode: typed,
      settings: Object.fromEntries(Object.entries(settings).filter(([k]) => k.startsWith('passcode.'))),
    }),
  );
  const judged = useQuery({
    queryKey: ['passcode-trial', asked],
    enabled: !asked.startsWith(NOTHING),
    gcTime: 0,
    retry: false,
    placeholderData: (before?: { objections: string[]; demand: string }) => before,
    queryFn: () =>
      answer(
        api.POST('/passcode-trial', {
          body: JSON.parse(asked) as { passcode: string; settings: Record<string, unknown> },
        }),
      ),
  });
  const said = typed === '' ? undefined : judged.data;
  return (
    <div className="bg-raised mt-2 flex flex-wrap items-start gap-6 rounded-[3px] px-4 py-3">
      <Labelled label="Try a passcode">
        <input
          className="field w-48!"
          autoComplete="off"
          spellCheck={false}
          placeholder="such as 135790"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
      </Labelled>
      <div className="min-h-12 flex-1 pt-6 text-sm" role="status" aria-label="What devices would say">
        {said?.objections.length === 0 && <span className="text-moss">✓ Devices take it.</span>}
        {said?.objections.map((o) => (
          <p key={o} className="text-rust">
            ✕ {o}
          </p>
        ))}
        {typed !== '' && <Trouble error={judged.error} />}
      </div>
    </div>
  );
}
