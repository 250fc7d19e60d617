import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { type ColumnDef, flexRender, getCoreRowModel, useReactTable } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import clsx from 'clsx';
import { ArrowLeft, ArrowRight, Columns3, Download } from 'lucide-react';
import { type ReactNode, useEffect, useRef } from 'react';
import { useLayout } from '../api/layouts';
import { Button } from './parts';
import { shownAs, type useSelection } from './selection';

declare module '@tanstack/react-table' {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- the library's own parameter
  interface TableMeta<TData> {
    all: boolean;
    pickAll: (on: boolean) => void;
  }
}

const ROW = 32;

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
  empty: ReactNode;
  toolbar?: ReactNode;
}) {
  const { name, columns, rows, current, onCurrent, more, loadMore, selection } = props;
  const { layout, change } = useLayout(name);
  const hidden = Object.fromEntries(layout.hidden.map((id) => [id, false]));
  const ids = rows.map((r) => r.id);
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
    estimateSize: () => ROW,
    overscan: 12,
  });
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
      <div className="flex min-h-10 flex-wrap items-center gap-2 px-5 pb-2">
        {props.toolbar}
        <div className="ml-auto flex items-center gap-1">
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
                    style={{ width: h.getSize() }}
                    className="border-line text-quiet relative border-b px-3 py-1.5 text-left text-xs font-medium first:pl-5"
                  >
                    {flexRender(h.column.columnDef.header, h.getContext())}
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
            {shown.length > 0 && <tr style={{ height: virtual.getTotalSize() - (shown.at(-1)?.end ?? 0) }} />}
          </tbody>
        </table>
        {rows.length === 0 && !props.loading && props.empty}
      </div>
    </div>
  );
}
