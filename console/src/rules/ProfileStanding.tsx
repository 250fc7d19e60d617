import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { counted } from '../ui/parts';
import { Standing } from '../ui/Standing';

/** Who has a published profile, who waits for it, and what devices refused of it. */
export function ProfileStanding({ profile }: { profile: Schemas['Profile'] }) {
  const standing = useQuery({
    queryKey: ['devices', 'of-profile', profile.id, profile.publishedVersion],
    enabled: profile.publishedVersion !== undefined,
    queryFn: () => answer(api.GET('/profiles/{id}/standing', { params: { path: { id: profile.id } } })),
  });
  const s = standing.data;
  if (!s) {
    return null;
  }
  const all = Object.values(s.standings).reduce((a, b) => a + b, 0);
  return (
    <section className="text-sm" aria-label="Who has it">
      <p className="flex flex-wrap items-center gap-x-5 gap-y-1">
        {s.inForce ? (
          <Link className="text-brass underline" to={`/devices?profile=${profile.id}`}>
            {counted(all, 'device')}
          </Link>
        ) : (
          <span className="text-quiet">It goes to nobody now.</span>
        )}
        {Object.entries(s.standings).map(([word, n]) => (
          <Link key={word} className="hover:underline" to={`/devices?profile=${profile.id}&standing=${word}`}>
            <Standing of={word} /> <b>{n}</b>
          </Link>
        ))}
      </p>
      {s.withheld.map((w) => (
        <p key={w.setting + w.reason} className="text-quiet mt-1">
          {counted(w.devices, 'device')} refused {w.title}: it {w.reason}.
        </p>
      ))}
    </section>
  );
}
