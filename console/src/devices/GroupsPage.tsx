import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { ListPage } from '../ui/ListPage';
import { Button, Empty } from '../ui/parts';
import { GroupSheet } from './GroupSheet';
import { MembersSheet } from './MembersSheet';

type Group = Schemas['Group'];

/** Groups: picked by hand or by a rule. */
export function GroupsPage() {
  const [written, setWritten] = useState<{ group?: Group }>();
  const [members, setMembers] = useState<Group>();
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
      id: 'by',
      header: 'Devices are in it by',
      size: 420,
      accessorFn: (g) => g.rule ?? 'hand',
      cell: ({ row: { original: g } }) => (
        <span className="flex min-w-0 items-baseline gap-2">
          {g.rule === undefined ? (
            <span className="text-quiet">hand</span>
          ) : (
            <code className="truncate text-xs" title={g.rule}>
              {g.rule.replaceAll(/\s+/g, ' ')}
            </code>
          )}
          {g.inside.length > 0 && (
            <span className="text-quiet truncate text-xs">
              inside: {g.inside.map((i) => i.name).join(', ')}
            </span>
          )}
        </span>
      ),
    },
    {
      id: 'do',
      header: () => null,
      size: 160,
      enableHiding: false,
      cell: ({ row }) => (
        <span className="flex justify-end gap-1">
          {row.original.rule === undefined && (
            <Button weight="bare" onClick={() => setMembers(row.original)}>
              Members
            </Button>
          )}
          <Button weight="bare" onClick={() => setWritten({ group: row.original })}>
            Change
          </Button>
        </span>
      ),
    },
  ];
  return (
    <ListPage<Group>
      list="groups"
      title="Groups"
      note="picked by hand, or by a rule"
      actions={
        <Button weight="main" onClick={() => setWritten({})}>
          Make a group
        </Button>
      }
      columns={columns}
      query={['groups']}
      load={(after) => answer(api.GET('/groups', { params: { query: { after, limit: 100 } } }))}
      empty={
        <Empty title="There are no groups yet.">
          A group lets a profile go to devices you pick, or to all a rule finds.
        </Empty>
      }
    >
      {written && <GroupSheet group={written.group} onClose={() => setWritten(undefined)} />}
      {members && <MembersSheet group={members} onClose={() => setMembers(undefined)} />}
    </ListPage>
  );
}
