import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { X } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api } from '../api/client';
import { SheetButtons } from '../organisation/SheetButtons';
import { AskButton } from '../ui/AskButton';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Empty, Labelled, Tag, Trouble, sideCard } from '../ui/parts';

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

const counts = () => answer(api.GET('/tags'));

function Card({ tag, onClose }: { tag: string; onClose: () => void }) {
  const { act, trouble, busy } = useAct('tags', 'devices');
  const [name, setName] = useState(tag);
  const tags = useQuery({ queryKey: ['tags'], queryFn: counts });
  const devices = tags.data?.[tag] ?? 0;
  const plain = name.trim();
  const there = plain !== tag && tags.data?.[plain] !== undefined;
  const path = { id: tag };
  return (
    <aside aria-label={`Tag ${tag}`} className={`${sideCard} gap-4 p-5`}>
      <header className="flex items-center justify-between gap-2">
        <h2 className="text-base font-semibold">{tag}</h2>
        <Button weight="bare" aria-label="Close" onClick={onClose}>
          <X className="size-4" />
        </Button>
      </header>
      <p className="text-sm">
        <Link className="text-brass underline" to={`/devices?tag=${encodeURIComponent(tag)}`}>
          {counted(devices, 'device')}
        </Link>{' '}
        {devices === 1 ? 'has' : 'have'} it. Enrollment profiles and rows of the roster that give it follow a
        change of its name.
      </p>
      <Labelled
        label="Name"
        hint={
          there ? `There is a tag ${plain} already: the two become one.` : 'Letters, digits, blanks, hyphens.'
        }
      >
        <input className="field" maxLength={40} value={name} onChange={(e) => setName(e.target.value)} />
      </Labelled>
      <div className="flex gap-2">
        <Button
          weight="main"
          disabled={busy || plain === '' || plain === tag}
          onClick={() =>
            void act(
              () => answer(api.PATCH('/tags/{id}', { params: { path }, body: { name: plain } })),
              onClose,
            )
          }
        >
          {there ? 'Put together' : 'Rename'}
        </Button>
        <AskButton
          doing={`Take ${tag} away from ${counted(devices, 'device')}`}
          label="Take away"
          busy={busy}
          trouble={trouble}
          onYes={() => act(() => answer(api.DELETE('/tags/{id}', { params: { path } })), onClose)}
        >
          <p>Enrollment profiles and rows of the roster no longer give it either.</p>
        </AskButton>
      </div>
      <Trouble error={trouble} />
    </aside>
  );
}

/** Every tag with how many devices have it. */
export function TagsPage() {
  return (
    <ListPage<Row>
      list="tags"
      title="Tags"
      note="free labels on devices"
      actions={<SheetButtons what="devices" />}
      columns={columns}
      query={['tags', 'page']}
      load={async () => ({
        items: Object.entries(await counts()).map(([id, devices]) => ({ id, devices })),
      })}
      card={(tag, close) => <Card key={tag} tag={tag} onClose={close} />}
      empty={
        <Empty title="No device has a tag yet.">
          Enrollment profiles and rows of the roster give them, and so does a device's own card.
        </Empty>
      }
    />
  );
}
