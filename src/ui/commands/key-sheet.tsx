'use client';
import { Dialog } from 'radix-ui';
import { X } from 'lucide-react';
import { IconButton } from '../parts/button';
import { COMMANDS, commandsOf, keyText, type Room } from './commands';

/** Gestures that are no command of their own. */
const GESTURES: readonly (readonly [string, string])[] = [['Z and drag', 'Move the picture, also beyond the frame']];

/** All keys of a room. */
export function KeySheet({
  room,
  open,
  onOpenChange,
}: {
  readonly room: Room;
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
}) {
  const rows = [...commandsOf(room).map((id) => [keyText(id), COMMANDS[id].title, id] as const), ...GESTURES];
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 max-h-[90vh] w-[760px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-md border border-rule bg-sheet p-5"
        >
          <div className="mb-3 flex items-center justify-between">
            <Dialog.Title className="text-[14px] font-bold">Keys {room === 'bench' ? 'on the bench' : 'on the reel'}</Dialog.Title>
            <Dialog.Close asChild>
              <IconButton label="Close">
                <X size={15} />
              </IconButton>
            </Dialog.Close>
          </div>
          <dl className="columns-2 gap-x-6">
            {rows.map(([key, what, id]) => (
              <div key={what} data-command={id} className="flex break-inside-avoid gap-3 py-[3px]">
                <dt className="w-[86px] shrink-0 font-mono text-[11px]">{key}</dt>
                <dd className="text-soft">{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
