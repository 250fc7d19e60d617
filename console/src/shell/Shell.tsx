import { useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { Menu as MenuIcon, Moon, Search, Sun } from 'lucide-react';
import { lazy, Suspense, useEffect, useState } from 'react';
import { NavLink, Outlet, useLocation } from 'react-router';
import { useAway, whenBack } from '../api/away';
import { answer, api, type Schemas } from '../api/client';
import { live } from '../api/live';
import { Button } from '../ui/parts';
import { Mark } from './Mark';
import { choose, theme } from './theme';
import { Tray } from './Tray';
import type { Area } from './Drawer';
import { ViewLinks } from './views';

const AccountMenu = lazy(() => import('./AccountMenu').then((m) => ({ default: m.AccountMenu })));
const Drawer = lazy(() => import('./Drawer').then((m) => ({ default: m.Drawer })));
const Finder = lazy(() => import('./Finder').then((m) => ({ default: m.Finder })));

const areas: Area[] = [
  { to: '/today', name: 'Today', pages: [] },
  {
    to: '/intake',
    name: 'Intake',
    pages: [
      { to: '/intake/arrivals', name: 'Arrivals', list: 'arrivals' },
      { to: '/intake/roster', name: 'Roster', list: 'roster' },
      { to: '/intake/invitations', name: 'Invitations', list: 'invitations' },
      { to: '/intake/profiles', name: 'Enrollment profiles' },
      { to: '/intake/bench', name: 'Bench' },
      { to: '/intake/registrar', name: 'Registrar', list: 'registrar' },
      { to: '/intake/terms', name: 'Terms' },
      { to: '/intake/privacy', name: 'Privacy' },
      { to: '/intake/numbers', name: 'Numbers' },
    ],
  },
  {
    to: '/devices',
    name: 'Devices',
    pages: [
      {
        to: '/devices',
        name: 'All devices',
        list: 'devices',
        ready: [
          { name: 'Needs attention', search: '?standing=blocked' },
          { name: 'Catching up', search: '?standing=catching-up' },
          { name: 'Out of order', search: '?rule=order+is+out-of-order' },
          { name: 'Just arrived', search: '?sort=enrolled' },
        ],
      },
      { to: '/devices/map', name: 'Map' },
      { to: '/devices/lost', name: 'Lost' },
      { to: '/devices/groups', name: 'Groups' },
      { to: '/devices/units', name: 'Units' },
      { to: '/devices/sites', name: 'Sites' },
      { to: '/devices/people', name: 'People', list: 'people' },
      { to: '/devices/tags', name: 'Tags' },
      { to: '/devices/attributes', name: 'Attributes' },
      { to: '/devices/standing-orders', name: 'Standing orders' },
      { to: '/devices/wipes', name: 'Wipes' },
    ],
  },
  {
    to: '/rules',
    name: 'Rules',
    pages: [
      { to: '/rules/profiles', name: 'Profiles' },
      { to: '/rules/kits', name: 'Kits' },
      { to: '/rules/checks', name: 'Checks' },
      { to: '/rules/files', name: 'Files' },
      { to: '/rules/proposals', name: 'Proposals' },
    ],
  },
  {
    to: '/apps',
    name: 'Apps',
    pages: [
      { to: '/apps/catalogue', name: 'Catalogue' },
      { to: '/apps/behind', name: 'Updates' },
      { to: '/apps/assignments', name: 'Assignments' },
      { to: '/apps/shelf', name: 'Shelf' },
      { to: '/apps/licenses', name: 'Licenses' },
      { to: '/apps/documents', name: 'Documents' },
    ],
  },
  {
    to: '/records',
    name: 'Records',
    pages: [
      { to: '/records/journal', name: 'Journal', list: 'journal' },
      { to: '/records/commands', name: 'Commands', list: 'commands' },
    ],
  },
];
const house: Area = {
  to: '/house',
  name: 'House',
  pages: [
    { to: '/house/set-up', name: 'Set-up' },
    { to: '/house/gateways', name: 'Gateways' },
    { to: '/house/mail', name: 'Mail' },
    { to: '/house/directory', name: 'Staff directory' },
    { to: '/house/accounts', name: 'Accounts' },
    { to: '/house/thresholds', name: 'Before changes' },
    { to: '/house/configuration', name: 'All as files' },
  ],
};

function AreaLink({ area, here }: { area: Area; here: boolean }) {
  return (
    <NavLink
      to={area.pages[0]?.to ?? area.to}
      className={clsx(
        'flex items-center border-b-2 px-3 text-sm',
        here ? 'border-brass font-semibold' : 'hover:border-line border-transparent',
      )}
    >
      {area.name}
    </NavLink>
  );
}

/** Top bar, left pages, the page itself, and the tray. */
export function Shell({ me }: { me: Schemas['Me'] }) {
  const queries = useQueryClient();
  const place = useLocation();
  const [finding, setFinding] = useState(false);
  const [drawer, setDrawer] = useState(false);
  const [at, setAt] = useState(place.key);
  if (at !== place.key) {
    // whoever chose a page wants to see it
    setAt(place.key);
    setDrawer(false);
  }
  const [worn, setWorn] = useState(theme());
  useEffect(() => live(queries), [queries]);
  const away = useAway();
  useEffect(() => whenBack(() => void queries.invalidateQueries()), [queries]);
  useEffect(() => {
    const keys = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k') {
        e.preventDefault();
        setFinding(true);
      }
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, []);
  const area = [...areas, house].find((a) => place.pathname.startsWith(a.to));
  const page = area?.pages.filter((p) => place.pathname.startsWith(p.to)).at(-1);
  const flip = () => {
    const next = worn === 'dark' ? 'light' : 'dark';
    choose(next);
    setWorn(next);
  };
  const leave = async () => {
    await answer(api.DELETE('/sign-in'));
    queries.clear();
    location.assign('/');
  };
  return (
    <div className="flex h-full flex-col">
      <header className="border-line bg-sheet flex h-12 shrink-0 items-center gap-1 border-b px-4">
        <Button
          weight="bare"
          className="-ml-3 px-2 md:hidden"
          aria-label="Pages"
          onClick={() => setDrawer(true)}
        >
          <MenuIcon className="size-5" />
        </Button>
        <Mark />
        <span className="mr-5 ml-2 truncate font-semibold max-md:mr-2">{me.organisation}</span>
        <nav aria-label="Areas" className="flex h-full max-md:hidden">
          {areas.map((a) => (
            <AreaLink key={a.to} area={a} here={a === area} />
          ))}
        </nav>
        <button
          type="button"
          onClick={() => setFinding(true)}
          className="border-line text-quiet hover:border-slate ml-auto flex h-8 w-64 shrink-0 items-center gap-2 rounded-[3px] border px-2 text-sm max-md:w-auto"
        >
          <Search className="size-4" />
          <span className="max-md:sr-only">Find anything</span>
          <kbd className="ml-auto font-mono text-xs max-md:hidden">Ctrl K</kbd>
        </button>
        <nav aria-label="House" className="flex h-full max-md:hidden">
          <AreaLink area={house} here={house === area} />
        </nav>
        <Button
          weight="bare"
          className="max-md:px-2"
          onClick={flip}
          aria-label={worn === 'dark' ? 'Use the light ground' : 'Use the dark ground'}
        >
          {worn === 'dark' ? <Sun className="size-4" /> : <Moon className="size-4" />}
        </Button>
        <Suspense>
          <AccountMenu me={me} onLeave={() => void leave()} />
        </Suspense>
      </header>
      {away && (
        <p
          role="status"
          className="bg-sheet border-rust text-rust border-b px-5 py-1.5 text-sm font-semibold"
        >
          {away} This page goes on by itself.
        </p>
      )}
      <div className="flex min-h-0 flex-1">
        {area && area.pages.length > 0 && (
          <nav
            aria-label={area.name}
            className="border-line w-48 shrink-0 overflow-y-auto border-r py-3 text-sm max-md:hidden"
          >
            {area.pages.map((p) => (
              <NavLink
                key={p.to}
                to={p.to}
                className={() =>
                  clsx(
                    'block border-l-2 px-4 py-1.5',
                    p === page && !p.ready?.some((v) => v.search === place.search)
                      ? 'border-brass font-semibold'
                      : 'hover:bg-raised border-transparent',
                  )
                }
              >
                {p.name}
              </NavLink>
            ))}
            {page?.list && <ViewLinks list={page.list} to={page.to} ready={page.ready ?? []} />}
          </nav>
        )}
        <main className="flex min-h-0 min-w-0 flex-1">
          <Outlet />
        </main>
      </div>
      <Tray />
      {drawer && (
        <Suspense>
          <Drawer
            areas={[...areas, house]}
            area={area}
            page={page}
            organisation={me.organisation}
            onClose={() => setDrawer(false)}
          />
        </Suspense>
      )}
      {finding && (
        <Suspense>
          <Finder onClose={() => setFinding(false)} />
        </Suspense>
      )}
    </div>
  );
}
