import type { ColumnDef } from '@tanstack/react-table';
import { ShieldCheck } from 'lucide-react';
import { useState } from 'react';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { moment } from '../ui/dates';
import { Button, Empty } from '../ui/parts';

type Entry = Schemas['JournalEntry'] & { id: string };

const columns: ColumnDef<Entry>[] = [
  { id: 'number', header: 'No', size: 80, accessorFn: (e) => e.number },
  { id: 'at', header: 'When', size: 195, accessorFn: (e) => moment(e.at) },
  { id: 'who', header: 'Who', size: 180, accessorFn: (e) => e.who },
  { id: 'did', header: 'Did', size: 190, accessorFn: (e) => e.action.replace(/[.-]/g, ' ') },
  { id: 'what', header: 'What', size: 460, accessorFn: (e) => e.summary },
  {
    id: 'hash',
    header: 'Hash',
    size: 130,
    accessorFn: (e) => e.hash,
    cell: ({ getValue }) => <span className="font-mono text-xs">{String(getValue()).slice(0, 12)}</span>,
  },
];

const names = ['q'] as const;

/** Who did what; nobody can rewrite it. */
export function JournalPage() {
  const filters = useFilters(names);
  const [verdict, setVerdict] = useState<Schemas['Verification']>();
  const { act, trouble } = useAct();
  const { q } = filters.asked;
  const verify = () => act(() => answer(api.GET('/journal/verification')), setVerdict);
  return (
    <ListPage<Entry>
      list="journal"
      title="Journal"
      note="each entry is chained to the one before by hash"
      actions={
        <>
          {verdict && (
            <span className={`text-sm ${verdict.intact ? 'text-moss' : 'text-rust'}`} role="status">
              {verdict.intact
                ? `All ${verdict.entries} links hold${verdict.sealedAt ? ', and lead to the one kept outside the database' : ''}.`
                : `The chain is broken at entry ${verdict.firstBroken}: it was changed, or is gone.`}
            </span>
          )}
          <Button onClick={() => void verify()}>
            <ShieldCheck className="size-4" /> Verify the chain
          </Button>
        </>
      }
      trouble={trouble}
      columns={columns}
      query={['journal', q]}
      load={async (after) => {
        const page = await answer(api.GET('/journal', { params: { query: { q, after, limit: 100 } } }));
        return { ...page, items: page.items.map((e) => ({ ...e, id: String(e.number) })) };
      }}
      search={<Words filters={filters} placeholder="Words in who, did or what" />}
      empty={<Empty title="No entry has these words." />}
    />
  );
}
