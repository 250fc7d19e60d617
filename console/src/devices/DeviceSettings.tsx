import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { Empty, Trouble } from '../ui/parts';

/** Settings in effect, each with where it comes from. */
export function InEffect({ id }: { id: string }) {
  const settings = useQuery({
    queryKey: ['device', id, 'settings'],
    queryFn: () => answer(api.GET('/devices/{id}/settings', { params: { path: { id } } })),
  });
  if (!settings.data) {
    return <Trouble error={settings.error} />;
  }
  if (settings.data.inEffect.length + settings.data.unavailable.length === 0) {
    return (
      <Empty title="No profile reaches this device.">
        Assign one to it, to one of its groups or tags, or to everyone.
      </Empty>
    );
  }
  return (
    <ul className="text-sm">
      {settings.data.inEffect.map((s) => (
        <li key={s.setting} className="border-line/60 border-b py-2">
          <div className="flex justify-between gap-4">
            <span className="shrink-0">{s.title}</span>
            <span
              className={`min-w-0 text-right font-semibold break-words ${s.refused ? 'text-rust line-through' : ''}`}
            >
              {s.words}
            </span>
          </div>
          <div className="text-quiet text-xs">
            from{' '}
            {s.from.map((f, i) => (
              <span key={f.profileId}>
                {i > 0 && ', '}
                <Link className="underline" to={`/rules/profiles/${f.profileId}`}>
                  {f.profile}
                </Link>{' '}
                v{f.version}
              </span>
            ))}
            {s.overruled.map((o) => (
              <span key={o.from.profileId} className="block">
                over {o.from.profile} ({o.words}): {o.reason}
              </span>
            ))}
            {s.refused && <span className="text-rust block">refused: {s.refused}</span>}
          </div>
        </li>
      ))}
      {settings.data.unavailable.map((u) => (
        <li key={u.setting + u.from.profileId} className="border-line/60 text-quiet border-b py-2">
          <div className="flex justify-between gap-4">
            <span>{u.title}</span>
            <span>cannot</span>
          </div>
          <div className="text-xs">
            {u.from.profile} asks for it, but it {u.reason}
          </div>
        </li>
      ))}
    </ul>
  );
}
