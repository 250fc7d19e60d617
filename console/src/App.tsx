import { createBrowserRouter, Navigate, RouterProvider } from 'react-router';
import { useMe } from './api/session';
import { DevicePage } from './devices/DeviceCard';
import { DevicesPage } from './devices/DevicesPage';
import { GroupsPage } from './devices/GroupsPage';
import { TagsPage } from './devices/TagsPage';
import { AccountsPage } from './house/AccountsPage';
import { MyAccountPage } from './house/MyAccountPage';
import { DirectoryPage } from './house/DirectoryPage';
import { GatewaysPage } from './house/GatewaysPage';
import { MailPage } from './house/MailPage';
import { SetUpPage } from './house/SetUpPage';
import { ArrivalsPage } from './intake/ArrivalsPage';
import { BenchPage } from './intake/BenchPage';
import { BenchSessionPage } from './intake/BenchSessionPage';
import { PrivacyPage } from './intake/PrivacyPage';
import { RegistrarPage } from './intake/RegistrarPage';
import { EnrollmentProfilesPage } from './intake/EnrollmentProfilesPage';
import { InvitationsPage } from './intake/InvitationsPage';
import { NumbersPage } from './intake/NumbersPage';
import { RosterPage } from './intake/RosterPage';
import { TermsPage } from './intake/TermsPage';
import { AttributesPage } from './organisation/AttributesPage';
import { PeoplePage } from './organisation/PeoplePage';
import { SitesPage } from './organisation/SitesPage';
import { UnitsPage } from './organisation/UnitsPage';
import { DispatchPage } from './records/DispatchPage';
import { JournalPage } from './records/JournalPage';
import { ProfileEditor } from './rules/ProfileEditor';
import { ProfilesPage } from './rules/ProfilesPage';
import { BrokenPage } from './shell/BrokenPage';
import { Shell } from './shell/Shell';
import { SignIn } from './shell/SignIn';
import { TodayPage } from './today/TodayPage';
import { Empty, Trouble } from './ui/parts';
import type { Schemas } from './api/client';

const pages = (me: Schemas['Me']) =>
  createBrowserRouter([
    {
      element: <Shell me={me} />,
      children: [
        {
          errorElement: <BrokenPage />,
          children: [
            { path: '/', element: <Navigate to="/today" replace /> },
            { path: '/today', element: <TodayPage /> },
            { path: '/intake', element: <Navigate to="/intake/arrivals" replace /> },
            { path: '/intake/arrivals', element: <ArrivalsPage /> },
            { path: '/intake/invitations', element: <InvitationsPage /> },
            { path: '/intake/profiles', element: <EnrollmentProfilesPage /> },
            { path: '/intake/terms', element: <TermsPage /> },
            { path: '/devices', element: <DevicesPage /> },
            { path: '/devices/groups', element: <GroupsPage /> },
            { path: '/devices/units', element: <UnitsPage /> },
            { path: '/devices/sites', element: <SitesPage /> },
            { path: '/devices/people', element: <PeoplePage /> },
            { path: '/devices/tags', element: <TagsPage /> },
            { path: '/devices/attributes', element: <AttributesPage /> },
            { path: '/intake/roster', element: <RosterPage /> },
            { path: '/intake/numbers', element: <NumbersPage /> },
            { path: '/devices/:id', element: <DevicePage /> },
            { path: '/rules', element: <Navigate to="/rules/profiles" replace /> },
            { path: '/rules/profiles', element: <ProfilesPage /> },
            { path: '/rules/profiles/:id', element: <ProfileEditor /> },
            { path: '/records', element: <Navigate to="/records/journal" replace /> },
            { path: '/records/journal', element: <JournalPage /> },
            { path: '/records/dispatches/:id', element: <DispatchPage /> },
            { path: '/intake/bench', element: <BenchPage /> },
            { path: '/intake/bench/:id', element: <BenchSessionPage /> },
            { path: '/intake/registrar', element: <RegistrarPage /> },
            { path: '/intake/privacy', element: <PrivacyPage /> },
            { path: '/house', element: <Navigate to="/house/set-up" replace /> },
            { path: '/house/set-up', element: <SetUpPage /> },
            { path: '/house/gateways', element: <GatewaysPage /> },
            { path: '/house/mail', element: <MailPage /> },
            { path: '/house/directory', element: <DirectoryPage /> },
            { path: '/house/accounts', element: <AccountsPage /> },
            { path: '/me', element: <MyAccountPage me={me} /> },
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
    return <SignIn />;
  }
  router ??= pages(me.data);
  return <RouterProvider router={router} />;
}
