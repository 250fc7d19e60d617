import type { ColumnDef } from '@tanstack/react-table';

/** The column rows are picked in: all that match at its head, one by one below. */
export function pickColumn<T>(called: (row: T) => string): ColumnDef<T> {
  return {
    id: 'pick',
    size: 44,
    enableHiding: false,
    enableResizing: false,
    header: ({ table }) => (
      <input
        type="checkbox"
        aria-label="Select all that match"
        checked={table.options.meta?.all ?? false}
        onChange={(e) => table.options.meta?.pickAll(e.target.checked)}
      />
    ),
    cell: ({ row }) => (
      <input
        type="checkbox"
        aria-label={`Select ${called(row.original)}`}
        checked={row.getIsSelected()}
        onClick={(e) => e.stopPropagation()}
        onChange={row.getToggleSelectedHandler()}
      />
    ),
  };
}
