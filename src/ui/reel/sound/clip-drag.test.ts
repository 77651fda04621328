import { describe, expect, it } from 'vitest';
import { addClip, addSoundLane } from '../../../core/film/edits/sound';
import type { Film } from '../../../core/film/film';
import type { SoundFacts } from '../../../core/film/media-facts';
import { changed, countingIds, sampleFilm, sampleMedium } from '../../../core/film/sample-film';
import { LOUDEST_DB, SILENCE_DB, type SoundClip } from '../../../core/film/sound';
import { clipDragged, levelOfY, levelY, type ClipDrag, type Grip } from './clip-drag';
import { GAP, LANE_ROW } from './sizes';

const SOUND: SoundFacts = { id: 's', name: 'Drums', samples: 4 * 48_000, codec: 'opus', sourceRate: 48_000, sourceChannels: 2 };
const newId = countingIds('sound');
const FILM = changed(sampleFilm([sampleMedium('a', 200)]), (d) => {
  const music = addSoundLane(d, 'Music', newId);
  addSoundLane(d, 'Effects', newId);
  addClip(d, music, SOUND, 20, newId);
});
const clipOf = (film: Film): { clip: SoundClip; lane: string } => {
  const lane = film.soundLanes!.find((l) => l.clips.length > 0)!;
  return { clip: lane.clips[0]!, lane: lane.name };
};
const { clip } = clipOf(FILM);
const drag = (grip: Grip, part: Partial<ClipDrag> = {}): ClipDrag => ({
  film: FILM,
  clip,
  sound: SOUND,
  grip,
  targets: [],
  reach: 3,
  ...part,
});
const after = (held: ClipDrag, frames: number, dy = 0): ReturnType<typeof clipOf> & { name: string } => {
  const { name, change } = clipDragged(held, frames, dy);
  return { name, ...clipOf(changed(held.film, change)) };
};

describe('a sound that is dragged', () => {
  it('moves by whole frames, and into another lane by its height', () => {
    expect(after(drag('move'), 7)).toMatchObject({ name: 'Moved Drums', lane: 'Music', clip: { start: 27, length: clip.length } });
    expect(after(drag('move'), 0, LANE_ROW + GAP).lane).toBe('Effects');
    expect(after(drag('move'), 0, 20 * LANE_ROW).lane).toBe('Effects');
    expect(after(drag('move'), -500).clip.start).toBe(0);
  });

  it('snaps by whichever of its ends is nearer to something', () => {
    const end = 20 + clip.length;
    expect(after(drag('move', { targets: [30] }), 8).clip.start).toBe(30);
    expect(after(drag('move', { targets: [end + 10] }), 9).clip.start).toBe(30);
    expect(after(drag('move', { targets: [26, end + 9] }), 8).clip.start).toBe(29);
    expect(after(drag('move', { targets: [40] }), 8).clip.start).toBe(28);
  });

  it('is trimmed at its ends, and keeps the other one', () => {
    const shorter = after(drag('end'), -10);
    expect(shorter).toMatchObject({ name: 'Trimmed the end of Drums', clip: { start: 20, length: clip.length - 10 } });
    const later = after(drag('start', { targets: [33] }), 12);
    expect(later.clip).toMatchObject({ start: 33, length: clip.length - 13 });
    expect(later.clip.from).toBeGreaterThan(0);
  });

  it('fades by its corners', () => {
    expect(after(drag('fade in'), 12)).toMatchObject({ name: 'Fade in of Drums', clip: { fadeIn: 12 } });
    expect(after(drag('fade out'), -9)).toMatchObject({ name: 'Fade out of Drums', clip: { fadeOut: 9 } });
  });
});

describe('its level', () => {
  it('rises and falls with the pointer, never beyond its limits', () => {
    expect(after(drag('level'), 0, -levelY(LOUDEST_DB - 6)).clip.level).toBeCloseTo(6, 6);
    expect(after(drag('level'), 0, 500).clip.level).toBe(SILENCE_DB);
    expect(after(drag('level'), 0, -500).clip.level).toBe(LOUDEST_DB);
    for (const db of [LOUDEST_DB, 0, -12, SILENCE_DB]) expect(levelOfY(levelY(db))).toBeCloseTo(db, 9);
  });

  it('has keys that stay between their neighbours', () => {
    const keyed = changed(FILM, (d) => {
      d.soundLanes![0]!.clips[0]!.level = [0, 10, 20].map((frame) => ({ frame, value: 0, into: 'straight', out: 'straight' }));
    });
    const held = drag({ key: 1 }, { film: keyed, clip: clipOf(keyed).clip });
    const framesOf = (c: SoundClip): number[] => (typeof c.level === 'number' ? [] : c.level.map((k) => k.frame));
    expect(framesOf(after(held, 4).clip)).toEqual([0, 14, 20]);
    expect(framesOf(after(held, 90).clip)).toEqual([0, 19, 20]);
    expect(framesOf(after(held, -90).clip)).toEqual([0, 1, 20]);
  });
});
