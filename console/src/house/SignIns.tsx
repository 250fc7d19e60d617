import { useQuery } from '@tanstack/react-query';
import { useAct } from '../api/act';
import { answer, api } from '../api/client';
import { moment } from '../ui/dates';
import { Button, Moment, Trouble } from '../ui/parts';

/** Where an account is signed in; one's own without an id. */
export function SignIns({ account }: { account?: string }) {
  const key = ['sign-ins', account ?? 'mine'];
  const { act, trouble, busy } = useAct('sign-ins');
  const all = useQuery({
    queryKey: key,
    queryFn: () =>
      answer(
        account
          ? api.GET('/accounts/{id}/sign-ins', { params: { path: { id: account } } })
          : api.GET('/me/sign-ins'),
      ),
  });
  const end = (signIn: string) =>
    act(() =>
      answer(
        account
          ? api.DELETE('/accounts/{id}/sign-ins/{signIn}', { params: { path: { id: account, signIn } } })
          : api.DELETE('/me/sign-ins/{signIn}', { params: { path: { signIn } } }),
      ),
    );
  return (
    <section aria-label="Signed in">
      <h3 className="mb-1 text-sm font-semibold">Signed in</h3>
      {all.data?.length === 0 && <p className="text-quiet text-sm">Nowhere.</p>}
      <ul className="divide-line divide-y text-sm">
        {all.data?.map((s) => (
          <li key={s.id} className="flex items-center gap-3 py-2">
            <span className="flex-1">
              {s.label}
              <span className="text-quiet block text-xs">
                since <Moment at={s.createdAt} />, until {moment(s.expiresAt)}
              </span>
            </span>
            {s.here ? (
              <span className="text-quiet text-xs">here</span>
            ) : (
              <Button aria-label={`Sign out ${s.label}`} disabled={busy} onClick={() => void end(s.id)}>
                Sign out
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Trouble error={trouble ?? all.error} />
    </section>
  );
}
