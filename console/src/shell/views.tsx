import { X } from 'lucide-react';
import { Link, useLocation } from 'react-router';
import { useLayout, type View } from '../api/layouts';

/** The views of a list, as links: those that come with Pinwright, then the account's own. */
export function ViewLinks({ list, to, ready }: { list: string; to: string; ready: View[] }) {
  const place = useLocation();
  const { layout, change } = useLayout(list);
  if (ready.length + layout.views.length === 0) {
    return null;
  }
  const here = place.pathname === to ? place.search : undefined;
  return (
    <>
      <p className="label mt-5 px-4 pb-1">Views</p>
      {[...ready, ...layout.views].map((v) => (
        <span key={v.name} className="group hover:bg-raised flex items-center">
          <Link
            to={`${to}${v.search}`}
            className={`min-w-0 flex-1 truncate border-l-2 px-4 py-1.5 ${here === v.search ? 'border-brass font-semibold' : 'border-transparent'}`}
          >
            {v.name}
          </Link>
          {layout.views.includes(v) && (
            <button
              type="button"
              aria-label={`Forget the view ${v.name}`}
              className="px-2 opacity-0 group-hover:opacity-100 focus:opacity-100"
              onClick={() => change((before) => ({ views: before.views.filter((x) => x.name !== v.name) }))}
            >
              <X className="size-3.5" />
            </button>
          )}
        </span>
      ))}
    </>
  );
}
