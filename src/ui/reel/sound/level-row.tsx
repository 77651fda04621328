'use client';
import { LOUDEST_DB, SILENCE_DB, type ShotSound } from '../../../core/film/sound';
import { channelAt } from '../../../core/motion/curve';
import { toggleKeyAt, withValueAt } from '../../../core/motion/key-edits';
import { NumberRow } from '../../parts/number-field';
import { SwitchRow } from '../../parts/select-row';

interface SoundNumbersProps {
  readonly sound: ShotSound;
  /** The playhead on the level's own clock. */
  readonly frame: number;
  readonly length: number;
  readonly onChange: (title: string, part: Partial<ShotSound>) => void;
}

/** Level with its keys, fades, and whether it is heard: the numbers of a shot's sound and of a clip's. */
export function SoundNumbers({ sound, frame, length, onChange }: SoundNumbersProps) {
  const { level, muted, fadeIn, fadeOut } = sound;
  const at = Math.round(frame);
  const isKeyed = typeof level !== 'number';
  const hasKey = isKeyed && level.some((k) => k.frame === at);
  return (
    <>
      <div className="flex items-center gap-1.5">
        <button
          type="button"
          aria-label={hasKey ? 'Delete the keyframe of the level here' : 'Add a keyframe of the level here'}
          aria-pressed={hasKey}
          title={hasKey ? 'A keyframe on this frame; delete it' : 'Add a keyframe of the level on this frame'}
          className="inline-flex size-4 shrink-0 items-center justify-center"
          onClick={() => onChange(hasKey ? 'Deleted a keyframe' : 'Key', { level: toggleKeyAt(level, at) })}
        >
          <svg viewBox="0 0 10 10" className="size-2.5 stroke-seam" strokeWidth="1.3" aria-hidden>
            <circle cx="5" cy="5" r="4" className={isKeyed ? 'fill-seam' : 'fill-none'} />
            {hasKey && <circle cx="5" cy="5" r="1.3" className="fill-sheet stroke-none" />}
          </svg>
        </button>
        <div className="grow">
          <NumberRow
            label="Level"
            unit="dB"
            min={SILENCE_DB}
            max={LOUDEST_DB}
            step={0.5}
            value={Math.round(10 * channelAt(level, frame)) / 10}
            onCommit={(db) => onChange('Level', { level: isKeyed ? withValueAt(level, at, db) : db })}
          />
        </div>
      </div>
      <NumberRow
        label="Fade in"
        unit="fr"
        min={0}
        max={length}
        value={Math.round(10 * fadeIn) / 10}
        onCommit={(v) => onChange('Fade in', { fadeIn: v })}
      />
      <NumberRow
        label="Fade out"
        unit="fr"
        min={0}
        max={length}
        value={Math.round(10 * fadeOut) / 10}
        onCommit={(v) => onChange('Fade out', { fadeOut: v })}
      />
      <SwitchRow label="Muted" value={muted} onChange={(on) => onChange(on ? 'Muted' : 'Heard', { muted: on })} />
    </>
  );
}
