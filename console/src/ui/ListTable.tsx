import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { type ColumnDef, flexRender, getCoreRowModel, type Row, useReactTable } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import clsx from 'clsx';
import { ArrowDown, ArrowLeft, ArrowRight, ArrowUp, Columns3, Download, ChevronRight } from 'lucide-react';
import { type ReactNode, useEffect, useRef } from 'react';
import { useLayout } from '../api/layouts';
import { useNarrow } from './narrow';
import { Button } from './parts';
import { shownAs, type useSelection } from './selection';

/** The order of a list: a word for each column that orders it, in its meta. */
export interface Sorting {
  by: string;
  set: (by: string) => void;
}

declare module '@tanstack/react-table' {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- the library's own parameters
  interface ColumnMeta<TData, TValue> {
    /** The list's order by this column, and whether it goes up or down. */
    order?: { by: string; up: boolean };
  }

  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- the library's own parameter
  interface TableMeta<TData> {
    all: boolean;
    pickAll: (on: boolean) => void;
  }
}

const ROW = 32;
/** On a phone a row is a card: its name, and what else is shown below it. */
const CARD = 84;
const MOST_ON_CARD = 4;

/** Text of a cell for export. */
function plain(value: unknown): string {
  const text = Array.isArray(value)
    ? value.join(' ')
    : value === undefined || value === null
      ? ''
      : String(value);
  const safe = /^[=+\-@\t]/.test(text) ? `'${text}` : text;
  return /[",\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

function sortOf(order: { by: string; up: boolean } | undefined, sorting: Sorting | undefined) {
  if (!order || !sorting) {
    return undefined;
  }
  return order.by !== sorting.by ? 'none' : order.up ? 'ascending' : 'descending';
}

function SortButton(props: { order: { by: string; up: boolean }; sorting: Sorting; children: ReactNode }) {
  const { order, sorting } = props;
  const Arrow = order.up ? ArrowUp : ArrowDown;
  return (
    <button
      type="button"
      className="hover:text-ink flex items-center gap-1"
      onClick={() => sorting.set(order.by)}
    >
      {props.children}
      <Arrow className={clsx('size-3', order.by !== sorting.by && 'opacity-25')} aria-hidden />
    </button>
  );
}

/** A row as a card: its first word as a name, the next ones below, and what opens it. */
function RowCard<T>({ row, onOpen }: { row: Row<T>; onOpen?: () => void }) {
  const cells = row.getVisibleCells();
  const pick = cells.find((c) => c.column.id === 'pick');
  const [name, ...rest] = cells.filter((c) => c !== pick);
  return (
    <div className="flex items-start gap-3">
      {pick && <span className="pt-0.5">{flexRender(pick.column.columnDef.cell, pick.getContext())}</span>}
      <div className="min-w-0 flex-1">
        <p className="truncate font-semibold">
          {name && flexRender(name.column.columnDef.cell, name.getContext())}
        </p>
        <div className="mt-1 grid grid-cols-2 gap-x-4 text-xs">
          {rest
            .filter((c) => !['', undefined, null].includes(c.getValue() as string))
            .slice(0, MOST_ON_CARD)
            .map((c) => (
              <span key={c.id} className="truncate leading-5">
                {typeof c.getValue() === 'number' && (
                  <span className="text-quiet mr-1.5">{String(c.column.columnDef.header)}</span>
                )}
                {flexRender(c.column.columnDef.cell, c.getContext())}
              </span>
            ))}
        </div>
      </div>
      {onOpen && (
        <button
          type="button"
          aria-label={`Open ${plain(name?.getValue())}`}
          className="text-quiet grid size-11 shrink-0 place-items-center self-center"
          onClick={(e) => (e.stopPropagation(), onOpen())}
        >
          <ChevronRight className="size-5" aria-hidden />
        </button>
      )}
    </div>
  );
}

/**
 * The list every page is built on: columns to choose, order and resize (kept with the account), rows
 * drawn only where they are seen, arrow keys to walk it, more loaded at its end.
 */
export function ListTable<T extends { id: string }>(props: {
  name: string;
  columns: ColumnDef<T>[];
  rows: T[];
  more?: boolean;
  loadMore?: () => void;
  loading?: boolean;
  current?: string;
  onCurrent?: (id: string | undefined) => void;
  selection?: ReturnType<typeof useSelection>;
  sorting?: Sorting;
  empty: ReactNode;
  toolbar?: ReactNode;
}) {
  const { name, columns, rows, current, onCurrent, more, loadMore, selection } = props;
  const { layout, change } = useLayout(name);
  const hidden = Object.fromEntries(layout.hidden.map((id) => [id, false]));
  const ids = rows.map((r) => r.id);
  const narrow = useNarrow();
  const scroller = useRef<HTMLDivElement>(null);
  // the table library hands out functions that may not be memoised; this component is never compiled
  const table = useReactTable({
    data: rows,
    columns,
    getRowId: (r) => r.id,
    getCoreRowModel: getCoreRowModel(),
    columnResizeMode: 'onChange',
    enableRowSelection: !!selection,
    meta: {
      all: selection?.selection.all ?? false,
      pickAll: (on) => selection?.set({ all: on, ids: [] }),
    },
    state: {
      columnVisibility: hidden,
      columnSizing: layout.widths,
      columnOrder: layout.order,
      rowSelection: selection ? shownAs(selection.selection, ids) : {},
    },
    onColumnVisibilityChange: (u) =>
      change(() => {
        const next = typeof u === 'function' ? u(hidden) : u;
        return { hidden: Object.keys(next).filter((id) => !next[id]) };
      }),
    onColumnSizingChange: (u) =>
      change((k) => {
        const next = typeof u === 'function' ? u(k.widths) : u;
        return {
          widths: Object.fromEntries(Object.entries(next).map(([id, width]) => [id, Math.round(width)])),
        };
      }),
    onRowSelectionChange: (u) => selection?.update(ids, u),
  });
  const model = table.getRowModel().rows;
  const virtual = useVirtualizer({
    count: model.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => (narrow ? CARD : ROW),
    overscan: 12,
  });
  useEffect(() => virtual.measure(), [narrow, virtual]);
  const shown = virtual.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (more && last >= rows.length - 10) {
      loadMore?.();
    }
  }, [last, more, loadMore, rows.length]);

  function walk(event: React.KeyboardEvent) {
    if (!onCurrent) {
      return;
    }
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step !== 0 && rows.length > 0) {
      event.preventDefault();
      const at = rows.findIndex((r) => r.id === current);
      const next = Math.min(rows.length - 1, Math.max(0, at + step));
      virtual.scrollToIndex(next);
      onCurrent(rows[next].id);
    } else if (event.key === 'Escape') {
      onCurrent(undefined);
    }
  }

  function move(id: string, by: number) {
    const order = table.getAllLeafColumns().map((c) => c.id);
    const from = order.indexOf(id);
    const to = Math.min(order.length - 1, Math.max(0, from + by));
    order.splice(to, 0, ...order.splice(from, 1));
    change(() => ({ order }));
  }

  function download() {
    const shownColumns = table.getVisibleLeafColumns().filter((c) => c.accessorFn);
    const lines = [
      shownColumns.map((c) => plain(c.columnDef.header)).join(','),
      ...model.map((r) => shownColumns.map((c) => plain(r.getValue(c.id))).join(',')),
    ];
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([lines.join('\r\n')], { type: 'text/csv' }));
    link.download = `${name}.csv`;
    link.click();
    URL.revokeObjectURL(link.href);
  }

  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="flex min-h-10 flex-wrap items-center gap-2 px-5 pb-2 max-md:min-h-0 max-md:px-4">
        {props.toolbar}
        <div className="ml-auto flex items-center gap-1 max-md:hidden">
          <Button
            weight="bare"
            aria-label="Export what is shown"
            title="Export what is shown"
            onClick={download}
          >
            <Download className="size-4" />
          </Button>
          <Menu>
            <MenuButton as={Button} weight="bare" aria-label="Columns" title="Columns">
              <Columns3 className="size-4" />
            </MenuButton>
            <MenuItems
              anchor="bottom end"
              className="border-line bg-sheet z-30 mt-1 w-64 border py-1 text-sm shadow-lg"
            >
              {table
                .getAllLeafColumns()
                .filter((c) => c.getCanHide() && typeof c.columnDef.header === 'string')
                .map((c) => (
                  <MenuItem
                    key={c.id}
                    as="div"
                    className="data-focus:bg-raised flex items-center gap-2 px-3 py-1"
                  >
                    <label className="flex flex-1 items-center gap-2" onClick={(e) => e.stopPropagation()}>
                      <input
                        type="checkbox"
                        checked={c.getIsVisible()}
                        onChange={c.getToggleVisibilityHandler()}
                      />
                      {String(c.columnDef.header)}
                    </label>
                    <button
                      type="button"
                      aria-label={`Move ${String(c.columnDef.header)} left`}
                      onClick={(e) => (e.preventDefault(), e.stopPropagation(), move(c.id, -1))}
                    >
                      <ArrowLeft className="size-3.5" />
                    </button>
                    <button
                      type="button"
                      aria-label={`Move ${String(c.columnDef.header)} right`}
                      onClick={(e) => (e.preventDefault(), e.stopPropagation(), move(c.id, 1))}
                    >
                      <ArrowRight className="size-3.5" />
                    </button>
                  </MenuItem>
                ))}
            </MenuItems>
          </Menu>
        </div>
      </div>
      <div
        ref={scroller}
        tabIndex={0}
        role="region"
        aria-label={name}
        onKeyDown={walk}
        className="border-line min-h-0 flex-1 overflow-auto border-t"
      >
        {narrow ? (
          <ul className="relative text-sm" style={{ height: virtual.getTotalSize() }}>
            {shown.map((v) => {
              const row = model[v.index];
              return (
                <li
                  key={row.id}
                  aria-current={row.id === current || undefined}
                  onClick={() => onCurrent?.(row.id === current ? undefined : row.id)}
                  className="border-line/60 absolute inset-x-0 overflow-hidden border-b py-2.5 pr-1 pl-4"
                  style={{ top: v.start, height: CARD }}
                >
                  <RowCard row={row} onOpen={onCurrent && (() => onCurrent(row.id))} />
                </li>
              );
            })}
          </ul>
        ) : (
          <table
            className="text-sm"
            style={{ width: table.getTotalSize(), minWidth: '100%', tableLayout: 'fixed' }}
          >
            <thead className="bg-paper sticky top-0 z-10">
              {table.getHeaderGroups().map((g) => (
                <tr key={g.id}>
                  {g.headers.map((h) => (
                    <th
                      key={h.id}
                      aria-sort={sortOf(h.column.columnDef.meta?.order, props.sorting)}
                      style={{ width: h.getSize() }}
                      className="border-line text-quiet relative border-b px-3 py-1.5 text-left text-xs font-medium first:pl-5"
                    >
                      {h.column.columnDef.meta?.order && props.sorting ? (
                        <SortButton order={h.column.columnDef.meta.order} sorting={props.sorting}>
                          {flexRender(h.column.columnDef.header, h.getContext())}
                        </SortButton>
                      ) : (
                        flexRender(h.column.columnDef.header, h.getContext())
                      )}
                      {h.column.getCanResize() && (
                        <span
                          onMouseDown={h.getResizeHandler()}
                          onTouchStart={h.getResizeHandler()}
                          className="hover:bg-brass absolute top-1 right-0 bottom-1 w-1 cursor-col-resize"
                        />
                      )}
                    </th>
                  ))}
                </tr>
              ))}
            </thead>
            <tbody>
              {shown.length > 0 && shown[0].start > 0 && <tr style={{ height: shown[0].start }} />}
              {shown.map((v) => {
                const row = model[v.index];
                return (
                  <tr
                    key={row.id}
                    aria-selected={row.id === current}
                    onClick={() => onCurrent?.(row.id === current ? undefined : row.id)}
                    className={clsx(
                      'border-line/60 h-8 border-b',
                      onCurrent && 'cursor-pointer',
                      row.id === current ? 'bg-raised' : 'hover:bg-sheet',
                    )}
                  >
                    {row.getVisibleCells().map((cell) => (
                      <td
                        key={cell.id}
                        className={clsx(
                          'px-3 first:pl-5',
                          cell.column.id === 'pick' ? 'leading-none' : 'truncate',
                        )}
                      >
                        {flexRender(cell.column.columnDef.cell, cell.getContext())}
                      </td>
                    ))}
                  </tr>
                );
              })}
              {shown.length > 0 && (
                <tr style={{ height: virtual.getTotalSize() - (shown.at(-1)?.end ?? 0) }} />
              )}
            </tbody>
          </table>
        )}
        {rows.length === 0 && !props.loading && props.empty}
      </div>
    </div>
  );
}
