import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useAct } from '../api/act';
import { useEnrollmentProfiles } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { day } from '../ui/dates';
import { Button, counted, Heading, Labelled, Moment, Trouble } from '../ui/parts';
import { onVersion } from '../ui/RecordSheet';
import { Standing } from '../ui/Standing';

type Gateway = Schemas['Gateway'];

function Side(props: { title: string; state: string; note: ReactNode; fault?: string; children: ReactNode }) {
  return (
    <section aria-label={props.title} className="border-line border-t pt-3">
      <div className="flex items-baseline gap-3">
        <h2 className="font-semibold">{props.title}</h2>
        <span className="text-sm">
          <Standing of={props.state} />
        </span>
      </div>
      <div className="text-quiet mt-1 text-sm">{props.note}</div>
      {props.fault && <p className="text-rust mt-1 text-sm">{props.fault}</p>}
      <div className="mt-3 space-y-3">{props.children}</div>
    </section>
  );
}

function Services({ gateway }: { gateway: Gateway }) {
  const { act, trouble, busy } = useAct('gateways', 'set-up');
  const [services, setServices] = useState(gateway.services ?? '');
  const [roots, setRoots] = useState('');
  const path = { platform: gateway.platform };
  return (
    <Side
      title="The vendor's services"
      state={gateway.services ? 'connected' : 'missing'}
      note={
        gateway.services ? (
          <>
            at <span className="font-mono text-xs">{gateway.services}</span>; trusted:{' '}
            {gateway.makers.join(', ')}
          </>
        ) : (
          "The vendor's portal shows the address and the certificate of its makers."
        )
      }
    >
      <div className="grid grid-cols-2 gap-4">
        <Labelled label="Address">
          <input
            className="field font-mono text-xs"
            placeholder="https://…"
            value={services}
            onChange={(e) => setServices(e.target.value)}
          />
        </Labelled>
        <Labelled label="Certificate of the makers (PEM)">
          <textarea
            className="field font-mono text-xs"
            rows={2}
            placeholder="-----BEGIN CERTIFICATE-----"
            value={roots}
            onChange={(e) => setRoots(e.target.value)}
          />
        </Labelled>
      </div>
      <Trouble error={trouble} />
      <Button
        weight={gateway.services ? 'plain' : 'main'}
        disabled={busy || !services.trim() || !roots.trim()}
        onClick={() =>
          void act(
            () =>
              answer(
                api.PUT('/gateways/{platform}', {
                  params: { path, header: onVersion(gateway) },
                  body: { services, roots },
                }),
              ),
            () => setRoots(''),
          )
        }
      >
        {gateway.services ? 'Change' : 'Set up'}
      </Button>
    </Side>
  );
}

function PushNote({ gateway }: { gateway: Gateway }) {
  const push = gateway.push;
  if (!push.expiresAt) {
    return <>A credential lets Pinwright wake devices that keep no connection open.</>;
  }
  const until = day(push.expiresAt);
  return (
    <>
      Under {push.account}, until {until}
      {push.daysLeft !== undefined && ` (${counted(push.daysLeft, 'day')})`}; it wakes{' '}
      {counted(push.devices, 'device')}.
    </>
  );
}

function Push({ gateway }: { gateway: Gateway }) {
  const { act, trouble, busy } = useAct('gateways', 'set-up', 'notices');
  const [certificate, setCertificate] = useState('');
  const path = { platform: gateway.platform };
  const push = gateway.push;
  const download = `data:application/pkcs10;charset=utf-8,${encodeURIComponent(push.request ?? '')}`;
  return (
    <Side title="Push credential" state={push.state} note={<PushNote gateway={gateway} />} fault={push.fault}>
      <ol className="list-inside list-decimal space-y-2 text-sm">
        <li>
          <Button
            disabled={busy || !gateway.services}
            onClick={() =>
              void act(() => answer(api.POST('/gateways/{platform}/push/request', { params: { path } })))
            }
          >
            Make a signing request
          </Button>{' '}
          {push.request && (
            <a
              className="text-brass underline"
              href={download}
              download={`${gateway.platform}-push-request.pem`}
            >
              Download it
            </a>
          )}
        </li>
        <li>
          Have it signed in the vendor's portal
          {push.account && (
            <>
              , under <b>{push.account}</b>: under another account it is not taken
            </>
          )}
          .
        </li>
        <li>Bring what was signed:</li>
      </ol>
      <textarea
        aria-label="Signed credential (PEM)"
        className="field font-mono text-xs"
        rows={3}
        placeholder="-----BEGIN CERTIFICATE-----"
        value={certificate}
        onChange={(e) => setCertificate(e.target.value)}
      />
      <Trouble error={trouble} />
      <Button
        weight={push.state === 'connected' ? 'plain' : 'main'}
        disabled={busy || !certificate.trim() || !push.request}
        onClick={() =>
          void act(
            () =>
              answer(
                api.PUT('/gateways/{platform}/push/credential', {
                  params: { path, header: onVersion(gateway) },
                  body: { certificate },
                }),
              ),
            () => setCertificate(''),
          )
        }
      >
        Take this credential
      </Button>
    </Side>
  );
}

function TokenForm(props: { label: string; disabled: boolean; onTake: (token: string) => Promise<unknown> }) {
  const { act, trouble, busy } = useAct('gateways', 'set-up', 'registrar', 'roster');
  const [token, setToken] = useState('');
  return (
    <>
      <div className="flex items-end gap-2">
        <div className="flex-1">
          <Labelled label="Token of the vendor's portal">
            <input
              className="field font-mono text-xs"
              autoComplete="off"
              value={token}
              onChange={(e) => setToken(e.target.value)}
            />
          </Labelled>
        </div>
        <Button
          disabled={busy || props.disabled || !token.trim()}
          onClick={() =>
            void act(
              () => props.onTake(token),
              () => setToken(''),
            )
          }
        >
          {props.label}
        </Button>
      </div>
      <Trouble error={trouble} />
    </>
  );
}

function RegistrarSide({ gateway }: { gateway: Gateway }) {
  const { act, trouble, busy } = useAct('gateways', 'set-up', 'registrar', 'roster');
  const profiles = useEnrollmentProfiles();
  const path = { platform: gateway.platform };
  const registrar = gateway.registrar;
  return (
    <Side
      title="Device registrar"
      state={registrar.state}
      fault={registrar.fault}
      note={
        registrar.account ? (
          <>
            As {registrar.account}; read <Moment at={registrar.syncedAt} />;{' '}
            <Link className="text-brass underline" to={`/intake/registrar?platform=${gateway.platform}`}>
              {registrar.assigned} of {registrar.registered} devices assigned here
            </Link>
            .
          </>
        ) : (
          'Resellers register new devices there; those assigned to this server join hands-free.'
        )
      }
    >
      {registrar.state !== 'missing' && (
        <div className="grid grid-cols-2 max-md:grid-cols-1 items-end gap-4">
          <Labelled label="They join by" hint="Unless their row on the roster names another.">
            <select
              className="field"
              value={registrar.defaultProfileId ?? ''}
              disabled={busy}
              onChange={(e) =>
                void act(() =>
                  answer(
                    api.PUT('/gateways/{platform}/registrar/profile', {
                      params: { path, header: onVersion(gateway) },
                      body: e.target.value ? { profileId: e.target.value } : {},
                    }),
                  ),
                )
              }
            >
              <option value="">nothing yet: they are refused</option>
              {profiles.data?.items
                .filter((p) => p.platforms.includes(gateway.platform))
                .map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
            </select>
          </Labelled>
          <div className="pb-5">
            <Button
              disabled={busy}
              onClick={() =>
                void act(() =>
                  answer(api.POST('/gateways/{platform}/registrar/reading', { params: { path } })),
                )
              }
            >
              Read now
            </Button>
          </div>
        </div>
      )}
      <TokenForm
        label={registrar.state === 'missing' ? 'Connect' : 'Take another token'}
        disabled={!gateway.services}
        onTake={(token) =>
          answer(
            api.PUT('/gateways/{platform}/registrar', {
              params: { path, header: onVersion(gateway) },
              body: { token },
            }),
          )
        }
      />
      <Trouble error={trouble} />
    </Side>
  );
}

function StoreSide({ gateway }: { gateway: Gateway }) {
  const { act, trouble, busy } = useAct('gateways', 'set-up', 'apps', 'licenses');
  const [read, setRead] = useState<Schemas['StoreReading']>();
  const path = { platform: gateway.platform };
  const { store } = gateway;
  return (
    <Side
      title="App store"
      state={store.state}
      fault={store.fault}
      note={
        store.account ? (
          <>
            As {store.account}; read <Moment at={store.checkedAt} />. What was bought is under{' '}
            <Link className="text-brass underline" to="/apps/licenses">
              Licenses
            </Link>
            .
          </>
        ) : (
          'Apps are found there, and licenses bought there are counted and handed out here.'
        )
      }
    >
      {store.state !== 'missing' && (
        <div className="flex items-center gap-3 pb-3">
          <Button
            disabled={busy}
            onClick={() =>
              void act(
                () => answer(api.POST('/gateways/{platform}/store/reading', { params: { path } })),
                setRead,
              )
            }
          >
            Read now
          </Button>
          {read && (
            <span className="text-quiet text-xs" role="status">
              {counted(read.apps, 'app')}, {counted(read.newVersions, 'new version')};{' '}
              {counted(read.owned, 'license')}
            </span>
          )}
        </div>
      )}
      <TokenForm
        label={store.state === 'missing' ? 'Connect' : 'Take another token'}
        disabled={!gateway.services}
        onTake={(token) =>
          answer(
            api.PUT('/gateways/{platform}/store', {
              params: { path, header: onVersion(gateway) },
              body: { token },
            }),
          )
        }
      />
      <Trouble error={trouble} />
    </Side>
  );
}

/** The connection to each platform's push, registrar and store. */
export function GatewaysPage() {
  const gateways = useQuery({ queryKey: ['gateways'], queryFn: () => answer(api.GET('/gateways')) });
  const [search, setSearch] = useSearchParams();
  const open = search.get('open') ?? gateways.data?.[0]?.platform;
  const gateway = gateways.data?.find((g) => g.platform === open);
  return (
    <section className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <Heading title="Gateways" note="each platform's push, registrar and store" />
      <div className="px-5 pb-8">
        <Trouble error={gateways.error} />
        <nav aria-label="Platforms" className="border-line mb-5 flex gap-6 border-b">
          {gateways.data?.map((g) => (
            <button
              key={g.platform}
              type="button"
              aria-current={g.platform === open}
              className={`-mb-px border-b-2 px-1 pb-2 text-sm ${
                g.platform === open ? 'border-brass font-semibold' : 'hover:border-line border-transparent'
              }`}
              onClick={() => setSearch({ open: g.platform }, { replace: true })}
            >
              {g.name}
            </button>
          ))}
        </nav>
        {gateway && (
          <div key={gateway.platform} className="grid max-w-6xl grid-cols-1 gap-x-10 gap-y-7 xl:grid-cols-2">
            <Services gateway={gateway} />
            <Push gateway={gateway} />
            <RegistrarSide gateway={gateway} />
            <StoreSide gateway={gateway} />
          </div>
        )}
      </div>
    </section>
  );
}
