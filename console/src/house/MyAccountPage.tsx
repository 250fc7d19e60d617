import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Button, Heading, Labelled, Trouble } from '../ui/parts';
import { roles } from './roles';
import { SignIns } from './SignIns';

/** One's own account: its password and where one is signed in. */
export function MyAccountPage({ me }: { me: Schemas['Me'] }) {
  const { act, trouble, busy } = useAct('sign-ins');
  const [soFar, setSoFar] = useState('');
  const [password, setPassword] = useState('');
  const [done, setDone] = useState(false);
  const change = () =>
    act(
      () => answer(api.PUT('/me/password', { body: { soFar, password } })),
      () => {
        setSoFar('');
        setPassword('');
        setDone(true);
      },
    );
  return (
    <section className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <Heading
        title={me.account.name}
        note={`signs in as ${me.account.login}; ${me.account.role}: ${roles[me.account.role]}`}
      />
      <div className="grid max-w-4xl gap-10 px-5 py-4 md:grid-cols-2">
        <form
          className="flex flex-col gap-4"
          onSubmit={(e) => {
            e.preventDefault();
            void change();
          }}
        >
          <h3 className="text-sm font-semibold">Password</h3>
          <Labelled label="Password so far">
            <input
              className="field"
              type="password"
              autoComplete="current-password"
              value={soFar}
              onChange={(e) => setSoFar(e.target.value)}
            />
          </Labelled>
          <Labelled label="New password" hint="At least 12 characters. Elsewhere you are signed out.">
            <input
              className="field"
              type="password"
              autoComplete="new-password"
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </Labelled>
          <Trouble error={trouble} />
          <div className="flex items-center gap-3">
            <Button weight="main" type="submit" disabled={busy || !soFar || !password}>
              Change password
            </Button>
            {done && (
              <span role="status" className="text-sm">
                Your password is changed.
              </span>
            )}
          </div>
        </form>
        <SignIns />
      </div>
    </section>
  );
}
