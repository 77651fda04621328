'use client';
import { ArrowRight } from 'lucide-react';
import type { NextThing } from '../../core/recipes/next-thing';
import { STEP_TEXT } from './common/bench-tabs';

/** What the join lacks next, in one sentence, and a way to where it is done. */
export function WayNote({ next, isHere, onGo }: { readonly next: NextThing; readonly isHere: boolean; readonly onGo: () => void }) {
  return (
    <div role="status" data-way className="flex items-start gap-2 border-b border-rule bg-heed/10 px-3.5 py-2.5">
      <p className="min-w-0 grow">{next.text}</p>
      {!isHere && (
        <button type="button" className="flex shrink-0 items-center gap-1 underline" onClick={onGo}>
          {STEP_TEXT[next.step]} <ArrowRight size={13} />
        </button>
      )}
    </div>
  );
}
