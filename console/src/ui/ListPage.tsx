import type { ColumnDef } from '@tanstack/react-table';
import { Bookmark, X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useLayout } from '../api/layouts';
import { usePages } from '../api/pages';
import { Sheet } from './Dialog';
import { FilterRow } from './filters';
import { ListTable, type Sorting } from './ListTable';
import { Button, Heading, Labelled, Trouble } from './parts';
import type { useSelection } from './selection';

interface Page<T> {
  items: T[];
  next?: string;
}

/** Search parameters that say what is open, not what the list holds. */
const opened = ['card', 'new'];

/** The filters in a page's address, as a view keeps them. */
function filtersOf(search: URLSearchParams): string {
  const kept = new URLSearchParams(search);
  opened.forEach((name) => kept.delete(name));
  return kept.toString();
}

function SaveView({ list, filters, onClose }: { list: string; filters: string; onClose: () => void }) {
  const [name, setName] = useState('');
  const { change } = useLayout(list);
  function save() {
    const plain = name.trim();
    change((before) => ({
      views: [...before.views.filter((v) => v.name !== plain), { name: plain, search: `?${filters}` }],
    }));
    onClose();
  }
  return (
    <Sheet
      title="Save these filters as a view"
      onClose={onClose}
      actions={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button weight="main" disabled={!name.trim()} onClick={save}>
            Save view
          </Button>
        </>
      }
    >
      <Labelled label="Name" hint="It stands at the left from now on, wherever you sign in.">
        <input
          className="field"
          maxLength={60}
          autoFocus
          value={name}
          onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && name.trim() && save()}
        />
      </Labelled>
    </Sheet>
  );
}

/**
 * The page every list has: a heading with its action, the table with its filters, the card of the
 * row at hand beside it. What is open and what is filtered is in the address.
 */
export function ListPage<T extends { id: string }>(props: {
  list: string;
  title: string;
  note?: string;
  actions?: ReactNode;
  /** What is to be seen of the whole list, above it. */
  banner?: ReactNode;
  /** The field of words of a list that has no other filters. */
  search?: ReactNode;
  /** Its filters, drawn as a {@link FilterRow}. */
  toolbar?: ReactNode;
  columns: ColumnDef<T>[];
  query: unknown[];
  load: (after: string | undefined) => Promise<Page<T>>;
  empty: ReactNode;
  trouble?: unknown;
  /** What a row opens, when not a card. */
  onOpen?: (id: string) => void;
  card?: (id: string, close: () => void) => ReactNode;
  selection?: ReturnType<typeof useSelection>;
  sorting?: Sorting;
  children?: ReactNode;
}) {
  const { list, onOpen, selection } = props;
  const [search, setSearch] = useSearchParams();
  const [saving, setSaving] = useState(false);
  const pages = usePages<T>(props.query, props.load);
  const card = search.get('card') ?? undefined;
  const filters = filtersOf(search);
  const show = (id: string | undefined) =>
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        if (id) {
          next.set('card', id);
        } else {
          next.delete('card');
        }
        return next;
      },
      { replace: true },
    );
  const open = props.card ? show : onOpen && ((id: string | undefined) => id && onOpen(id));
  return (
    <>
      <section className="flex min-w-0 flex-1 flex-col">
        <Heading title={props.title} note={props.note}>
          {props.actions}
        </Heading>
        <div className="px-5">
          <Trouble error={props.trouble ?? pages.error} />
          {props.banner}
        </div>
        <ListTable
          name={list}
          columns={props.columns}
          rows={pages.items}
          loading={pages.isLoading}
          more={pages.hasNextPage}
          loadMore={() => !pages.isFetchingNextPage && void pages.fetchNextPage()}
          current={card}
          onCurrent={open}
          selection={selection}
          sorting={props.sorting}
          toolbar={
            <>
              {props.search}
              {props.toolbar && <FilterRow>{props.toolbar}</FilterRow>}
              {filters !== '' && (
                <>
                  <Button weight="bare" onClick={() => setSearch({})}>
                    <X className="size-4" /> Clear
                  </Button>
                  <Button weight="bare" onClick={() => setSaving(true)}>
                    <Bookmark className="size-4" /> Save view
                  </Button>
                </>
              )}
            </>
          }
          empty={props.empty}
        />
      </section>
      {card && props.card?.(card, () => show(undefined))}
      {saving && <SaveView list={list} filters={filters} onClose={() => setSaving(false)} />}
      {props.children}
    </>
  );
}
