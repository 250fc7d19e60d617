import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { useAct } from '../api/act';
import { answer, api } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Button, Trouble } from '../ui/parts';

/** The sane baseline, explained before it is written and rehearsed. */
export function BaselineSheet({ onClose }: { onClose: () => void }) {
  const go = useNavigate();
  const { act, trouble, busy } = useAct('profiles');
  const baseline = useQuery({ queryKey: ['baseline'], queryFn: () => answer(api.GET('/baseline')) });
  const b = baseline.data;
  return (
    <Sheet
      wide
      title="The baseline: a sane start for everyone"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          {b && !b.profileId && (
            <Button
              weight="main"
              disabled={busy}
              onClick={() =>
                void act(
                  () => answer(api.POST('/baseline')),
                  (made) => go(`/rules/profiles/${made.id}?rehearse=1`),
                )
              }
            >
              Write it and rehearse
            </Button>
          )}
        </>
      }
    >
      <p className="text-sm">
        Passcode and encryption on every device, apps from approved sources only. Nothing changes on any
        device before you have seen the rehearsal and published.
      </p>
      <table className="w-full text-sm">
        <tbody>
          {b?.settings.map((s) => (
            <tr key={s.setting} className="border-line/60 border-b align-top">
              <td className="py-1.5 pr-4 font-semibold whitespace-nowrap">{s.title}</td>
              <td className="py-1.5 pr-4">{s.value === true ? 'on' : String(s.value)}</td>
              <td className="text-quiet py-1.5">{s.help}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {b?.profileId && (
        <p className="border-moss border-l-2 pl-3 text-sm">
          You have it already, as{' '}
          <Link className="text-brass underline" to={`/rules/profiles/${b.profileId}`}>
            the profile {b.name}
          </Link>
          .
        </p>
      )}
      <Trouble error={trouble ?? baseline.error} />
    </Sheet>
  );
}
