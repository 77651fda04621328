'use client';
import { PLAIN_CHANGE } from '../../../core/film/sound';
import type { PlacedJoin } from '../../../core/film/timing';
import { SOUND_ROW, SOUND_ROWS } from './sound-under';

/** The column beside the sound of the join. */
export function SoundLabels({ placed }: { readonly placed: PlacedJoin }) {
  const { kind } = placed.join.sound ?? PLAIN_CHANGE;
  const rows = [
    ['Its sound', placed.leaving.name],
    ['Heard', kind],
    ['Its sound', placed.entering.name],
  ] as const;
  return (
    <div className="border-t border-rule" style={{ height: SOUND_ROWS }}>
      {rows.map(([label, note], i) => (
        <div
          key={i}
          className={`flex items-center justify-between gap-2 px-3.5 text-[12px] ${i === 1 ? 'bg-seam/10' : ''}`}
          style={{ height: SOUND_ROW }}
        >
          <span className="shrink-0">{label}</span>
          <span className="truncate text-[11px] text-soft">{note}</span>
        </div>
      ))}
    </div>
  );
}
