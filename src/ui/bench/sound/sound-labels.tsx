'use client';
import { PLAIN_CHANGE } from '../../../core/film/sound';
import type { PlacedJoin } from '../../../core/film/timing';
import { useFilm } from '../../store/film-context';
import { SOUND_ROW, soundRowsOf } from './sound-under';

/** The column beside the sound of the join. */
export function SoundLabels({ placed }: { readonly placed: PlacedJoin }) {
  const { sounds } = useFilm('sounds');
  const { kind } = placed.join.sound ?? PLAIN_CHANGE;
  const rows = soundRowsOf(sounds, placed);
  return (
    <div className="border-t border-rule" style={{ height: rows.length * SOUND_ROW }}>
      {rows.map((row) => (
        <div
          key={row}
          className={`flex items-center justify-between gap-2 px-3.5 text-[12px] ${row === 'heard' ? 'bg-seam/10' : ''}`}
          style={{ height: SOUND_ROW }}
        >
          <span className="shrink-0">{row === 'heard' ? 'Heard' : 'Its sound'}</span>
          <span className="truncate text-[11px] text-soft">{row === 'heard' ? kind : placed[row].name}</span>
        </div>
      ))}
    </div>
  );
}
