import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { ListPage } from '../ui/ListPage';
import { Button, Labelled, Moment, Trouble } from '../ui/parts';

type Account = Schemas['Account'];

const roles: Record<string, string> = {
  owner: 'everything, accounts too',
  operator: 'writes and publishes, lets devices in, acts on them',
  helpdesk: 'acts on devices, changes no rules',
  reader: 'looks, changes nothing',
};

const columns: ColumnDef<Account>[] = [
  { id: 'name', header: 'Name', size: 240, accessorFn: (a) => a.name },
  { id: 'login', header: 'Login', size: 200, accessorFn: (a) => a.login },
  { id: 'role', header: 'Role', size: 120, accessorFn: (a) => a.role },
  { id: 'may', header: 'May', size: 360, accessorFn: (a) => roles[a.role] },
  {
    id: 'made',
    header: 'Made',
    size: 140,
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
      <Labelled label="Role" hint={roles[draft.role]}>
        <select className="field" value={draft.role} onChange={(e) => set({ role: e.target.value })}>
          {Object.keys(roles).map((r) => (
            <option key={r}>{r}</option>
          ))}
        </select>
      </Labelled>
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
      query={['accounts']}
      load={async () => ({ items: await answer(api.GET('/accounts')) })}
      empty={null}
    >
      {search.get('new') && <Make onClose={() => setSearch({})} />}
    </ListPage>
  );
}
