import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';

/** A sheet laid over the page; what does not fit scrolls between title and buttons. Escape puts it away. */
export function Sheet({
  title,
  onClose,
  wide,
  children,
  actions,
}: {
  title: string;
  onClose: () => void;
  wide?: boolean | 'very';
  children: ReactNode;
  actions: ReactNode;
}) {
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="bg-ink/25 fixed inset-0 dark:bg-black/50" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8 max-md:p-0">
        <DialogPanel
          className={`frame flex max-h-full w-full flex-col rounded-[3px] max-md:h-full max-md:rounded-none ${wide === 'very' ? 'max-w-6xl' : wide ? 'max-w-3xl' : 'max-w-lg'}`}
        >
          <DialogTitle className="border-line border-b px-5 py-3 text-base font-semibold">
            {title}
          </DialogTitle>
          <div className="min-h-0 flex-1 space-y-4 overflow-y-auto px-5 py-4">{children}</div>
          <div className="border-line flex justify-end gap-2 border-t px-5 py-3">{actions}</div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
