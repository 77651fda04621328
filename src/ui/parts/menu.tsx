'use client';
import { DropdownMenu } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { IconButton } from './button';

/** A button with a menu, which lies in the page's main part and leaves the rest of the page as it is. */
export function Menu({ label, icon, children }: { readonly label: string; readonly icon: ReactNode; readonly children: ReactNode }) {
  const [main, setMain] = useState<HTMLElement | null>(null);
  return (
    <DropdownMenu.Root modal={false} onOpenChange={() => setMain(document.querySelector('main'))}>
      <DropdownMenu.Trigger asChild>
        <IconButton label={label}>{icon}</IconButton>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal container={main}>
        <DropdownMenu.Content
          align="end"
          className="z-50 max-h-[70vh] overflow-y-auto rounded-md border border-rule bg-sheet p-1 shadow-sm"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function MenuItem({ onSelect, children }: { readonly onSelect: () => void; readonly children: ReactNode }) {
  return (
    <DropdownMenu.Item className="cursor-pointer rounded-[4px] px-2.5 py-1 outline-none data-[highlighted]:bg-pressed" onSelect={onSelect}>
      {children}
    </DropdownMenu.Item>
  );
}

/** A line between groups of items, with what the next ones are. */
export function MenuGroup({ title }: { readonly title?: string }) {
  return (
    <>
      <DropdownMenu.Separator className="my-1 h-px bg-rule" />
      {title !== undefined && <DropdownMenu.Label className="px-2.5 py-1 text-[11.5px] text-soft">{title}</DropdownMenu.Label>}
    </>
  );
}
