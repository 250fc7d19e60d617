import { useQueryClient } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { usePages } from '../api/pages';
import { Sheet } from '../ui/Dialog';
import { ListTable } from '../ui/ListTable';
import { Button, Empty, Heading, Labelled, Moment, Trouble } from '../ui/parts';

type Profile = Schemas['ProfileSummary'];

const columns: ColumnDef<Profile>[] = [
  { id: 'name', header: 'Name', size: 220, accessorFn: (p) => p.name },
  {
    id: 'state',
    header: 'State',
    size: 210,
    accessorFn: (p) =>
      p.publishedVersion
        ? `version ${p.publishedVersion}${p.draftChanged ? ', draft changed since' : ''}`
        : 'draft, never published',
  },
  { id: 'settings', header: 'Settings', size: 90, accessorFn: (p) => p.settings },
  { id: 'devices', header: 'Devices', size: 90, accessorFn: (p) => p.devices },
  { id: 'what', header: 'What it is for', size: 360, accessorFn: (p) => p.description },
  {
    id: 'changed',
    header: 'Changed',
    size: 120,
    accessorFn: (p) => p.changedAt,
    cell: ({ row }) => <Moment at={row.original.changedAt} />,
  },
];

/** Profiles by name. */
export function ProfilesPage() {
  const go = useNavigate();
  const queries = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const [name, setName] = useState('');
  const [description, setDescription] = useState('');
  const [trouble, setTrouble] = useState<unknown>();
  const pages = usePages<Profile>(['profiles'], (after) =>
    answer(api.GET('/profiles', { params: { query: { after, limit: 100 } } })),
  );
  async function make() {
    try {
      const made = await answer(api.POST('/profiles', { body: { name, description } }));
      await queries.invalidateQueries({ queryKey: ['profiles'] });
      go(`/rules/profiles/${made.id}`);
    } catch (e) {
      setTrouble(e);
    }
  }
  return (
    <section className="flex min-w-0 flex-1 flex-col">
      <Heading title="Profiles" note="named sets of settings">
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Write a profile
        </Button>
      </Heading>
      <Trouble error={pages.error} />
      <ListTable
        name="profiles"
        columns={columns}
        rows={pages.items}
        loading={pages.isLoading}
        more={pages.hasNextPage}
        loadMore={() => !pages.isFetchingNextPage && void pages.fetchNextPage()}
        onCurrent={(id) => id && go(`/rules/profiles/${id}`)}
        empty={
          <Empty title="There are no profiles yet.">
            A profile tells devices things: a passcode rule, the camera off, a text on the lock screen.
          </Empty>
        }
      />
      {search.get('new') && (
        <Sheet
          title="Write a profile"
          onClose={() => setSearch({})}
          actions={
            <>
              <Button onClick={() => setSearch({})}>Cancel</Button>
              <Button weight="main" disabled={!name.trim()} onClick={() => void make()}>
                Write profile
              </Button>
            </>
          }
        >
          <Labelled label="Name">
            <input
              className="field"
              maxLength={80}
              placeholder="Gallery tablets"
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </Labelled>
          <Labelled label="What it is for">
            <input
              className="field"
              maxLength={500}
              value={description}
              onChange={(e) => setDescription(e.target.value)}
            />
          </Labelled>
          <Trouble error={trouble} />
        </Sheet>
      )}
    </section>
  );
}
