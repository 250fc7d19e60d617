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
    'wipes',
    'units',
    'sequences',
    'roster',
    'apps',
  ],
  apps: ['apps'],
  groups: ['groups'],
  checks: ['checks', 'device'],
  units: ['units'],
  attributes: ['attributes'],
  sites: ['sites', 'map'],
  people: ['people'],
  roster: ['roster'],
  'roster-imports': ['roster-import'],
  arrivals: ['arrivals', 'invitations', 'fleet'],
  invitations: ['invitations'],
  gateways: ['gateways', 'set-up', 'mail', 'directory'],
  notices: ['notices'],
  bench: ['bench'],
  'enrollment-profiles': ['enrollment-profiles', 'terms'],
  profiles: ['profiles', 'profile', 'files'],
  files: ['files'],
  proposals: ['proposals'],
  thresholds: ['thresholds'],
  changes: ['changes'],
  dispatches: ['dispatches', 'device', 'wipes', 'assists'],
  assists: ['assists'],
  screenshots: ['device', 'dispatches'],
  wipes: ['wipes', 'device'],
  'standing-orders': ['standing-orders'],
  'message-templates': ['message-templates'],
  cases: ['cases', 'device'],
  journal: ['journal'],
};

/**
 * Keeps every list on the page true for as long as it is looked at; returns how to stop. A browser has
 * room for six such lines to a host, so a tab that is not looked at lets go of its own; the service says
 * that everything may have changed to whoever connects.
 */
export function live(queries: QueryClient): () => void {
  let source: EventSource | undefined;
  const changed = (event: Event) => {
    const topics = String((event as MessageEvent).data).split(',');
    if (topics.includes('everything')) {
      void queries.invalidateQueries();
      return;
    }
    const keys = new Set(topics.flatMap((topic) => stale[topic] ?? []));
    keys.forEach((key) => void queries.invalidateQueries({ queryKey: [key] }));
  };
  const close = () => {
    source?.close();
    source = undefined;
  };
  const look = () => {
    if (document.visibilityState === 'hidden') {
      close();
    } else if (!source) {
      source = new EventSource('/api/v1/events');
      source.addEventListener('changed', changed);
    }
  };
  look();
  document.addEventListener('visibilitychange', look);
  window.addEventListener('pagehide', close);
  window.addEventListener('pageshow', look);
  return () => {
    document.removeEventListener('visibilitychange', look);
    window.removeEventListener('pagehide', close);
    window.removeEventListener('pageshow', look);
    close();
  };
}
