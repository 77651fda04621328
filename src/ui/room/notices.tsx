'use client';
import { X } from 'lucide-react';
import { Toast } from 'radix-ui';
import { useFilmState, useTools } from '../store/film-context';
import type { AsideEdit } from '../store/kept-edits';
import { Button, IconButton } from '../parts/button';
import { downloadText } from '../parts/download';

/** A note goes by itself after so long, unless it asks something. */
const NOTE_MS = 6000;

const CARD = 'pointer-events-auto flex w-fit max-w-full items-center gap-3 rounded-[5px] border border-rule bg-sheet px-3 py-1.5 shadow-md';

/** What the user has to know. It lies at the lower left, over no control, and nothing moves away under the pointer. */
export function Notices() {
  const { store } = useTools();
  const { notice, offer, aside } = useFilmState('notice', 'offer', 'aside');
  return (
    <Toast.Provider label="Note" duration={NOTE_MS}>
      {notice !== null && (
        <Toast.Root key={notice} role="alert" className={CARD} onOpenChange={(open) => !open && store.notify(null)}>
          <Toast.Description className="border-l-[3px] border-heed pl-2.5">{notice}</Toast.Description>
          {offer !== null && (
            <Toast.Action asChild altText={offer.label}>
              <Button onClick={offer.take}>{offer.label}</Button>
            </Toast.Action>
          )}
          <Toast.Close asChild>
            <IconButton label="Dismiss">
              <X size={14} />
            </IconButton>
          </Toast.Close>
        </Toast.Root>
      )}
      {aside.length > 0 && (
        <Toast.Root duration={Infinity} role="alert" className={CARD}>
          <Toast.Description className="border-l-[3px] border-fault pl-2.5">{asideText(aside)}</Toast.Description>
          <span className="flex shrink-0 gap-1.5">
            <Button onClick={() => store.retryAside()}>Try again</Button>
            <Button
              onClick={() =>
                downloadText(
                  'changes-set-aside.json',
                  `${JSON.stringify({ format: 'irimi edits', film: store.filmId, edits: aside }, null, 2)}\n`,
                  'application/json',
                )
              }
            >
              Save as a file
            </Button>
            <Button onClick={() => store.discardAside()}>Discard</Button>
          </span>
        </Toast.Root>
      )}
      <Toast.Viewport
        label="Notes ({hotkey})"
        className="pointer-events-none fixed bottom-2 left-2 z-50 flex max-w-[620px] flex-col items-start gap-1.5"
      />
    </Toast.Provider>
  );
}

function asideText(aside: readonly AsideEdit[]): string {
  const [first] = aside;
  const others = aside.length === 1 ? '' : ` and ${aside.length - 1} more`;
  return `“${first!.edit.name}”${others} could not be stored and was set aside: ${first!.why.replace(/\.$/, '')}.`;
}
