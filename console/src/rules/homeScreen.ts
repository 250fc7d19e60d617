/** Rows above the dock, as devices have them. */
export const ROWS = 6;

/** Where an app lies: row 0 is the dock, column 1 the first. */
export interface Cell {
  row: number;
  column: number;
}

const WRITTEN = /^([0-6])\.([1-6]) (\S+)$/;

const at = (cell: Cell) => `${cell.row}.${cell.column}`;

/** Where each app lies: where it was put, and the others in order in what is free. */
export function laidOut(columns: number, apps: string[], layout: string[]): Map<string, Cell> {
  const places = new Map<string, Cell>();
  const taken = new Set<string>();
  const put = (app: string, cell: Cell) => {
    places.set(app, cell);
    taken.add(at(cell));
  };
  const loose = apps.filter((app) => {
    const cell = layout
      .map((text) => WRITTEN.exec(text))
      .filter((m) => m?.[3] === app)
      .map((m) => ({ row: Number(m![1]), column: Number(m![2]) }))
      .find((c) => c.column <= columns && !taken.has(at(c)));
    if (cell) {
      put(app, cell);
    }
    return !cell;
  });
  let next = columns;
  for (const app of loose) {
    let cell: Cell;
    do {
      cell = { row: Math.floor(next / columns), column: (next % columns) + 1 };
      next++;
    } while (taken.has(at(cell)));
    put(app, cell);
  }
  return places;
}

/** What is written down of where apps lie, top left first; what found no room follows by itself. */
export function written(places: Map<string, Cell>): string[] {
  return [...places]
    .filter(([, cell]) => cell.row <= ROWS)
    .sort(([, a], [, b]) => a.row - b.row || a.column - b.column)
    .map(([app, cell]) => `${at(cell)} ${app}`);
}

/** The places after an app was moved to a cell; whoever lay there takes its old one. */
export function moved(places: Map<string, Cell>, app: string, to: Cell): Map<string, Cell> {
  const from = places.get(app);
  const out = new Map(places);
  for (const [other, cell] of places) {
    if (other !== app && at(cell) === at(to)) {
      if (!from) {
        return places;
      }
      out.set(other, from);
    }
  }
  return out.set(app, to);
}

/** The cell beside one, in the direction of an arrow key; the dock is below the last row. */
export function beside(cell: Cell, key: string, columns: number): Cell {
  const line = cell.row === 0 ? ROWS + 1 : cell.row;
  const column = Math.min(
    columns,
    Math.max(1, cell.column + (key === 'ArrowRight' ? 1 : key === 'ArrowLeft' ? -1 : 0)),
  );
  const next = Math.min(ROWS + 1, Math.max(1, line + (key === 'ArrowDown' ? 1 : key === 'ArrowUp' ? -1 : 0)));
  return { row: next === ROWS + 1 ? 0 : next, column };
}
