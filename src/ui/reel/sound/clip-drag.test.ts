import { describe, expect, it } from 'vitest';
import { addClip, addSoundLane, setClipSound } from '../../../core/film/edits/sound';
import type { Film } from '../../../core/film/film';
import type { SoundFacts } from '../../../core/film/media-facts';
import { changed, countingIds, sampleFilm, sampleMedium } from '../../../core/film/sample-film';
import { clipDragged, levelOfY, levelY, type Grip } from './clip-drag';

const sound: SoundFacts = { id: 'm', name: 'Music', samples: 480_000, codec: 'made', sourceRate: 48_000, sourceChannels: 2 };
const film = changed(sampleFilm([sampleMedium('a', 240)]), (d) => {
  addClip(d, null, sound, 40, countingIds('c'));
  addSoundLane(d, 'Effects', countingIds('l'));
});
const clip = film.soundLanes![0]!.clips[0]!;
const dragged = (grip: Grip, frames: number, dy = 0, from: Film = film): Film => {
  const held = from.soundLanes![0]!.clips[0]!;
  return changed(from, clipDragged({ film: from, clip: held, sound, grip, targets: [50, 300], reach: 3 }, frames, dy).change);
};
const of = (made: Film) => made.soundLanes![0]!.clips[0]!;

describe('clipDragged', () => {
  it('moves a clip, its start or its end drawn to what is near', () => {
    expect(of(dragged('move', 5)).start).toBe(45);
    expect(of(dragged('move', 8)).start).toBe(50);
    expect(of(dragged('move', 18)).start).toBe(60); // its end comes to 300
    expect(dragged('move', 0, 44).soundLanes!.map((l) => l.clips.length)).toEqual([0, 1]);
  });

  it('trims both ends and draws fades out', () => {
    expect(of(dragged('start', 9))).toMatchObject({ start: 50, length: 230 });
    expect(of(dragged('end', -20)).length).toBe(220);
    expect(of(dragged('fade in', 12)).fadeIn).toBe(12);
    expect(of(dragged('fade out', -12)).fadeOut).toBe(12);
    expect(of(dragged('fade out', 12)).fadeOut).toBe(0);
  });

  it('moves levels within their range, keys between their neighbours', () => {
    expect(of(dragged('level', 0, 7)).level).toBe(-12);
    expect(of(dragged('level', 0, -500)).level).toBe(12);
    const key = (frame: number) => ({ frame, value: 0, into: 'straight' as const, out: 'straight' as const });
    const keyed = changed(film, (d) => setClipSound(d, clip.id, { level: [key(0), key(10), key(20)] }));
    const moved = of(dragged({ key: 1 }, 15, 7, keyed)).level;
    expect(typeof moved === 'number' ? [] : moved.map((k) => [k.frame, k.value])).toEqual([
      [0, 0],
      [19, -12],
      [20, 0],
    ]);
  });

  it('draws levels where they are dragged', () => {
    for (const db of [-60, -20, 0, 12]) expect(levelOfY(levelY(db))).toBeCloseTo(db);
  });
});
