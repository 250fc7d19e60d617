import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { LogOut, Moon, Search, Sun, UserRound } from 'lucide-react';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, NavLink, Outlet, useLocation } from 'react-router';
import { useAway, whenBack } from '../api/away';
import { answer, api, type Schemas } from '../api/client';
import { live } from '../api/live';
import { Button } from '../ui/parts';
import { Mark } from './Mark';
import { choose, theme } from './theme';
import { Tray } from './Tray';
import type { View } from '../api/layouts';
import { ViewLinks } from './views';

const Finder = lazy(() => import('./Finder').then((m) => ({ default: m.Finder })));

interface PageLink {
  to: string;
  name: string;
  /** The list on it, when it has views. */
  list?: string;
  /** Views that come with Pinwright. */
  ready?: View[];
}

const areas: { to: string; name: string; pages: PageLink[] }[] = [
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
          { name: 'Just arrived', search: '?sort=enrolled' },
        ],
      },
      { to: '/devices/groups', name: 'Groups' },
      { to: '/devices/units', name: 'Units' },
      { to: '/devices/sites', name: 'Sites' },
      { to: '/devices/people', name: 'People', list: 'people' },
      { to: '/devices/tags', name: 'Tags' },
      { to: '/devices/attributes', name: 'Attributes' },
    ],
  },
  { to: '/rules', name: 'Rules', pages: [{ to: '/rules/profiles', name: 'Profiles' }] },
  { to: '/records', name: 'Records', pages: [{ to: '/records/journal', name: 'Journal', list: 'journal' }] },
];
const house = {
  to: '/house',
  name: 'House',
  pages: [
    { to: '/house/set-up', name: 'Set-up' },
    { to: '/house/gateways', name: 'Gateways' },
    { to: '/house/mail', name: 'Mail' },
    { to: '/house/directory', name: 'Staff directory' },
    { to: '/house/accounts', name: 'Accounts' },
  ] as PageLink[],
};

function AreaLink({ area, here }: { area: (typeof areas)[number]; here: boolean }) {
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
        <Mark />
        <span className="mr-5 ml-2 font-semibold">{me.organisation}</span>
        <nav aria-label="Areas" className="flex h-full">
          {areas.map((a) => (
            <AreaLink key={a.to} area={a} here={a === area} />
          ))}
        </nav>
        <button
          type="button"
          onClick={() => setFinding(true)}
          className="border-line text-quiet hover:border-slate ml-auto flex h-8 w-64 items-center gap-2 rounded-[3px] border px-2 text-sm"
        >
          <Search className="size-4" />
          Find anything
          <kbd className="ml-auto font-mono text-xs">Ctrl K</kbd>
        </button>
        <nav aria-label="House" className="flex h-full">
          <AreaLink area={house} here={house === area} />
        </nav>
        <Button
          weight="bare"
          onClick={flip}
          aria-label={worn === 'dark' ? 'Use the light ground' : 'Use the dark ground'}
        >
          {worn === 'dark' ? <Sun className="size-4" /> : <Moon className="size-4" />}
        </Button>
        <Menu>
          <MenuButton as={Button} weight="bare">
            {me.account.name}
          </MenuButton>
          <MenuItems
            anchor="bottom end"
            className="border-line bg-sheet z-30 w-52 border py-1 text-sm shadow-lg"
          >
            <p className="text-quiet px-3 py-1 text-xs">
              {me.account.login}, {me.account.role}
            </p>
            <MenuItem>
              <Link to="/me" className="data-focus:bg-raised flex items-center gap-2 px-3 py-1.5">
                <UserRound className="size-4" /> Password and sign-ins
              </Link>
            </MenuItem>
            <MenuItem>
              <button
                type="button"
                onClick={leave}
                className="data-focus:bg-raised flex w-full items-center gap-2 px-3 py-1.5"
              >
                <LogOut className="size-4" /> Sign out
              </button>
            </MenuItem>
          </MenuItems>
        </Menu>
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
            className="border-line w-48 shrink-0 overflow-y-auto border-r py-3 text-sm"
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
      {finding && (
        <Suspense>
          <Finder onClose={() => setFinding(false)} />
        </Suspense>
      )}
    </div>
  );
}
