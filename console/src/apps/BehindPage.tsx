import { useQuery } from '@tanstack/react-query';
import { RotateCw } from 'lucide-react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useNarrow } from '../ui/narrow';
import { Button, counted, Empty, Heading, Trouble } from '../ui/parts';
import { AppMark } from './AppMark';

type Behind = Schemas['AppBehind'];

const PARTS: { key: 'missing' | 'old' | 'underWay' | 'failing'; word: string; colour: string }[] = [
  { key: 'missing', word: 'missing', colour: 'bg-slate' },
  { key: 'old', word: 'another version', colour: 'bg-amber' },
  { key: 'underWay', word: 'on its way', colour: 'bg-brass' },
  { key: 'failing', word: 'failing', colour: 'bg-rust' },
];

/** How many of those that should have it do, as a strip. */
function Strip({ app: a }: { app: Behind }) {
  const lack = a.missing + a.old;
  return (
    <div
      className="bg-raised flex h-2 w-full gap-px"
      role="img"
      aria-label={`${a.devices - lack} of ${a.devices} as they should be`}
    >
      {a.devices > lack && <div className="bg-moss" style={{ flexGrow: a.devices - lack, flexBasis: 0 }} />}
      {a.old > 0 && <div className="bg-amber" style={{ flexGrow: a.old, flexBasis: 0 }} />}
      {a.missing > 0 && <div className="bg-slate" style={{ flexGrow: a.missing, flexBasis: 0 }} />}
    </div>
  );
}

function Name({ app: a }: { app: Behind }) {
  return (
    <Link className="flex items-center gap-2 hover:underline" to={`/apps/catalogue?card=${a.id}`}>
      <AppMark app={a} />
      {a.name}
    </Link>
  );
}

function Count({ n, colour }: { n: number; colour: string }) {
  return (
    <span className="inline-flex items-center gap-1.5 tabular-nums">
      <span className={`size-2 ${colour}`} aria-hidden />
      {n}
    </span>
  );
}

/** Apps that are required and that some devices do not have as they should. */
export function BehindPage() {
  const narrow = useNarrow();
  const { act, trouble, busy } = useAct('apps');
  const behind = useQuery({
    queryKey: ['apps', 'behind'],
    queryFn: () => answer(api.GET('/apps/behind')),
  });
  const push = (ids: string[]) =>
    void act(async () => {
      for (const id of ids) {
        await answer(api.POST('/apps/{id}/push', { params: { path: { id } }, body: {} }));
      }
    });
  const apps = behind.data?.items ?? [];
  return (
    <div className="min-h-0 flex-1 overflow-y-auto">
      <Heading title="Updates" note="required apps that some devices lack, or have in another version">
        {apps.length > 1 && (
          <Button disabled={busy} onClick={() => push(apps.map((a) => a.id))}>
            <RotateCw className="size-4" /> Push all of them now
          </Button>
        )}
      </Heading>
      <Trouble error={trouble ?? behind.error} />
      {behind.data && apps.length === 0 && (
        <Empty title="Every device has what it should.">
          Apps appear here as soon as a device lacks one that is required, or has another version of it.
        </Empty>
      )}
      {narrow && (
        <ul>
          {apps.map((a) => (
            <li key={a.id} className="border-line/60 space-y-2 border-b px-4 py-3 text-sm">
              <div className="flex items-center gap-2">
                <Name app={a} />
                <Button
                  className="ml-auto"
                  disabled={busy}
                  aria-label={`Push ${a.name} now`}
                  onClick={() => push([a.id])}
                >
                  Push now
                </Button>
              </div>
              <Strip app={a} />
              <p className="text-quiet flex flex-wrap gap-x-4 text-xs">
                <span>{counted(a.devices, 'device')}</span>
                {PARTS.filter((p) => a[p.key] > 0).map((p) => (
                  <span key={p.key}>
                    <Count n={a[p.key]} colour={p.colour} /> {p.word}
                  </span>
                ))}
              </p>
            </li>
          ))}
        </ul>
      )}
      {!narrow && apps.length > 0 && (
        <table className="w-full text-sm">
          <thead>
            <tr className="border-line border-b text-left">
              <th className="label px-6 py-2">App</th>
              <th className="label w-64 px-2">Should have it</th>
              {PARTS.map((p) => (
                <th key={p.key} className="label w-32 px-2 text-right">
                  {p.word}
                </th>
              ))}
              <th className="w-32 px-6" />
            </tr>
          </thead>
          <tbody>
            {apps.map((a) => (
              <tr key={a.id} className="border-line/60 border-b">
                <td className="px-6 py-2">
                  <Name app={a} />
                </td>
                <td className="px-2">
                  <span className="flex items-center gap-3">
                    <Strip app={a} />
                    <span className="text-quiet text-xs whitespace-nowrap">
                      {counted(a.devices, 'device')}
                    </span>
                  </span>
                </td>
                {PARTS.map((p) => (
                  <td key={p.key} className="px-2 text-right tabular-nums">
                    {a[p.key] > 0 && <Count n={a[p.key]} colour={p.colour} />}
                  </td>
                ))}
                <td className="px-6 text-right">
                  <Button disabled={busy} aria-label={`Push ${a.name} now`} onClick={() => push([a.id])}>
                    Push now
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
