'use client';
import { ContextMenu as Radix } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { COMMANDS, keyText, type CommandId } from './commands';

/** An item of a menu: of a command, whose key is shown with it, or of its own. */
export interface MenuAction {
  readonly label: string;
  readonly command?: CommandId;
  readonly isDisabled?: boolean;
  readonly onSelect: () => void;
}

/** A group of items; a line parts it from the next. */
export type MenuActions = readonly (readonly MenuAction[])[];

/** The item of a command, under its own name unless said. */
export const commandItem = (command: CommandId, onSelect: () => void, label: string = COMMANDS[command].title): MenuAction => ({
  label,
  command,
  onSelect,
});

/**
 * A menu for what it is opened on, by the right button or the menu key. `actions` are asked for when it opens, so that a list of hundreds
 * of things costs nothing before.
 */
export function ContextMenu({
  label,
  actions,
  children,
}: {
  readonly label: string;
  readonly actions: () => MenuActions;
  readonly children: ReactNode;
}) {
  const [groups, setGroups] = useState<MenuActions>([]);
  const [main, setMain] = useState<HTMLElement | null>(null);
  return (
    <Radix.Root
      modal={false}
      onOpenChange={(open) => {
        if (!open) return;
        setMain(document.querySelector('main'));
        setGroups(actions().filter((group) => group.length > 0));
      }}
    >
      <Radix.Trigger asChild>{children}</Radix.Trigger>
      <Radix.Portal container={main}>
        <Radix.Content
          aria-label={label}
          className="z-50 max-h-[70vh] min-w-[210px] overflow-y-auto rounded-md border border-rule bg-sheet p-1 shadow-sm"
          onPointerDown={(e) => e.stopPropagation()}
          onPointerUp={(e) => e.stopPropagation()}
        >
          {groups.map((group, i) => (
            <div key={group[0]!.label} role="group">
              {i > 0 && <Radix.Separator className="my-1 h-px bg-rule" />}
              {group.map(({ label: text, command, isDisabled = false, onSelect }) => (
                <Radix.Item
                  key={text}
                  disabled={isDisabled}
                  className="flex cursor-pointer items-baseline justify-between gap-5 rounded-[4px] px-2.5 py-1 outline-none data-[disabled]:cursor-default data-[disabled]:text-soft data-[highlighted]:bg-pressed"
                  onSelect={onSelect}
                >
                  {text}
                  {command !== undefined && <span className="font-mono text-[10.5px] text-soft">{keyText(command)}</span>}
                </Radix.Item>
              ))}
            </div>
          ))}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
