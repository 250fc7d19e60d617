import { Menu, MenuButton, MenuItem, MenuItems, MenuSeparator } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { ChevronDown } from 'lucide-react';
import { Fragment, useState } from 'react';
import { useSearchParams } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { useCatalogue, useMe } from '../api/session';
import { Button } from '../ui/parts';
import { edits, EditSheet, type EditKind } from './EditSheet';
import { HandApp, MOST_HANDED } from './HandApp';
import { OrderSheet } from './OrderSheet';

/** Devices one by one, or all that match a filter. */
export type Whom = { count: number } & (
  { devices: string[]; matching?: undefined } | { matching: Schemas['DeviceFilter']; devices?: undefined }
);

/** Something in the menu that is no command. */
function Doing({ title, help, onClick }: { title: string; help: string; onClick: () => void }) {
  return (
    <MenuItem>
      <button
        type="button"
        onClick={onClick}
        className="data-focus:bg-raised block w-full px-3 py-1.5 text-left"
      >
        <span className="block text-sm">{title}</span>
        <span className="text-quiet block text-xs">{help}</span>
      </button>
    </MenuItem>
  );
}

/** The commands that can be ordered to some devices, and what else can be done to them. */
export function ActMenu({
  whom,
  name,
  device,
  onRename,
}: {
  whom: Whom;
  name?: string;
  device?: string;
  onRename?: () => void;
}) {
  const catalogue = useCatalogue();
  const me = useMe();
  const cannot = useQuery({
    queryKey: ['device', device, 'cannot'],
    enabled: device !== undefined,
    queryFn: () => answer(api.GET('/devices/{id}/cannot', { params: { path: { id: device! } } })),
  });
  const why = (key: string) => cannot.data?.items.find((c) => c.command === key)?.reason;
  // first what it can do, then what wipes, then what it cannot
  const room = (c: Schemas['CommandSpec']) => (why(c.key) ? 2 : c.danger === 'wipes' ? 1 : 0);
  const commands = catalogue.data?.commands ?? [];
  const mayEdit = ['owner', 'operator'].includes(me.data?.account.role ?? '');
  const [ordering, setOrdering] = useState<Schemas['CommandSpec']>();
  const [editing, setEditing] = useState<EditKind>();
  const [handing, setHanding] = useState(false);
  const called = name ?? `${whom.count} device${whom.count === 1 ? '' : 's'}`;
  // what somebody came for, such as from the search that is always at hand
  const [search, setSearch] = useSearchParams();
  const wanted = catalogue.data?.commands.find((c) => c.key === search.get('order'));
  const verb = wanted?.title.toLowerCase();
  const order = ordering ?? (name === undefined ? undefined : wanted);
  const done = () => {
    setOrdering(undefined);
    if (wanted) {
      search.delete('order');
      setSearch(search, { replace: true });
    }
  };
  const between = <MenuSeparator className="border-line my-1 border-t" />;
  const item = (c: Schemas['CommandSpec']) => (
    <MenuItem key={c.key} disabled={why(c.key) !== undefined}>
      <button
        type="button"
        onClick={() => setOrdering(c)}
        title={c.help}
        className="data-focus:bg-raised group block w-full break-inside-avoid px-3 py-1 text-left data-disabled:cursor-not-allowed"
      >
        <span className={clsx('group-data-disabled:text-quiet block text-sm', room(c) === 1 && 'text-rust')}>
          {c.title}
        </span>
        {why(c.key) && <span className="text-quiet block text-xs">{why(c.key)}</span>}
      </button>
    </MenuItem>
  );
  return (
    <>
      {wanted && name === undefined && (
        <Button weight="main" disabled={whom.count === 0} onClick={() => setOrdering(wanted)}>
          {whom.count === 0 ? `Tick the devices to ${verb}` : `${wanted.title} ${called}`}
        </Button>
      )}
      <Menu>
        <MenuButton as={Button} weight={wanted ? undefined : 'main'} disabled={whom.count === 0}>
          {whom.count === 0 ? 'Select devices to act on' : `Act on ${called}`}
          <ChevronDown className="size-4" />
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="border-line bg-sheet z-30 mt-1 w-[32rem] max-w-[calc(100vw-1.5rem)] border py-1 shadow-lg"
        >
          <div className="sm:columns-2 sm:gap-0">{commands.filter((c) => room(c) === 0).map(item)}</div>
          {mayEdit && (
            <>
              {between}
              <div className={clsx('sm:grid sm:grid-cols-2', name === undefined && 'gap-y-1')}>
                {whom.devices && whom.count <= MOST_HANDED && (
                  <Doing
                    title="Install or remove an app"
                    help="By an assignment, rehearsed like any."
                    onClick={() => setHanding(true)}
                  />
                )}
                {/* one device is placed, tagged and retired on its card */}
                {name === undefined
                  ? edits.map((e) => (
                      <Doing key={e.key} title={e.title} help={e.help} onClick={() => setEditing(e.key)} />
                    ))
                  : onRename && <Doing title="Rename" help="Its name and its tags." onClick={onRename} />}
              </div>
            </>
          )}
          {[1, 2].map((r) => {
            const there = commands.filter((c) => room(c) === r);
            return (
              there.length > 0 && (
                <Fragment key={r}>
                  {between}
                  <div className="sm:columns-2 sm:gap-0">{there.map(item)}</div>
                </Fragment>
              )
            );
          })}
        </MenuItems>
      </Menu>
      {editing && (
        <EditSheet kind={editing} whom={whom} called={called} onClose={() => setEditing(undefined)} />
      )}
      {handing && whom.devices && <HandApp devices={whom.devices} onClose={() => setHanding(false)} />}
      {order && <OrderSheet spec={order} whom={whom} called={called} onClose={done} />}
    </>
  );
}
