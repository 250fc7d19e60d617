import { X } from 'lucide-react';
import { useSyncExternalStore } from 'react';
import { Link, useLocation } from 'react-router';

export interface View {
  name: string;
  search: string;
}

const KEY = 'views:devices';
const ready: View[] = [
  { name: 'Needs attention', search: '?standing=blocked' },
  { name: 'Catching up', search: '?standing=catching-up' },
  { name: 'Just arrived', search: '?sort=enrolled' },
];
const listeners = new Set<() => void>();
let known: View[] | undefined;

function kept(): View[] {
  if (!known) {
    try {
      known = JSON.parse(localStorage.getItem(KEY) ?? '[]') as View[];
    } catch {
      known = [];
    }
  }
  return known;
}

function keep(views: View[]) {
  known = views;
  localStorage.setItem(KEY, JSON.stringify(views));
  listeners.forEach((l) => l());
}

/** Keeps the filters of a list under a name, in this browser. */
export function saveView(view: View) {
  keep([...kept().filter((v) => v.name !== view.name), view]);
}

/** The saved views of the device list, as links. */
export function ViewLinks() {
  const place = useLocation();
  const views = useSyncExternalStore((l) => (listeners.add(l), () => listeners.delete(l)), kept);
  return (
    <>
      <p className="label mt-5 px-4 pb-1">Views</p>
      {[...ready, ...views].map((v) => (
        <span key={v.name} className="group hover:bg-raised flex items-center">
          <Link
            to={`/devices${v.search}`}
            className={`flex-1 border-l-2 px-4 py-1.5 ${place.search === v.search ? 'border-brass font-semibold' : 'border-transparent'}`}
          >
            {v.name}
          </Link>
          {views.includes(v) && (
            <button
              type="button"
              aria-label={`Forget the view ${v.name}`}
              className="px-2 opacity-0 group-hover:opacity-100 focus:opacity-100"
              onClick={() => keep(views.filter((x) => x !== v))}
            >
              <X className="size-3.5" />
            </button>
          )}
        </span>
      ))}
    </>
  );
}
