import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { LogOut, UserRound } from 'lucide-react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { Button } from '../ui/parts';

/** Who is signed in, and what they may do about it. */
export function AccountMenu({ me, onLeave }: { me: Schemas['Me']; onLeave: () => void }) {
  return (
    <Menu>
      <MenuButton as={Button} weight="bare" className="max-md:px-2">
        <UserRound className="size-4 md:hidden" />
        <span className="max-md:sr-only">{me.account.name}</span>
      </MenuButton>
      <MenuItems anchor="bottom end" className="border-line bg-sheet z-30 w-52 border py-1 text-sm shadow-lg">
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
            onClick={onLeave}
            className="data-focus:bg-raised flex w-full items-center gap-2 px-3 py-1.5"
          >
            <LogOut className="size-4" /> Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
