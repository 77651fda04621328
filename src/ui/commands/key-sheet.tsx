'use client';
import { Sheet } from '../parts/sheet';
import { COMMANDS, commandsOf, keyText, type Room } from './commands';

/** Gestures that are no command of their own. */
const GESTURES: readonly (readonly [string, string])[] = [['Z and drag', 'Move the picture, also beyond the frame']];

/** All shortcuts of a room. */
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
    <Sheet
      title={`Keyboard shortcuts ${room === 'bench' ? 'on the bench' : 'on the reel'}`}
      isOpen={open}
      onClose={() => onOpenChange(false)}
      className="w-[760px]"
    >
      <div tabIndex={0} role="region" aria-label="All shortcuts" className="min-h-0 overflow-y-auto p-5">
        <dl className="columns-2 gap-x-6">
          {rows.map(([key, what, id]) => (
            <div key={what} data-command={id} className="flex break-inside-avoid gap-3 py-[3px]">
              <dt className="w-[86px] shrink-0 font-mono text-[11px]">{key}</dt>
              <dd className="text-soft">{what}</dd>
            </div>
          ))}
        </dl>
      </div>
    </Sheet>
  );
}
