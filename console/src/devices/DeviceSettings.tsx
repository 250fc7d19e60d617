import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { TargetPicker } from '../rules/TargetPicker';
import { counted, Empty, Trouble } from '../ui/parts';

type Settings = Schemas['DeviceSettings'];

/** What would be others: by key, how each is now; and those that would be gone. */
function compared(now: Settings, then: Settings) {
  const before = new Map(now.inEffect.map((s) => [s.setting, s.words]));
  return {
    was: new Map(
      then.inEffect
        .filter((s) => before.get(s.setting) !== s.words)
        .map((s) => [s.setting, before.get(s.setting) ?? 'not set']),
    ),
    gone: now.inEffect.filter((s) => !then.inEffect.some((t) => t.setting === s.setting)),
  };
}

/** Settings in effect, each with where it comes from; or as they would be in other groups. */
export function InEffect({ id }: { id: string }) {
  const [groups, setGroups] = useState<Schemas['NamedTarget'][]>([]);
  const inGroup = groups.map((g) => g.ref);
  const now = useQuery({
    queryKey: ['device', id, 'settings'],
    queryFn: () => answer(api.GET('/devices/{id}/settings', { params: { path: { id } } })),
  });
  const then = useQuery({
    queryKey: ['device', id, 'settings', inGroup],
    enabled: inGroup.length > 0,
    gcTime: 0,
    queryFn: () =>
      answer(api.GET('/devices/{id}/settings', { params: { path: { id }, query: { inGroup } } })),
  });
  const what = now.data && inGroup.length > 0 && then.data ? compared(now.data, then.data) : undefined;
  return (
    <>
      <div className="mb-3">
        <TargetPicker
          label="What if it were in"
          none="no other group"
          value={groups}
          onChange={setGroups}
          everyone={false}
          kinds={['group']}
        />
      </div>
      {what && (
        <p className="bg-raised mb-2 rounded-[3px] px-3 py-2 text-sm" role="status">
          {what.was.size + what.gone.length === 0
            ? 'Nothing would be different.'
            : `${counted(what.was.size + what.gone.length, 'setting')} would be different:`}
          {what.gone.map((s) => (
            <span key={s.setting} className="text-rust block">
              {s.title}, now {s.words}, would be gone.
            </span>
          ))}
        </p>
      )}
      <Trouble error={then.error} />
      <List settings={inGroup.length > 0 ? then : now} was={what?.was} />
    </>
  );
}

function List({
  settings,
  was,
}: {
  settings: { data?: Settings; error: unknown };
  was?: Map<string, string>;
}) {
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
        <li
          key={s.setting}
          className={`border-line/60 border-b py-2 ${was?.has(s.setting) ? 'border-l-brass border-l-2 pl-3' : ''}`}
        >
          <div className="flex justify-between gap-4">
            <span className="shrink-0">{s.title}</span>
            <span
              className={`min-w-0 text-right font-semibold break-words ${s.refused ? 'text-rust line-through' : ''}`}
            >
              {s.words}
            </span>
          </div>
          <div className="text-quiet text-xs">
            {was?.has(s.setting) && <span className="text-ink block">now {was.get(s.setting)}</span>}
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
