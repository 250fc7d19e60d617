import { useQueryClient } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { ListTable } from '../ui/ListTable';
import { Button, Empty, Heading, Trouble } from '../ui/parts';
import { MembersSheet } from './MembersSheet';

type Group = Schemas['Group'];

/** Groups picked by hand. */
export function GroupsPage() {
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [members, setMembers] = useState<Group>();
  const [trouble, setTrouble] = useState<unknown>();
  const pages = usePages<Group>(['groups'], (after) =>
    answer(api.GET('/groups', { params: { query: { after, limit: 100 } } })),
  );
  async function attempt(work: () => Promise<unknown>) {
    try {
      setTrouble(undefined);
      await work();
      await queries.invalidateQueries({ queryKey: ['groups'] });
    } catch (e) {
      setTrouble(e);
    }
  }
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
          <Button
            weight="bare"
            aria-label={`Delete ${row.original.name}`}
            onClick={() =>
              void attempt(() =>
                answer(api.DELETE('/groups/{id}', { params: { path: { id: row.original.id } } })),
              )
            }
          >
            <Trash2 className="size-4" />
          </Button>
        </span>
      ),
    },
  ];
  return (
    <section className="flex min-w-0 flex-1 flex-col">
      <Heading title="Groups" note="picked by hand">
        <form
          className="flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void attempt(async () => {
              await answer(api.POST('/groups', { body: { name } }));
              setName('');
            });
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
      </Heading>
      <div className="px-5">
        <Trouble error={trouble ?? pages.error} />
      </div>
      <ListTable
        name="groups"
        columns={columns}
        rows={pages.items}
        loading={pages.isLoading}
        more={pages.hasNextPage}
        loadMore={() => !pages.isFetchingNextPage && void pages.fetchNextPage()}
        empty={<Empty title="There are no groups yet.">A group lets a profile go to devices you pick.</Empty>}
      />
      {members && <MembersSheet group={members} onClose={() => setMembers(undefined)} />}
    </section>
  );
}
