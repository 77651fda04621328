'use client';
import { X } from 'lucide-react';
import { Toast } from 'radix-ui';
import { useFilmState, useTools } from '../store/film-context';
import { IconButton } from './button';

/** What the user has to know. It lies over the room, not in it: nothing may move away under the pointer. */
export function Notices() {
  const { store } = useTools();
  const { notice } = useFilmState('notice');
  return (
    <Toast.Provider label="Note" duration={Infinity}>
      {notice !== null && (
        <Toast.Root
          key={notice}
          role="alert"
          className="flex w-fit max-w-full items-center gap-4 rounded-[5px] border border-rule bg-sheet px-3 py-1.5 shadow-md"
          onOpenChange={(open) => !open && store.notify(null)}
        >
          <Toast.Description className="border-l-[3px] border-heed pl-2.5">{notice}</Toast.Description>
          <Toast.Close asChild>
            <IconButton label="Put this note away">
              <X size={14} />
            </IconButton>
          </Toast.Close>
        </Toast.Root>
      )}
      <Toast.Viewport label="Notes ({hotkey})" className="fixed left-1/2 top-[46px] z-50 flex w-[80%] -translate-x-1/2 justify-center" />
    </Toast.Provider>
  );
}
