'use client';
import { Dialog } from 'radix-ui';
import { X } from 'lucide-react';
import { IconButton } from '../parts/button';

const KEYS: readonly (readonly [string, string])[] = [
  ['Space', 'play or pause'],
  ['← →', 'one frame back, one frame on'],
  ['Shift ← →', 'previous, next keyframe or fault'],
  ['Home End', 'first, last frame'],
  ['J K L', 'play backwards, stop, play; again for faster'],
  ['1 2 3 4', 'Pair, Mask, Track, Check'],
  ['X', 'swap keep and drop'],
  ['[ ]', 'smaller, larger brush'],
  ['T', 'carry the matte one frame on; in Track: follow the region'],
  ['Shift T', 'carry or follow to the end'],
  ['Q', 'the stage view before this one'],
  ['O', 'overlay'],
  ['D', 'difference'],
  ['+ − 0', 'zoom in, out, fit the frame'],
  ['Z and drag', 'move the picture, also beyond the frame'],
  ['arrows', 'with points chosen: move them by 1 px, with Shift by 10'],
  ['Delete', 'remove the chosen points'],
  ['Enter', 'close the outline being drawn'],
  ['Esc', 'choose nothing'],
  ['.', 'keyframe here'],
  ['G', 'ghosts of the neighbouring keyframes'],
  ['Ctrl Z', 'take back'],
  ['Ctrl Shift Z', 'bring back'],
  ['?', 'this sheet'],
];

export function KeySheet({ open, onOpenChange }: { readonly open: boolean; readonly onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 w-[560px] -translate-x-1/2 -translate-y-1/2 rounded-md border border-rule bg-sheet p-5"
        >
          <div className="mb-3 flex items-center justify-between">
            <Dialog.Title className="text-[14px] font-bold">Keys</Dialog.Title>
            <Dialog.Close asChild>
              <IconButton label="Close">
                <X size={15} />
              </IconButton>
            </Dialog.Close>
          </div>
          <dl className="grid grid-cols-2 gap-x-6 gap-y-1.5">
            {KEYS.map(([key, what]) => (
              <div key={key} className="flex gap-3">
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
