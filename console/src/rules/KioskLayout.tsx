import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import type { Schemas } from '../api/client';
import { Button, Labelled } from '../ui/parts';
import { beside, type Cell, laidOut, moved, ROWS, written } from './homeScreen';

/** Colours of the apps that come with a device, in their order. */
const COLOURS = [
  '#2d6270',
  '#8a4f3d',
  '#6c5a2e',
  '#5b4a78',
  '#2f5d50',
  '#3c4f76',
  '#7d6a1f',
  '#74544a',
  '#4d5b34',
  '#41607a',
  '#8a3f52',
  '#5a5f66',
];

const ARROWS = ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'];
const OUT = ['Delete', 'Backspace'];

interface Named {
  id: string;
  name: string;
  colour: string;
}

/** The apps that come with the platforms that can be a kiosk. */
function systemApps(catalogue: Schemas['Catalogue']): Named[] {
  const kiosks = new Set(
    catalogue.settings.find((s) => s.key === 'kiosk.apps')?.support.map((s) => s.platform),
  );
  const all = new Map<string, Named>();
  catalogue.platforms
    .filter((p) => kiosks.has(p.key))
    .flatMap((p) => p.apps)
    .forEach((a) =>
      all.set(a.id, { ...a, colour: all.get(a.id)?.colour ?? COLOURS[all.size % COLOURS.length]! }),
    );
  return [...all.values()].sort((a, b) => a.name.localeCompare(b.name));
}

function Tile({
  app,
  cell,
  small,
  onKey,
}: {
  app: Named;
  cell: Cell;
  small: boolean;
  onKey: (key: string) => boolean;
}) {
  const drag = useDraggable({ id: app.id });
  return (
    <button
      type="button"
      ref={drag.setNodeRef}
      {...drag.listeners}
      aria-label={`${app.name}, ${cell.row === 0 ? 'dock' : `row ${cell.row}`}, column ${cell.column}`}
      aria-describedby="kiosk-keys"
      className={`focus-visible:outline-brass grid cursor-grab touch-none justify-items-center gap-1 rounded-md p-1 text-[11px] leading-tight text-white focus-visible:outline-2 ${drag.isDragging ? 'z-10 cursor-grabbing opacity-90' : ''}`}
      style={
        drag.transform ? { transform: `translate(${drag.transform.x}px, ${drag.transform.y}px)` } : undefined
      }
      onKeyDown={(e) => {
        if (onKey(e.key)) {
          e.preventDefault();
        }
      }}
    >
      <span
        aria-hidden
        className={`grid place-items-center rounded-[10px] font-semibold shadow-md ${small ? 'size-9 text-sm' : 'size-11 text-base'}`}
        style={{ background: app.colour }}
      >
        {app.name.slice(0, 1).toUpperCase()}
      </span>
      <span className="w-full truncate">{app.name}</span>
    </button>
  );
}

function Slot({ cell, children }: { cell: Cell; children?: ReactNode }) {
  const drop = useDroppable({ id: `${cell.row}.${cell.column}`, data: cell });
  return (
    <div
      ref={drop.setNodeRef}
      className={`grid min-h-16 min-w-0 place-items-center rounded-lg ${drop.isOver ? 'bg-white/30' : children ? '' : 'border border-dashed border-white/15'}`}
    >
      {children}
    </div>
  );
}

/**
 * The home screen of a kiosk on a drawing of the device: apps are dragged to where they should lie,
 * or moved there with the arrow keys.
 */
export function KioskLayout({
  settings,
  catalogue,
  own = [],
  onSet,
}: {
  settings: Record<string, unknown>;
  catalogue: Schemas['Catalogue'];
  /** Apps besides those that come with the platforms. */
  own?: Pick<Schemas['App'], 'packageId' | 'name'>[];
  onSet: (values: Record<string, unknown>) => void;
}) {
  const [said, setSaid] = useState('');
  const [other, setOther] = useState('');
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const one = settings['kiosk.mode'] === 'one';
  const apps = (settings['kiosk.apps'] ?? []) as string[];
  const columns = Math.min(6, Math.max(1, Number(settings['kiosk.columns'] ?? 3) || 3));
  const places = laidOut(columns, apps, (settings['kiosk.layout'] ?? []) as string[]);
  const known = [
    ...own.map((a, i) => ({ id: a.packageId, name: a.name, colour: COLOURS[i % COLOURS.length]! })),
    ...systemApps(catalogue),
  ];
  const named = (id: string): Named =>
    known.find((a) => a.id === id) ?? { id, name: id.split('.').at(-1)!, colour: COLOURS[0]! };
  const write = (next: Map<string, Cell>, wanted = apps) =>
    onSet({ 'kiosk.apps': wanted, 'kiosk.layout': written(next) });
  const move = (app: string, to: Cell) => {
    write(moved(places, app, to));
    setSaid(
      `${named(app).name} moved to ${to.row === 0 ? 'the dock' : `row ${to.row}`}, column ${to.column}.`,
    );
  };
  const takeOut = (app: string) => {
    const rest = new Map(places);
    rest.delete(app);
    write(
      rest,
      apps.filter((a) => a !== app),
    );
    setSaid(`${named(app).name} taken out.`);
  };
  const add = (app: string) => {
    if (!apps.includes(app) && apps.length < 24) {
      const wanted = [...apps, app];
      write(laidOut(columns, wanted, written(places)), wanted);
      setSaid(`${named(app).name} added.`);
    }
  };
  const onKey = (app: string, cell: Cell) => (key: string) => {
    if (ARROWS.includes(key)) {
      move(app, beside(cell, key, columns));
    } else if (OUT.includes(key)) {
      takeOut(app);
    }
    return ARROWS.includes(key) || OUT.includes(key);
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    const cell = over?.data.current as Cell | undefined;
    if (cell) {
      move(String(active.id), cell);
    }
  };
  const slots = (row: number) =>
    Array.from({ length: columns }, (_, i) => {
      const cell = { row, column: i + 1 };
      const app = [...places].find(([, c]) => c.row === row && c.column === i + 1)?.[0];
      return (
        <Slot key={cell.column} cell={cell}>
          {app && <Tile app={named(app)} cell={cell} small={columns > 4} onKey={onKey(app, cell)} />}
        </Slot>
      );
    });
  // what found no room lies below, where it can be seen and taken out
  const rows = Math.max(ROWS, ...[...places.values()].map((cell) => cell.row));
  const lying = settings['kiosk.rotation'] === 'lying';
  const grid = { gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` };
  const title = String(settings['kiosk.title'] ?? '');
  return (
    <div className="mt-3 flex flex-wrap gap-8">
      <div className={lying ? 'w-[30rem] max-w-full' : 'w-80 max-w-full'}>
        <div
          className="rounded-[22px] bg-[#20252d] p-3 shadow-sm"
          aria-label="Home screen of the kiosk"
          role="group"
        >
          <div className="flex min-h-96 flex-col gap-2 rounded-xl bg-[#44536b] p-3 text-white">
            {!settings['kiosk.status-bar-off'] && (
              <p className="text-right text-[11px] opacity-80" aria-hidden>
                10:42 · 87 %
              </p>
            )}
            {one ? (
              <div className="grid flex-1 place-content-center justify-items-center gap-3 text-center">
                {apps[0] ? (
                  <>
                    <span
                      aria-hidden
                      className="grid size-20 place-items-center rounded-2xl text-3xl font-semibold shadow-md"
                      style={{ background: named(apps[0]).colour }}
                    >
                      {named(apps[0]).name.slice(0, 1)}
                    </span>
                    <span className="text-lg">{named(apps[0]).name}</span>
                    <span className="max-w-56 text-xs opacity-80">
                      fills the screen
                      {settings['kiosk.fallback']
                        ? `; ${named(String(settings['kiosk.fallback'])).name} when it is gone`
                        : ''}
                    </span>
                  </>
                ) : (
                  <span className="text-sm">Choose the app that fills the screen.</span>
                )}
              </div>
            ) : (
              <DndContext sensors={sensors} onDragEnd={dropped} autoScroll={false}>
                {title && <p className="truncate pt-1 pb-2 text-center text-base">{title}</p>}
                {Array.from({ length: rows }, (_, i) => (
                  <div key={i} className="grid gap-2" style={grid}>
                    {slots(i + 1)}
                  </div>
                ))}
                <div
                  className="mt-auto grid gap-2 rounded-2xl bg-white/15 p-1.5"
                  style={grid}
                  aria-label="Dock"
                  role="group"
                >
                  {slots(0)}
                </div>
              </DndContext>
            )}
          </div>
        </div>
        <p id="kiosk-keys" className="text-quiet mt-2 text-xs">
          {one
            ? 'The first app fills the screen.'
            : 'Drag an app, or move it with the arrow keys; Delete takes it out.'}
        </p>
        <p className="sr-only" role="status" aria-label="What was done">
          {said}
        </p>
      </div>
      <div className="min-w-60 flex-1">
        <h3 className="text-sm font-semibold">Apps in the kiosk ({apps.length})</h3>
        <ul className="mt-1">
          {apps.map((app, i) => (
            <li key={app} className="border-line/60 flex items-center gap-2 border-b py-1 text-sm">
              <span className="flex-1">
                {named(app).name} <span className="text-quiet text-xs">{app}</span>
              </span>
              {one && i > 0 && (
                <Button weight="bare" onClick={() => write(places, [app, ...apps.filter((a) => a !== app)])}>
                  Make it the one
                </Button>
              )}
              <Button
                weight="bare"
                className="px-1!"
                aria-label={`Take ${named(app).name} out`}
                onClick={() => takeOut(app)}
              >
                <X className="size-4" />
              </Button>
            </li>
          ))}
        </ul>
        <h3 className="mt-4 text-sm font-semibold">Add</h3>
        <div className="mt-1 flex flex-wrap gap-1.5">
          {known
            .filter((a) => !apps.includes(a.id))
            .map((a) => (
              <Button key={a.id} aria-label={`Add ${a.name}`} onClick={() => add(a.id)}>
                {a.name}
              </Button>
            ))}
        </div>
        <form
          className="mt-3 flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            add(other.trim());
            setOther('');
          }}
        >
          <Labelled label="Another app, by its id">
            <input
              className="field w-56!"
              placeholder="example.vellmar.guide"
              value={other}
              onChange={(e) => setOther(e.target.value)}
            />
          </Labelled>
          <Button type="submit" disabled={!/^[a-z][a-z0-9]*(\.[a-z][a-z0-9-]*)+$/.test(other.trim())}>
            Add it
          </Button>
        </form>
      </div>
    </div>
  );
}
