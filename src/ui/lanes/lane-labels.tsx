'use client';
import { Pin, PinOff } from 'lucide-react';
import { keysOf } from '../../core/motion/key-edits';
import { IconButton } from '../parts/button';
import { toggleOpen, togglePin } from '../store/bench-state';
import { valueScale } from './lane-geometry';
import type { Lane } from './use-lanes';

const number = (v: number): string => String(Math.round(v * 100) / 100);

/** The column beside the lanes: whose channel it is, its range, and buttons to open and pin it. */
export function LaneLabels({ lanes }: { readonly lanes: readonly Lane[] }) {
  return (
    <div role="group" aria-label="Lanes">
      {lanes.map(({ key, target, channel, facts, isOpen, isPinned, height }) => {
        const scale = valueScale(channel, facts.spacing);
        const count = keysOf(channel).length;
        return (
          <div key={key} className="flex items-start gap-1 border-t border-rule pr-1 pl-3.5" style={{ height }}>
            <button
              type="button"
              aria-expanded={isOpen}
              className="min-w-0 grow pt-[3px] text-left"
              onClick={() => toggleOpen(key)}
              title={isOpen ? 'Close the lane' : 'Open the lane: value and speed'}
            >
              <span className="block truncate text-[12px]">
                <b className="font-semibold">{facts.owner}</b> · {facts.name}
              </span>
              {isOpen && (
                <span className="block font-mono text-[10.5px] text-soft">
                  {number(scale.low * facts.factor)} – {number(scale.high * facts.factor)} {facts.unit}
                </span>
              )}
            </button>
            <span className="shrink-0 pt-[5px] font-mono text-[10.5px] text-soft">
              {count} {count === 1 ? 'key' : 'keys'}
            </span>
            <IconButton
              label={isPinned ? `Unpin ${facts.owner}, ${facts.name}` : `Pin ${facts.owner}, ${facts.name}`}
              className="mt-[1px]"
              onClick={() => togglePin(target)}
            >
              {isPinned ? <PinOff size={12} /> : <Pin size={12} />}
            </IconButton>
          </div>
        );
      })}
    </div>
  );
}
