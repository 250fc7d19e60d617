import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, Labelled, Trouble } from '../ui/parts';

const WORDS: Record<Schemas['MyApp']['state'], string> = {
  'as-wanted': 'on it',
  'on-shelf': '',
  missing: 'on its way',
  old: 'a newer one is on its way',
  'under-way': 'on its way',
  failing: 'does not come; whoever looks after it can see why',
  'not-assigned': '',
};

/** Apps for one's own device: those of its shelf to be taken, any other to be asked for. */
export function MyApps({ device }: { device: string }) {
  const { act, trouble, busy } = useAct('mine');
  const [words, setWords] = useState('');
  const [asked, setAsked] = useState(false);
  const apps = useQuery({
    queryKey: ['mine', 'apps', device],
    refetchInterval: 5_000,
    queryFn: () => answer(api.GET('/mine/devices/{id}/apps', { params: { path: { id: device } } })),
  });
  const ask = (body: Schemas['MyAppRequest'], then?: () => void) =>
    act(
      () => answer(api.POST('/mine/devices/{id}/app-requests', { params: { path: { id: device } }, body })),
      then,
    );
  return (
    <div className="space-y-3 text-sm">
      {apps.data?.items.length === 0 && (
        <p className="text-quiet">Your organisation has no apps for this device.</p>
      )}
      <ul>
        {apps.data?.items.map((a) => (
          <li
            key={a.packageId}
            className="border-line/60 flex min-h-9 items-center justify-between gap-3 border-b"
          >
            <span>{a.name}</span>
            {a.state === 'on-shelf' && !a.there ? (
              <Button
                aria-label={`Put ${a.name} on it`}
                disabled={busy}
                onClick={() => void ask({ app: a.packageId })}
              >
                Put it on
              </Button>
            ) : (
              <span className="text-quiet">{WORDS[a.state] || 'on it'}</span>
            )}
          </li>
        ))}
      </ul>
      {asked ? (
        <p role="status">Asked for. Whoever looks after devices has it before them.</p>
      ) : (
        <form
          className="flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void ask({ words }, () => {
              setAsked(true);
              setWords('');
            });
          }}
        >
          <div className="flex-1">
            <Labelled label="Another app: which, and what for">
              <input
                className="field"
                maxLength={300}
                value={words}
                onChange={(e) => setWords(e.target.value)}
              />
            </Labelled>
          </div>
          <Button type="submit" disabled={busy || !words.trim()}>
            Ask for it
          </Button>
        </form>
      )}
      <Trouble error={trouble ?? apps.error} />
    </div>
  );
}
