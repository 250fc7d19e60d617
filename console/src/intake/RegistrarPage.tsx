import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { useEnrollmentProfiles } from '../api/choices';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Choice, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, counted, Empty, Labelled, Moment, Trouble } from '../ui/parts';
import { pickColumn } from '../ui/pick';
import { useSelection } from '../ui/selection';
import { Standing } from '../ui/Standing';

type Row = Schemas['RegisteredDevice'] & { id: string };

const columns: ColumnDef<Row>[] = [
  pickColumn<Row>((d) => d.serial),
  {
    id: 'serial',
    header: 'Serial',
    size: 150,
    accessorFn: (d) => d.serial,
    cell: ({ row }) => <span className="font-mono text-xs">{row.original.serial}</span>,
  },
  { id: 'model', header: 'Model', size: 110, accessorFn: (d) => d.model },
  { id: 'order', header: 'Order', size: 130, accessorFn: (d) => d.order },
  {
    id: 'registered',
    header: 'Registered',
    size: 120,
    accessorFn: (d) => d.registeredAt,
    cell: ({ row }) => <Moment at={row.original.registeredAt} />,
  },
  {
    id: 'here',
    header: 'Assigned here',
    size: 130,
    accessorFn: (d) => d.assigned,
    cell: ({ row }) =>
      row.original.assigned ? <Standing of="done" word="yes" /> : <Standing of="missing" word="not yet" />,
  },
  {
    id: 'profile',
    header: 'Joins by',
    size: 160,
    accessorFn: (d) => d.profile ?? (d.assigned ? 'the default' : '–'),
  },
  {
    id: 'arrived',
    header: 'Arrived',
    size: 180,
    accessorFn: (d) => d.deviceName,
    cell: ({ row }) =>
      row.original.deviceId ? (
        <Link className="text-brass underline" to={`/devices?card=${row.original.deviceId}`}>
          {row.original.deviceName}
        </Link>
      ) : (
        <span className="text-quiet">not yet</span>
      ),
  },
];

function Assign(props: {
  platform: Schemas['PlatformKey'];
  serials: string[];
  take: boolean;
  onClose: () => void;
}) {
  const { act, trouble, busy } = useAct('registrar', 'gateways', 'roster');
  const profiles = useEnrollmentProfiles();
  const [profileId, setProfile] = useState('');
  const n = counted(props.serials.length, 'device');
  return (
    <Sheet
      title={props.take ? `Take ${n} back` : `Assign ${n} to this server`}
      onClose={props.onClose}
      actions={
        <>
          <Button onClick={props.onClose}>Cancel</Button>
          <Button
            weight="main"
            disabled={busy}
            onClick={() =>
              void act(
                () =>
                  answer(
                    api.POST('/gateways/{platform}/registrar/assignment', {
                      params: { path: { platform: props.platform } },
                      body: {
                        serials: props.serials,
                        assign: !props.take,
                        ...(profileId ? { profileId } : {}),
                      },
                    }),
                  ),
                props.onClose,
              )
            }
          >
            {props.take ? `Take ${n} back` : `Assign ${n}`}
          </Button>
        </>
      }
    >
      {props.take ? (
        <p className="text-sm">
          The registrar sends them here no longer. Those that have not arrived are taken off the roster; those
          that have stay as they are, until they are reset.
        </p>
      ) : (
        <>
          <p className="text-sm">They are put on the roster and join by themselves when they are unpacked.</p>
          <Labelled label="They join by">
            <select className="field" value={profileId} onChange={(e) => setProfile(e.target.value)}>
              <option value="">the registrar's default</option>
              {profiles.data?.items
                .filter((p) => p.platforms.includes(props.platform))
                .map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
            </select>
          </Labelled>
        </>
      )}
      <Trouble error={trouble} />
    </Sheet>
  );
}

/** How things stand with one registrar, and the button that reads it now. */
function Side({ platform, side }: { platform: Schemas['PlatformKey']; side: Schemas['RegistrarSide'] }) {
  const { act, trouble, busy } = useAct('registrar', 'gateways', 'set-up', 'roster');
  const profile = useQuery({
    queryKey: ['enrollment-profiles', side.defaultProfileId],
    enabled: side.defaultProfileId !== undefined,
    queryFn: () =>
      answer(api.GET('/enrollment-profiles/{id}', { params: { path: { id: side.defaultProfileId! } } })),
  });
  const gateway = `/house/gateways?open=${platform}`;
  return (
    <div className="border-line flex flex-wrap items-center gap-x-6 gap-y-2 border-y py-2 text-sm">
      <span>
        <b>{side.assigned}</b> of {counted(side.registered, 'registered device')} assigned here
      </span>
      <span>
        They join by{' '}
        <Link className="text-brass underline" to={gateway}>
          {profile.data?.name ?? 'no profile yet'}
        </Link>
        , unless another is chosen
      </span>
      <span className="text-quiet ml-auto">
        {side.syncedAt ? (
          <>
            read <Moment at={side.syncedAt} />
          </>
        ) : (
          'not read yet'
        )}
      </span>
      <Button
        disabled={busy}
        onClick={() =>
          void act(() =>
            answer(api.POST('/gateways/{platform}/registrar/reading', { params: { path: { platform } } })),
          )
        }
      >
        Read now
      </Button>
      {side.fault && <p className="text-rust w-full">{side.fault}</p>}
      <Trouble error={trouble} />
    </div>
  );
}

/** Devices that resellers registered with a platform's registrar. */
export function RegistrarPage() {
  const filters = useFilters(['platform', 'q', 'assigned'] as const);
  const gateways = useQuery({ queryKey: ['gateways'], queryFn: () => answer(api.GET('/gateways')) });
  const connected = gateways.data?.filter((g) => g.registrar.state !== 'missing') ?? [];
  const platform = (connected.find((g) => g.platform === filters.asked.platform) ?? connected[0])?.platform;
  const side = connected.find((g) => g.platform === platform)?.registrar;
  const selection = useSelection(JSON.stringify({ ...filters.query, platform }));
  const [acting, setActing] = useState<'assign' | 'take'>();
  const picked = selection.selection.all ? [] : selection.selection.ids;
  const { q, assigned } = filters.query;
  return (
    <ListPage<Row>
      list="registrar"
      title="Registrar"
      note="new devices that join hands-free"
      actions={
        picked.length > 0 && (
          <>
            <Button onClick={() => setActing('take')}>Take {picked.length} back</Button>
            <Button weight="main" onClick={() => setActing('assign')}>
              Assign {picked.length} here
            </Button>
          </>
        )
      }
      banner={side && platform && <Side platform={platform} side={side} />}
      columns={columns}
      query={['registrar', platform, q, assigned]}
      load={async (after) => {
        if (!platform) {
          return { items: [] };
        }
        const page = await answer(
          api.GET('/gateways/{platform}/registrar/devices', {
            params: { path: { platform }, query: { q, assigned, after, limit: 100 } },
          }),
        );
        return { ...page, items: page.items.map((d) => ({ ...d, id: d.serial })) };
      }}
      selection={selection}
      toolbar={
        <>
          {connected.length > 1 && (
            <Choice
              filters={filters}
              name="platform"
              label="Platform"
              options={connected.map((g) => [g.platform, g.name])}
            />
          )}
          <Words filters={filters} placeholder="Serial, order, model" />
          <Choice
            filters={filters}
            name="assigned"
            label="Assigned"
            options={[
              ['true', 'assigned here'],
              ['false', 'not assigned'],
            ]}
          />
        </>
      }
      empty={
        <Empty title={platform ? 'The registrar has no such devices.' : 'No registrar is connected.'}>
          {platform ? (
            'Resellers register devices when they are bought.'
          ) : (
            <>
              <Link className="text-brass underline" to="/house/gateways">
                Connect one
              </Link>
              , and devices bought from a reseller join with no one touching them.
            </>
          )}
        </Empty>
      }
    >
      {acting && platform && (
        <Assign
          platform={platform}
          serials={picked}
          take={acting === 'take'}
          onClose={() => {
            setActing(undefined);
            selection.set({ all: false, ids: [] });
          }}
        />
      )}
    </ListPage>
  );
}
