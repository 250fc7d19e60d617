import { useQuery } from '@tanstack/react-query';
import type { ColumnDef } from '@tanstack/react-table';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAct } from '../api/act';
import { answer, api, type Schemas } from '../api/client';
import { Sheet } from '../ui/Dialog';
import { Choice, useFilters, Words } from '../ui/filters';
import { ListPage } from '../ui/ListPage';
import { Button, Empty, Labelled, Moment, Trouble } from '../ui/parts';
import { pickColumn } from '../ui/pick';
import { useSelection } from '../ui/selection';
import { Standing } from '../ui/Standing';

type Row = Schemas['RegisteredDevice'] & { id: string };

const columns: ColumnDef<Row>[] = [
  pickColumn<Row>((d) => d.serial),
  {
    id: 'serial',
    header: 'Serial',
    size: 180,
    accessorFn: (d) => d.serial,
    cell: ({ row }) => <span className="font-mono text-xs">{row.original.serial}</span>,
  },
  { id: 'model', header: 'Model', size: 110, accessorFn: (d) => d.model },
  { id: 'order', header: 'Order', size: 150, accessorFn: (d) => d.order },
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
    cell: ({ row }) => <Standing of={row.original.assigned ? 'done' : 'missing'} />,
  },
  { id: 'profile', header: 'Joins by', size: 190, accessorFn: (d) => d.profile ?? 'the default' },
  {
    id: 'arrived',
    header: 'Arrived',
    size: 120,
    accessorFn: (d) => d.deviceId,
    cell: ({ row }) =>
      row.original.deviceId ? (
        <Link className="text-brass underline" to={`/devices/${row.original.deviceId}`}>
          its device
        </Link>
      ) : (
        <span className="text-quiet">not yet</span>
      ),
  },
];

function Assign(props: { platform: string; serials: string[]; take: boolean; onClose: () => void }) {
  const { act, trouble, busy } = useAct('registrar', 'gateways', 'roster');
  const profiles = useQuery({
    queryKey: ['enrollment-profiles', 'choice'],
    queryFn: () => answer(api.GET('/enrollment-profiles', { params: { query: { limit: 200 } } })),
  });
  const [profileId, setProfile] = useState('');
  const n = props.serials.length === 1 ? '1 device' : `${props.serials.length} devices`;
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

/** Devices that resellers registered with a platform's registrar. */
export function RegistrarPage() {
  const filters = useFilters(['platform', 'q', 'assigned'] as const);
  const gateways = useQuery({ queryKey: ['gateways'], queryFn: () => answer(api.GET('/gateways')) });
  const connected = gateways.data?.filter((g) => g.registrar.state !== 'missing') ?? [];
  const platform = filters.asked.platform || connected[0]?.platform || '';
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
      {acting && (
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
