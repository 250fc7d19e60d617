import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { ListPage } from '../ui/ListPage';
import { useDraft } from '../ui/draft';
import { Button, Labelled, Moment, Trouble } from '../ui/parts';
import { onVersion, Read, RecordSheet } from '../ui/RecordSheet';
import { roles } from './roles';
import { SignIns } from './SignIns';

type Account = Schemas['Account'];

const columns: ColumnDef<Account>[] = [
  { id: 'name', header: 'Name', size: 190, accessorFn: (a) => a.name },
  { id: 'login', header: 'Login', size: 160, accessorFn: (a) => a.login },
  { id: 'role', header: 'Role', size: 120, accessorFn: (a) => a.role },
  { id: 'state', header: 'State', size: 100, accessorFn: (a) => (a.disabled ? 'disabled' : '') },
  { id: 'may', header: 'May', size: 340, accessorFn: (a) => roles[a.role] },
  {
    id: 'made',
    header: 'Made',
    size: 120,
    accessorFn: (a) => a.createdAt,
    cell: ({ row }) => <Moment at={row.original.createdAt} />,
  },
];

function Make({ onClose }: { onClose: () => void }) {
  const { act, trouble, busy } = useAct('accounts');
  const [draft, setDraft] = useState({ login: '', name: '', role: 'operator', password: '' });
  const set = (change: Partial<typeof draft>) => setDraft({ ...draft, ...change });
  const whole = draft.login.trim() && draft.name.trim() && draft.password;
  return (
    <Sheet
      title="Make an account"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy || !whole}
            onClick={() => void act(() => answer(api.POST('/accounts', { body: draft })), onClose)}
          >
            Make account
          </Button>
        </>
      }
    >
      <Labelled label="Name">
        <input className="field" value={draft.name} onChange={(e) => set({ name: e.target.value })} />
      </Labelled>
      <Labelled label="Login" hint="What they sign in with.">
        <input
          className="field"
          autoComplete="off"
          value={draft.login}
          onChange={(e) => set({ login: e.target.value })}
        />
      </Labelled>
      <Role value={draft.role} onChange={(role) => set({ role })} />
      <Labelled label="First password" hint="At least 12 characters; hand it over in person.">
        <input
          className="field"
          type="password"
          autoComplete="new-password"
          value={draft.password}
          onChange={(e) => set({ password: e.target.value })}
        />
      </Labelled>
      <Trouble error={trouble} />
    </Sheet>
  );
}

function Role({ value, onChange }: { value: string; onChange: (role: string) => void }) {
  return (
    <Labelled label="Role" hint={roles[value]}>
      <select className="field" value={value} onChange={(e) => onChange(e.target.value)}>
        {Object.keys(roles).map((r) => (
          <option key={r}>{r}</option>
        ))}
      </select>
    </Labelled>
  );
}

function NewPassword({ account }: { account: Account }) {
  const { act, trouble, busy } = useAct('accounts', 'sign-ins');
  const [password, setPassword] = useState('');
  const [done, setDone] = useState(false);
  const path = { id: account.id };
  const reset = () =>
    act(
      () => answer(api.PUT('/accounts/{id}/password', { params: { path }, body: { password } })),
      () => {
        setPassword('');
        setDone(true);
      },
    );
  return (
    <>
      <Labelled label="New password" hint="For somebody who forgot theirs; signs them out everywhere.">
        <div className="flex gap-2">
          <input
            className="field"
            type="password"
            autoComplete="new-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
          <Button disabled={busy || !password} onClick={() => void reset()}>
            Set
          </Button>
        </div>
      </Labelled>
      {done && (
        <p role="status" className="text-sm">
          {account.login} has a new password; hand it over in person.
        </p>
      )}
      <Trouble error={trouble} />
    </>
  );
}

function Card({ before, onClose }: { before: Account; onClose: () => void }) {
  const { name, role, disabled } = before;
  const writing = useDraft<{ name: string; role: string; disabled: boolean }>(
    { name, role, disabled },
    before.version,
  );
  const { draft, set } = writing;
  const path = { id: before.id };
  const save = () =>
    answer(
      api.PATCH('/accounts/{id}', {
        params: { path, header: onVersion(writing) },
        body: { ...draft, role: draft.role as Account['role'] },
      }),
    );
  return (
    <RecordSheet
      title={before.login}
      list="accounts"
      keep="Save"
      ready={draft.name.trim() !== ''}
      save={save}
      remove="Delete"
      takeAway={() => answer(api.DELETE('/accounts/{id}', { params: { path, header: onVersion(writing) } }))}
      goes="It is signed out everywhere. What it did stays in the journal."
      draft={writing}
      subject={`account:${before.id}`}
      called={{ name: 'Name', role: 'Role', disabled: 'Disabled' }}
      onClose={onClose}
    >
      <Labelled label="Name">
        <input
          className="field"
          maxLength={80}
          value={draft.name}
          onChange={(e) => set({ name: e.target.value })}
        />
      </Labelled>
      <Role value={draft.role} onChange={(role) => set({ role })} />
      <label className="flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          checked={draft.disabled}
          onChange={(e) => set({ disabled: e.target.checked })}
        />
        Disabled: nobody signs in by it
      </label>
      <NewPassword account={before} />
      <SignIns account={before.id} />
    </RecordSheet>
  );
}

/** Who signs in to the console. */
export function AccountsPage() {
  const [search, setSearch] = useSearchParams();
  return (
    <ListPage<Account>
      list="accounts"
      title="Accounts"
      note="who signs in here"
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Make an account
        </Button>
      }
      columns={columns}
      query={['accounts', 'list']}
      load={async () => ({ items: await answer(api.GET('/accounts')) })}
      card={(id, close) => (
        <Read
          query={['accounts', 'card', id]}
          load={() => answer(api.GET('/accounts/{id}', { params: { path: { id } } }))}
        >
          {(account) => <Card key={id} before={account} onClose={close} />}
        </Read>
      )}
      empty={null}
    >
      {search.get('new') && <Make onClose={() => setSearch({})} />}
    </ListPage>
  );
}
