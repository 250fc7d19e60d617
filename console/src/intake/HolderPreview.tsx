import { useQuery } from '@tanstack/react-query';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { useCalm } from '../ui/calm';
import { Button, Trouble } from '../ui/parts';

type Draft = Schemas['EnrollmentProfileDraft'];

const steps: Record<string, string> = {
  code: 'the code',
  offer: 'what is seen',
  'sign-in': 'sign-in',
  terms: 'terms',
  approval: 'approval',
  'first-run': 'first run',
  gate: 'ready gate',
  home: 'first use',
};

/**
 * What a holder goes through, screen by screen, as the profile stands now; from the first screen of
 * a step on, where one is given.
 */
export function HolderPreview({ draft, from }: { draft: Draft; from?: string }) {
  const catalogue = useCatalogue();
  const calm = useCalm(draft);
  const choices =
    catalogue.data?.platforms.filter(
      (p) => p.modes.includes(draft.mode!) && (!draft.platforms?.length || draft.platforms.includes(p.key)),
    ) ?? [];
  const [wanted, setWanted] = useState('');
  const platform = choices.find((p) => p.key === wanted) ?? choices[0];
  const [at, setAt] = useState(0);
  const screens = useQuery({
    queryKey: ['holder-preview', platform?.key, calm],
    enabled: platform !== undefined,
    placeholderData: (before) => before,
    retry: false,
    queryFn: () =>
      answer(
        api.POST('/enrollment-profiles/holder-preview', {
          params: { query: { platform: platform!.key } },
          body: { ...calm, name: calm.name || 'New' },
        }),
      ),
  });
  const all = screens.data ?? [];
  const first = from === undefined ? 0 : all.findIndex((s) => s.kind === from);
  const [shownFrom, setShownFrom] = useState<string>();
  if (all.length > 0 && shownFrom !== from) {
    setShownFrom(from);
    setAt(Math.max(0, first));
  }
  const here = Math.min(at, Math.max(0, all.length - 1));
  const screen = all[here];
  return (
    <section aria-label="What the holder sees" className="flex w-72 shrink-0 flex-col gap-3">
      <div className="flex items-center justify-between gap-2">
        <h3 className="label">What the holder sees</h3>
        <select
          aria-label="Platform"
          className="field w-auto"
          value={platform?.key ?? ''}
          onChange={(e) => setWanted(e.target.value)}
        >
          {choices.map((p) => (
            <option key={p.key} value={p.key}>
              on {p.name}
            </option>
          ))}
        </select>
      </div>
      <div className="bg-ink dark:bg-raised rounded-[22px] p-2.5">
        <div
          className="bg-paper flex h-96 flex-col gap-2 overflow-y-auto rounded-[14px] p-5"
          aria-live="polite"
        >
          {screen && (
            <>
              <h4 className="text-lg leading-6 font-semibold">{screen.title}</h4>
              <p className="text-sm whitespace-pre-line">{screen.text}</p>
              <ul className="text-quiet space-y-0.5 text-xs">
                {screen.lines.map((l) => (
                  <li key={l}>{l}</li>
                ))}
              </ul>
            </>
          )}
        </div>
      </div>
      <div className="flex items-center justify-between">
        <Button aria-label="Screen before" disabled={here === 0} onClick={() => setAt(here - 1)}>
          <ChevronLeft className="size-4" />
        </Button>
        <span className="text-quiet text-xs">
          {here + 1} of {all.length}
          {screen && `: ${steps[screen.kind]}`}
        </span>
        <Button aria-label="Next screen" disabled={here >= all.length - 1} onClick={() => setAt(here + 1)}>
          <ChevronRight className="size-4" />
        </Button>
      </div>
      <Trouble error={screens.error} />
    </section>
  );
}
