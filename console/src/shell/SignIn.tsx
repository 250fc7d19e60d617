import { useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { answer, api } from '../api/client';
import { Button, Labelled, Trouble } from '../ui/parts';
import { Mark } from './Mark';

/** The sign-in page; small, since it is the first that is fetched. */
export function SignIn() {
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState<unknown>();
  const [missing, setMissing] = useState({ login: false, password: false });
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const typed = new FormData(event.currentTarget);
    const body = { login: String(typed.get('login')), password: String(typed.get('password')) };
    setMissing({ login: !body.login, password: !body.password });
    if (!body.login || !body.password) {
      return;
    }
    setBusy(true);
    try {
      await answer(api.POST('/sign-in', { body }));
      await queries.invalidateQueries();
    } catch (e) {
      setTrouble(e);
    } finally {
      setBusy(false);
    }
  };
  return (
    <main className="grid h-full place-items-center p-6">
      <form
        onSubmit={(e) => void submit(e)}
        noValidate
        className="frame w-full max-w-sm space-y-4 rounded-[3px] p-8"
      >
        <div className="flex items-center gap-3">
          <Mark />
          <h1 className="text-xl font-semibold">Pinwright</h1>
        </div>
        <Labelled label="Login" error={missing.login ? 'Type your login.' : undefined}>
          <input name="login" className="field" autoComplete="username" autoFocus />
        </Labelled>
        <Labelled label="Password" error={missing.password ? 'Type your password.' : undefined}>
          <input name="password" type="password" className="field" autoComplete="current-password" />
        </Labelled>
        <Trouble error={trouble} />
        <Button type="submit" weight="main" disabled={busy} className="w-full justify-center">
          Sign in
        </Button>
        <p className="text-quiet text-xs">
          The first owner's password is printed when the service first starts.
        </p>
      </form>
    </main>
  );
}
