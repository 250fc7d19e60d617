import { Dialog, DialogPanel } from '@headlessui/react';
import clsx from 'clsx';
import { X } from 'lucide-react';
import { Link, useLocation } from 'react-router';
import type { View } from '../api/layouts';
import { Button } from '../ui/parts';
import { ViewLinks } from './views';

export interface PageLink {
  to: string;
  name: string;
  /** The list on it, when it has views. */
  list?: string;
  /** Views that come with Pinwright. */
  ready?: View[];
}

export interface Area {
  to: string;
  name: string;
  pages: PageLink[];
}

function DrawerLink({ to, name, here }: { to: string; name: string; here: boolean }) {
  return (
    <Link
      to={to}
      className={clsx(
        'block border-l-2 px-4 py-2',
        here ? 'border-brass font-semibold' : 'hover:bg-raised border-transparent',
      )}
    >
      {name}
    </Link>
  );
}

/** All pages, in a drawer at the left: what a phone has in the place of the bars. */
export function Drawer({
  areas,
  area,
  page,
  organisation,
  onClose,
}: {
  areas: Area[];
  area: Area | undefined;
  page: PageLink | undefined;
  organisation: string;
  onClose: () => void;
}) {
  const place = useLocation();
  return (
    <Dialog open onClose={onClose} className="relative z-40 md:hidden">
      <div className="bg-ink/25 fixed inset-0 dark:bg-black/50" aria-hidden />
      <DialogPanel className="bg-sheet border-line fixed inset-y-0 left-0 w-72 overflow-y-auto border-r pb-6 text-sm shadow-lg">
        <div className="border-line flex h-12 items-center border-b pr-2 pl-4 font-semibold">
          {organisation}
          <Button weight="bare" className="ml-auto px-2" aria-label="Close the pages" onClick={onClose}>
            <X className="size-5" />
          </Button>
        </div>
        {areas.map((a) => (
          <div key={a.to} className="pt-3">
            {a.pages.length === 0 ? (
              <DrawerLink to={a.to} name={a.name} here={place.pathname.startsWith(a.to)} />
            ) : (
              <>
                <p className="label px-4 pb-1">{a.name}</p>
                {a.pages.map((p) => (
                  <DrawerLink key={p.to} to={p.to} name={p.name} here={p === page} />
                ))}
                {a === area && page?.list && (
                  <ViewLinks list={page.list} to={page.to} ready={page.ready ?? []} />
                )}
              </>
            )}
          </div>
        ))}
      </DialogPanel>
    </Dialog>
  );
}
