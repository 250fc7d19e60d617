import { lazy, Suspense, type ComponentType } from 'react';
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { useMe } from './api/session';
import { BrokenPage } from './shell/BrokenPage';
import { Shell } from './shell/Shell';
import { Empty, Trouble } from './ui/parts';
import type { Schemas } from './api/client';

const SignIn = lazy(() => import('./shell/SignIn').then((m) => ({ default: m.SignIn })));

/** A page that is fetched when it is opened. */
const page =
  <K extends string>(fetch: () => Promise<Record<K, ComponentType>>, name: K) =>
  async () => ({ Component: (await fetch())[name] });

const pages = (me: Schemas['Me']) =>
  createBrowserRouter([
    {
      element: <Shell me={me} />,
      children: [
        {
          errorElement: <BrokenPage />,
          children: [
            { path: '/', element: <Navigate to="/today" replace /> },
            { path: '/today', lazy: page(() => import('./today/TodayPage'), 'TodayPage') },
            { path: '/intake', element: <Navigate to="/intake/arrivals" replace /> },
            { path: '/intake/arrivals', lazy: page(() => import('./intake/ArrivalsPage'), 'ArrivalsPage') },
            {
              path: '/intake/invitations',
              lazy: page(() => import('./intake/InvitationsPage'), 'InvitationsPage'),
            },
            {
              path: '/intake/profiles',
              lazy: page(() => import('./intake/EnrollmentProfilesPage'), 'EnrollmentProfilesPage'),
            },
            { path: '/intake/terms', lazy: page(() => import('./intake/TermsPage'), 'TermsPage') },
            { path: '/devices', lazy: page(() => import('./devices/DevicesPage'), 'DevicesPage') },
            { path: '/devices/groups', lazy: page(() => import('./devices/GroupsPage'), 'GroupsPage') },
            { path: '/devices/units', lazy: page(() => import('./organisation/UnitsPage'), 'UnitsPage') },
            { path: '/devices/sites', lazy: page(() => import('./organisation/SitesPage'), 'SitesPage') },
            { path: '/devices/people', lazy: page(() => import('./organisation/PeoplePage'), 'PeoplePage') },
            { path: '/devices/map', lazy: page(() => import('./places/MapPage'), 'MapPage') },
            { path: '/devices/lost', lazy: page(() => import('./devices/LostPage'), 'LostPage') },
            { path: '/devices/lost/:id', lazy: page(() => import('./devices/CasePage'), 'CasePage') },
            {
              path: '/devices/standing-orders',
              lazy: page(() => import('./devices/StandingOrdersPage'), 'StandingOrdersPage'),
            },
            { path: '/devices/screens/:id', lazy: page(() => import('./devices/AssistPage'), 'AssistPage') },
            { path: '/devices/wipes', lazy: page(() => import('./devices/WipesPage'), 'WipesPage') },
            { path: '/devices/tags', lazy: page(() => import('./devices/TagsPage'), 'TagsPage') },
            {
              path: '/devices/attributes',
              lazy: page(() => import('./organisation/AttributesPage'), 'AttributesPage'),
            },
            { path: '/intake/roster', lazy: page(() => import('./intake/RosterPage'), 'RosterPage') },
            { path: '/intake/numbers', lazy: page(() => import('./intake/NumbersPage'), 'NumbersPage') },
            { path: '/devices/:id', lazy: page(() => import('./devices/DeviceCard'), 'DevicePage') },
            { path: '/rules', element: <Navigate to="/rules/profiles" replace /> },
            { path: '/rules/proposals', lazy: page(() => import('./rules/ProposalsPage'), 'ProposalsPage') },
            { path: '/rules/files', lazy: page(() => import('./rules/FilesPage'), 'FilesPage') },
            { path: '/rules/profiles', lazy: page(() => import('./rules/ProfilesPage'), 'ProfilesPage') },
            {
              path: '/rules/profiles/:id',
              lazy: page(() => import('./rules/ProfileEditor'), 'ProfileEditor'),
            },
            { path: '/rules/checks', lazy: page(() => import('./rules/ChecksPage'), 'ChecksPage') },
            { path: '/rules/kits', lazy: page(() => import('./rules/ProfilesPage'), 'KitsPage') },
            { path: '/rules/kits/:id', lazy: page(() => import('./rules/ProfileEditor'), 'ProfileEditor') },
            { path: '/apps', element: <Navigate to="/apps/catalogue" replace /> },
            { path: '/apps/catalogue', lazy: page(() => import('./apps/AppsPage'), 'AppsPage') },
            { path: '/apps/behind', lazy: page(() => import('./apps/BehindPage'), 'BehindPage') },
            {
              path: '/apps/assignments',
              lazy: page(() => import('./rules/ProfilesPage'), 'AssignmentsPage'),
            },
            { path: '/apps/shelf', lazy: page(() => import('./apps/ShelfPage'), 'ShelfPage') },
            { path: '/apps/documents', lazy: page(() => import('./rules/FilesPage'), 'DocumentsPage') },
            { path: '/apps/licenses', lazy: page(() => import('./apps/LicensesPage'), 'LicensesPage') },
            {
              path: '/apps/assignments/:id',
              lazy: page(() => import('./rules/ProfileEditor'), 'ProfileEditor'),
            },
            { path: '/records', element: <Navigate to="/records/journal" replace /> },
            { path: '/records/journal', lazy: page(() => import('./records/JournalPage'), 'JournalPage') },
            {
              path: '/records/commands',
              lazy: page(() => import('./records/CommandsPage'), 'CommandsPage'),
            },
            {
              path: '/records/dispatches/:id',
              lazy: page(() => import('./records/DispatchPage'), 'DispatchPage'),
            },
            { path: '/intake/bench', lazy: page(() => import('./intake/BenchPage'), 'BenchPage') },
            {
              path: '/intake/bench/:id',
              lazy: page(() => import('./intake/BenchSessionPage'), 'BenchSessionPage'),
            },
            {
              path: '/intake/registrar',
              lazy: page(() => import('./intake/RegistrarPage'), 'RegistrarPage'),
            },
            { path: '/intake/privacy', lazy: page(() => import('./intake/PrivacyPage'), 'PrivacyPage') },
            { path: '/house', element: <Navigate to="/house/set-up" replace /> },
            { path: '/house/set-up', lazy: page(() => import('./house/SetUpPage'), 'SetUpPage') },
            { path: '/house/gateways', lazy: page(() => import('./house/GatewaysPage'), 'GatewaysPage') },
            { path: '/house/mail', lazy: page(() => import('./house/MailPage'), 'MailPage') },
            { path: '/house/directory', lazy: page(() => import('./house/DirectoryPage'), 'DirectoryPage') },
            {
              path: '/house/thresholds',
              lazy: page(() => import('./house/ThresholdsPage'), 'ThresholdsPage'),
            },
            {
              path: '/house/configuration',
              lazy: page(() => import('./house/ConfigurationPage'), 'ConfigurationPage'),
            },
            { path: '/house/accounts', lazy: page(() => import('./house/AccountsPage'), 'AccountsPage') },
            {
              path: '/me',
              lazy: async () => {
                const { MyAccountPage } = await import('./house/MyAccountPage');
                return { element: <MyAccountPage me={me} /> };
              },
            },
            {
              path: '*',
              element: (
                <div className="flex-1">
                  <Empty title="There is nothing at this address.">Use the bar at the top, or Ctrl K.</Empty>
                </div>
              ),
            },
          ],
        },
      ],
    },
  ]);

let router: ReturnType<typeof pages> | undefined;

/** The sign-in page, or the console. */
export function App() {
  const me = useMe();
  if (me.isError) {
    return (
      <div className="p-10">
        <Trouble error={me.error} />
      </div>
    );
  }
  if (me.data === undefined) {
    return null;
  }
  if (me.data === null) {
    router = undefined;
    return (
      <Suspense>
        <SignIn />
      </Suspense>
    );
  }
  router ??= pages(me.data);
  return <RouterProvider router={router} />;
}
