import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import { useCatalogue } from '../api/session';
import { Button } from '../ui/parts';
import { OrderSheet } from './OrderSheet';

/** The commands that can be ordered to some devices. */
export function ActMenu({ devices, name }: { devices: string[]; name?: string }) {
  const catalogue = useCatalogue();
  const [ordering, setOrdering] = useState<Schemas['CommandSpec']>();
  const whom = name ?? `${devices.length} device${devices.length === 1 ? '' : 's'}`;
  return (
    <>
      <Menu>
        <MenuButton as={Button} weight="main" disabled={devices.length === 0}>
          {devices.length === 0 ? 'Select devices to act on' : `Act on ${whom}`}
          <ChevronDown className="size-4" />
        </MenuButton>
        <MenuItems anchor="bottom end" className="border-line bg-sheet z-30 mt-1 w-80 border py-1 shadow-lg">
          {catalogue.data?.commands.map((c) => (
            <MenuItem key={c.key}>
              <button
                type="button"
                onClick={() => setOrdering(c)}
                className="data-focus:bg-raised block w-full px-3 py-1.5 text-left"
              >
                <span className="block text-sm">{c.title}</span>
                <span className="text-quiet block text-xs">{c.help}</span>
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
      {ordering && (
        <OrderSheet spec={ordering} devices={devices} whom={whom} onClose={() => setOrdering(undefined)} />
      )}
    </>
  );
}
