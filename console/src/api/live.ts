import type { QueryClient } from '@tanstack/react-query';

/** Which queries each topic of the server's live events makes stale. */
const stale: Record<string, string[]> = {
  devices: [
    'bench',
    'devices',
    'device',
    'fleet',
    'changes',
    'tags',
    'dispatches',
    'units',
    'sequences',
    'roster',
  ],
  groups: ['groups'],
  units: ['units'],
  attributes: ['attributes'],
  sites: ['sites'],
  people: ['people'],
  roster: ['roster'],
  'roster-imports': ['roster-import'],
  arrivals: ['arrivals', 'invitations', 'fleet'],
  invitations: ['invitations'],
  gateways: ['gateways', 'set-up', 'mail', 'directory'],
  notices: ['notices'],
  bench: ['bench'],
  'enrollment-profiles': ['enrollment-profiles', 'terms'],
  profiles: ['profiles', 'profile'],
  changes: ['changes'],
  dispatches: ['dispatches', 'device'],
  journal: ['journal'],
};

/** Keeps every list on the page true for as long as it is open; returns how to stop. */
export function live(queries: QueryClient): () => void {
  const source = new EventSource('/api/v1/events');
  source.addEventListener('changed', (event) => {
    const topics = String((event as MessageEvent).data).split(',');
    if (topics.includes('everything')) {
      void queries.invalidateQueries();
      return;
    }
    const keys = new Set(topics.flatMap((topic) => stale[topic] ?? []));
    keys.forEach((key) => void queries.invalidateQueries({ queryKey: [key] }));
  });
  return () => source.close();
}
