import type { ColumnDef } from '@tanstack/react-table';
import { useNavigate } from 'react-router';
import { answer, api } from '../api/client';
import { ListPage } from '../ui/ListPage';
import { Empty, Tag } from '../ui/parts';

interface Row {
  id: string;
  devices: number;
}

const columns: ColumnDef<Row>[] = [
  {
    id: 'tag',
    header: 'Tag',
    size: 260,
    accessorFn: (t) => t.id,
    cell: ({ row }) => <Tag>{row.original.id}</Tag>,
  },
  { id: 'devices', header: 'Devices', size: 120, accessorFn: (t) => t.devices },
];

/** Every tag with how many devices have it; a row opens those devices. */
export function TagsPage() {
  const go = useNavigate();
  return (
    <ListPage<Row>
      list="tags"
      title="Tags"
      note="free labels on devices"
      columns={columns}
      query={['tags', 'page']}
      load={async () => {
        const counts = await answer(api.GET('/tags'));
        return { items: Object.entries(counts).map(([id, devices]) => ({ id, devices })) };
      }}
      onOpen={(id) => void go(`/devices?tag=${encodeURIComponent(id)}`)}
      empty={
        <Empty title="No device has a tag yet.">
          Enrollment profiles and rows of the roster give them, and so does a device's own card.
        </Empty>
      }
    />
  );
}
