import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { BaselineSheet } from './BaselineSheet';
import { FromFile } from './ProfileFile';
import { Sheet } from '../ui/Dialog';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled, Moment, Trouble } from '../ui/parts';

type Profile = Schemas['ProfileSummary'];

const columns = (kind: Profile['kind']): ColumnDef<Profile>[] => [
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
  ...(kind === 'kit'
    ? [{ id: 'parts', header: 'Profiles', size: 90, accessorFn: (p: Profile) => p.parts }]
    : kind === 'profile'
      ? [{ id: 'settings', header: 'Settings', size: 90, accessorFn: (p: Profile) => p.settings }]
      : []),
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

/** Asks what a new profile or kit is called and what it is for, and makes it. */
function Make({ kind, onClose }: { kind: Profile['kind']; onClose: () => void }) {
  const go = useNavigate();
  const [name, setName] = useState('');
  const [description, setDescription] = useState('');
  const { act, trouble } = useAct('profiles');
  const kit = kind === 'kit';
  return (
    <Sheet
      title={kit ? 'Make a kit' : 'Write a profile'}
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={!name.trim()}
            onClick={() =>
              void act(
                () => answer(api.POST('/profiles', { body: { kind, name, description } })),
                (made) => go(`/rules/${kind}s/${made.id}`),
              )
            }
          >
            {kit ? 'Make kit' : 'Write profile'}
          </Button>
        </>
      }
    >
      <Labelled label="Name">
        <input
          className="field"
          maxLength={80}
          placeholder={kit ? 'Gallery kit' : 'Gallery tablets'}
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
  );
}

/** Profiles by name. */
export function ProfilesPage() {
  const go = useNavigate();
  const [search, setSearch] = useSearchParams();
  const close = () => setSearch({});
  return (
    <ListPage<Profile>
      list="profiles"
      title="Profiles"
      note="named sets of settings"
      actions={
        <>
          <Button weight="bare" onClick={() => setSearch({ new: 'file' })}>
            From a file
          </Button>
          <Button onClick={() => setSearch({ new: 'baseline' })}>Start from the baseline</Button>
          <Button weight="main" onClick={() => setSearch({ new: '1' })}>
            Write a profile
          </Button>
        </>
      }
      columns={columns('profile')}
      query={['profiles']}
      load={(after) => answer(api.GET('/profiles', { params: { query: { after, limit: 100 } } }))}
      onOpen={(id) => go(`/rules/profiles/${id}`)}
      empty={
        <Empty title="There are no profiles yet.">
          A profile tells devices things: a passcode rule, the camera off, a text on the lock screen.
        </Empty>
      }
    >
      {search.get('new') === 'baseline' && <BaselineSheet onClose={close} />}
      {search.get('new') === 'file' && <FromFile onClose={close} />}
      {search.get('new') === '1' && <Make kind="profile" onClose={close} />}
    </ListPage>
  );
}

/** Assignments of apps by name. */
export function AssignmentsPage() {
  const go = useNavigate();
  return (
    <ListPage<Profile>
      list="assignments"
      title="Assignments"
      note="which app is what, to whom"
      columns={columns('app')}
      query={['profiles', 'apps']}
      load={(after) =>
        answer(api.GET('/profiles', { params: { query: { kind: 'app', after, limit: 100 } } }))
      }
      onOpen={(id) => go(`/apps/assignments/${id}`)}
      empty={
        <Empty title="No app is assigned yet.">
          Open an app of the catalogue and say for whom it is: required, offered or forbidden.
        </Empty>
      }
    />
  );
}

/** Kits by name. */
export function KitsPage() {
  const go = useNavigate();
  const [search, setSearch] = useSearchParams();
  return (
    <ListPage<Profile>
      list="kits"
      title="Kits"
      note="profiles and files handed out together"
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Make a kit
        </Button>
      }
      columns={columns('kit')}
      query={['profiles', 'kits']}
      load={(after) =>
        answer(api.GET('/profiles', { params: { query: { kind: 'kit', after, limit: 100 } } }))
      }
      onOpen={(id) => go(`/rules/kits/${id}`)}
      empty={
        <Empty title="There are no kits yet.">
          A kit hands out in one go what belongs together: the profiles of a gallery tablet, its house rules
          and its certificate. Assign the kit, and everything in it goes along.
        </Empty>
      }
    >
      {search.get('new') === '1' && <Make kind="kit" onClose={() => setSearch({})} />}
    </ListPage>
  );
}
