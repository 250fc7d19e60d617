import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { AskButton } from '../ui/AskButton';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Empty } from '../ui/parts';
import { MembersSheet } from './MembersSheet';

type Group = Schemas['Group'];

/** Groups picked by hand. */
export function GroupsPage() {
  const [name, setName] = useState('');
  const [members, setMembers] = useState<Group>();
  const { act, trouble } = useAct('groups');
  const columns: ColumnDef<Group>[] = [
    { id: 'name', header: 'Name', size: 300, accessorFn: (g) => g.name },
    {
      id: 'devices',
      header: 'Devices',
      size: 120,
      accessorFn: (g) => g.devices,
      cell: ({ row }) => (
        <Link className="text-brass underline" to={`/devices?group=${row.original.id}`}>
          {row.original.devices}
        </Link>
      ),
    },
    {
      id: 'do',
      header: () => null,
      size: 260,
      enableHiding: false,
      cell: ({ row }) => (
        <span className="flex justify-end gap-1">
          <Button weight="bare" onClick={() => setMembers(row.original)}>
            Put in, take out
          </Button>
          <AskButton
            weight="bare"
            doing={`Delete ${row.original.name}`}
            trouble={trouble}
            onYes={() =>
              act(() => answer(api.DELETE('/groups/{id}', { params: { path: { id: row.original.id } } })))
            }
          >
            <p>Its {counted(row.original.devices, 'device')} stay as they are.</p>
          </AskButton>
        </span>
      ),
    },
  ];
  return (
    <ListPage<Group>
      list="groups"
      title="Groups"
      note="picked by hand"
      actions={
        <form
          className="flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void act(
              () => answer(api.POST('/groups', { body: { name } })),
              () => setName(''),
            );
          }}
        >
          <input
            aria-label="Name of the new group"
            placeholder="Name of a new group"
            className="field w-56"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <Button type="submit" weight="main" disabled={!name.trim()}>
            Make group
          </Button>
        </form>
      }
      trouble={trouble}
      columns={columns}
      query={['groups']}
      load={(after) => answer(api.GET('/groups', { params: { query: { after, limit: 100 } } }))}
      empty={<Empty title="There are no groups yet.">A group lets a profile go to devices you pick.</Empty>}
    >
      {members && <MembersSheet group={members} onClose={() => setMembers(undefined)} />}
    </ListPage>
  );
}
