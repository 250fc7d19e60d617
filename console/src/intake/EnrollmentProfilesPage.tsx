import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { Link, useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Trouble } from '../ui/parts';
import { EnrollmentEditor } from './EnrollmentEditor';

type Profile = Schemas['EnrollmentProfile'];

const columns: ColumnDef<Profile>[] = [
  { id: 'name', header: 'Name', size: 200, accessorFn: (p) => p.name },
  { id: 'ownership', header: 'Ownership', size: 110, accessorFn: (p) => p.ownership },
  { id: 'mode', header: 'Mode', size: 120, accessorFn: (p) => p.mode },
  { id: 'platforms', header: 'Platforms', size: 120, accessorFn: (p) => p.platforms.join(', ') },
  {
    id: 'terms',
    header: 'Terms',
    size: 90,
    accessorFn: (p) => (p.termsVersion ? `version ${p.termsVersion}` : 'none'),
  },
  { id: 'sign-in', header: 'Sign-in', size: 110, accessorFn: (p) => p.signIn },
  { id: 'approval', header: 'Approval', size: 100, accessorFn: (p) => (p.approval ? 'by a human' : 'none') },
  { id: 'names', header: 'Names', size: 160, accessorFn: (p) => p.namePattern },
  { id: 'devices', header: 'Devices', size: 80, accessorFn: (p) => p.devices },
];

function EditorOf({ id, onClose }: { id: string; onClose: () => void }) {
  const profile = useQuery({
    queryKey: ['enrollment-profiles', 'card', id],
    queryFn: () => answer(api.GET('/enrollment-profiles/{id}', { params: { path: { id } } })),
  });
  return profile.data ? (
    <EnrollmentEditor key={id} before={profile.data} onClose={onClose} />
  ) : (
    <Trouble error={profile.error} />
  );
}

/** How devices join. */
export function EnrollmentProfilesPage() {
  const [search, setSearch] = useSearchParams();
  return (
    <ListPage<Profile>
      list="enrollment-profiles"
      title="Enrollment profiles"
      note="how devices join"
      actions={
        <Button weight="main" onClick={() => setSearch({ new: '1' })}>
          Write an enrollment profile
        </Button>
      }
      columns={columns}
      query={['enrollment-profiles']}
      load={(after) => answer(api.GET('/enrollment-profiles', { params: { query: { after, limit: 100 } } }))}
      card={(id, close) => <EditorOf id={id} onClose={close} />}
      empty={
        <Empty title="There are no enrollment profiles yet.">
          One says whose devices join, in which mode, and what holders accept. Then{' '}
          <Link className="text-brass underline" to="/intake/invitations?new=1">
            invite devices
          </Link>
          .
        </Empty>
      }
    >
      {search.get('new') && <EnrollmentEditor onClose={() => setSearch({})} />}
    </ListPage>
  );
}
