'use client';
import { X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useRef, type ReactNode } from 'react';
import { IconButton } from './button';

interface SheetProps {
  readonly title: string;
  /** More of it, at the right of the title. */
  readonly aside?: ReactNode;
  readonly isOpen?: boolean;
  readonly onClose: () => void;
  /** Its width. */
  readonly className: string;
  readonly children: ReactNode;
}

/** A dialog over the page, under its title. What had the focus before has it again once it is closed. */
export function Sheet({ title, aside, isOpen = true, onClose, className, children }: SheetProps) {
  const before = useRef<Element | null>(null);
  return (
    <Dialog.Root open={isOpen} onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          onOpenAutoFocus={() => (before.current = document.activeElement)}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            if (before.current instanceof HTMLElement) before.current.focus();
          }}
          className={`fixed top-1/2 left-1/2 z-50 flex max-h-[92vh] max-w-[96vw] -translate-x-1/2 -translate-y-1/2 flex-col rounded-md border border-rule bg-sheet ${className}`}
        >
          <div className="flex items-baseline justify-between gap-3 border-b border-rule px-5 py-3">
            <Dialog.Title className="text-[15px] font-semibold">{title}</Dialog.Title>
            {aside !== undefined && <span className="grow text-right text-soft">{aside}</span>}
            <Dialog.Close asChild>
              <IconButton label="Close">
                <X size={15} />
              </IconButton>
            </Dialog.Close>
          </div>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
