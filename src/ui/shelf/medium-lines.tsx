'use client';
import { isMixedDown, type ShelfMedium, type SoundFacts } from '../../core/film/media-facts';
import { SOUND_RATE } from '../../core/film/sound';
import { toNumber } from '../../core/geometry/rational';

function durationText({ samples }: SoundFacts): string {
  const seconds = samples / SOUND_RATE;
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`;
}

const soundText = (sound: SoundFacts): string =>
  `${sound.codec} · ${sound.sourceRate / 1000} kHz · ${['', 'mono', 'stereo'][sound.sourceChannels] ?? `${sound.sourceChannels} channels, mixed down to stereo`}`;

/** What is said of a medium under its name. `used` is how many shots show it. */
export function MediumLines({ medium: { facts, sound }, used }: { readonly medium: ShelfMedium; readonly used: number }) {
  if (facts === null)
    return sound === null ? null : (
      <>
        <p className="font-mono text-[10.5px] text-soft">{durationText(sound)} · sound</p>
        <p className="text-[11px] text-soft">{soundText(sound)}</p>
      </>
    );
  return (
    <>
      <p className="font-mono text-[10.5px] text-soft">
        {facts.width}×{facts.height} ·{' '}
        {facts.kind === 'still' ? 'still' : `${Number(toNumber(facts.rate).toFixed(3))} fps · ${facts.frames} fr`}
        {facts.timecode != null && ` · ${facts.timecode}`}
      </p>
      <p className="text-[11px] text-soft">
        {facts.codec}
        {facts.reelName == null ? '' : ` · reel ${facts.reelName}`}
        {facts.wasVariable ? ' · rate evened out' : ''}
        {sound !== null ? ` · sound${isMixedDown(sound) ? `, ${sound.sourceChannels} channels mixed down` : ''}` : ''}
        {used > 0 ? ` · ${used} on the reel` : ''}
      </p>
    </>
  );
}
