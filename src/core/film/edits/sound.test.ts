import { describe, expect, it } from 'vitest';
import { rational } from '../../geometry/rational';
import { channelAt } from '../../motion/curve';
import { moveShots } from './reel';
import { trimStart } from './trims';
import type { Film, Media } from '../film';
import type { SoundFacts } from '../media-facts';
import { changed, countingIds, sampleFilm, sampleMedium } from '../sample-film';
import { nearestTarget, snapTargets } from '../snap';
import { placedJoins } from '../timing';
import {
  addMarker,
  addMediumMarker,
  doubleBeats,
  halveBeats,
  marksOfFilm,
  moveBeat,
  setBeats,
  setMarker,
  shiftBeats,
  spreadOverBeats,
  tappedBeats,
} from './marks';
import {
  addClip,
  addSoundLane,
  duplicateClip,
  moveClip,
  removeClip,
  setClipSound,
  setShotSound,
  setSoundChange,
  splitClip,
  trimClip,
} from './sound';
import { cutInWord } from './words';

const media: Media = new Map(['a', 'b', 'c'].map((id) => [id, sampleMedium(id, 120)]));
const music: SoundFacts = { id: 'm', name: 'Music', samples: 480_000, codec: 'made', sourceRate: 44_100, sourceChannels: 2 };
const clipOf = (film: Film, i = 0) => film.soundLanes![0]!.clips[i]!;
const withClip = (start = 12): Film =>
  changed(sampleFilm([...media.values()]), (d) => void addClip(d, null, music, start, countingIds('c')));

describe('clips', () => {
  it('lie in a lane for as long as they sound, and move between lanes', () => {
    const film = withClip();
    expect(clipOf(film)).toMatchObject({ start: 12, length: 240, from: 0, name: 'Music' });
    const moved = changed(film, (d) => moveClip(d, clipOf(film).id, -5, addSoundLane(d, 'Effects', countingIds('l'))));
    expect(moved.soundLanes!.map((l) => l.clips.length)).toEqual([0, 1]);
    expect(moved.soundLanes![1]!.clips[0]!.start).toBe(0);
  });

  it('are trimmed within their sound, what is heard staying where it is', () => {
    const film = withClip();
    const { id } = clipOf(film);
    const later = changed(film, (d) => trimClip(d, music, id, 'start', 24));
    expect(clipOf(later)).toMatchObject({ start: 36, length: 216, from: 1 });
    const back = changed(later, (d) => trimClip(d, music, id, 'start', -100));
    expect(clipOf(back)).toMatchObject({ start: 12, from: 0, length: 240 });
    expect(clipOf(changed(later, (d) => trimClip(d, music, id, 'end', 500))).length).toBe(216);
    expect(clipOf(changed(later, (d) => trimClip(d, music, id, 'end', -500))).length).toBeCloseTo(0.1);
  });

  it('part without a change to the ear', () => {
    const key = (frame: number, value: number) => ({ frame, value, into: 'straight' as const, out: 'straight' as const });
    const film = changed(withClip(), (d) => setClipSound(d, clipOf(d).id, { level: [key(0, -40), key(200, 0)], fadeIn: 8, fadeOut: 9 }));
    const parted = changed(film, (d) => void splitClip(d, clipOf(film).id, 112, countingIds('p')));
    const [first, second] = [clipOf(parted), clipOf(parted, 1)];
    expect([first.length, second.start, second.length]).toEqual([100, 112, 140]);
    expect(second.from).toBeCloseTo(100 / 24);
    expect([first.fadeIn, first.fadeOut, second.fadeIn, second.fadeOut]).toEqual([8, 0, 0, 9]);
    expect(channelAt(second.level, 0)).toBeCloseTo(channelAt(first.level, 100));
    expect(changed(film, (d) => void splitClip(d, clipOf(film).id, 5, countingIds('p')))).toBe(film);
  });

  it('are laid once more, and taken away', () => {
    const film = withClip();
    const twice = changed(film, (d) => void duplicateClip(d, clipOf(film).id, countingIds('t')));
    expect(clipOf(twice, 1).start).toBe(252);
    expect(changed(twice, (d) => removeClip(d, clipOf(twice).id)).soundLanes![0]!.clips).toHaveLength(1);
  });
});

describe('sound on the reel', () => {
  it('stays with its shot, and music in time', () => {
    const film = changed(withClip(), (d) => setShotSound(d, d.shots[0]!.id, { level: -6, fadeIn: 500 }));
    expect(film.shots[0]!.sound).toMatchObject({ level: -6, fadeIn: 120 });
    const moved = changed(film, (d) => moveShots(d, new Set([d.shots[0]!.id]), 2, countingIds('n')));
    expect(moved.shots[2]!.sound).toEqual(film.shots[0]!.sound);
    expect(clipOf(moved).start).toBe(12);
  });

  it('keeps its level on its pictures when the shot is trimmed', () => {
    const key = (frame: number, value: number) => ({ frame, value, into: 'straight' as const, out: 'straight' as const });
    const film = changed(withClip(), (d) => setShotSound(d, d.shots[0]!.id, { level: [key(20, 0), key(40, -20)] }));
    const trimmed = changed(film, (d) => trimStart(d, media.get('a')!, d.shots[0]!.id, 10, countingIds('n')));
    expect(channelAt(trimmed.shots[0]!.sound!.level, 30)).toBe(-20);
  });
});

describe('beats', () => {
  const beats = { mediumId: 'm', seconds: [0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4], downbeat: 1, perBar: 4, beatsPerMinute: 120, confidence: 0.9 };
  const film = changed(withClip(), (d) => setBeats(d, beats));

  it('lie on the film where their sound does, bars told', () => {
    const marks = marksOfFilm(film, media);
    expect(marks.map((m) => m.frame)).toEqual([24, 36, 48, 60, 72, 84, 96, 108]);
    expect(marks.map((m) => m.kind === 'downbeat')).toEqual([false, true, false, false, false, true, false, false]);
    const cut = changed(film, (d) => trimClip(d, music, clipOf(film).id, 'start', 30));
    expect(marksOfFilm(cut, media)[0]!.frame).toBe(48);
  });

  it('are shifted, halved, doubled and moved one by one', () => {
    expect(shiftBeats(beats, -0.75)).toMatchObject({ seconds: [0.25, 0.75, 1.25, 1.75, 2.25, 2.75, 3.25], downbeat: 0 });
    expect(halveBeats(beats)).toMatchObject({ seconds: [1, 2, 3, 4], downbeat: 0, beatsPerMinute: 60 });
    expect(doubleBeats(beats)).toMatchObject({ downbeat: 2, beatsPerMinute: 240 });
    expect(doubleBeats(beats).seconds.slice(0, 4)).toEqual([0.5, 0.75, 1, 1.25]);
    expect(moveBeat(beats, 1, 9).seconds[1]).toBeCloseTo(1.499);
    expect(moveBeat(beats, 1, 1.1).seconds[1]).toBe(1.1);
  });

  it('give way to those that are tapped', () => {
    const tapped = tappedBeats('m', beats, [1.45, 0.95, 2.05]);
    expect(tapped.seconds).toEqual([0.5, 0.95, 1.45, 2.05, 2.5, 3, 3.5, 4]);
    expect(tappedBeats('m', undefined, [1, 2])).toMatchObject({ seconds: [1, 2], beatsPerMinute: 60 });
  });

  it('are what shots are spread over', () => {
    let short = 0;
    const spread = changed(film, (d) => {
      d.shots[0]!.length = 24;
      short = spreadOverBeats(d, media, [d.shots[1]!.id, d.shots[2]!.id], 2, countingIds('s'));
    });
    expect(spread.shots.map((s) => s.length)).toEqual([24, 24, 24]);
    expect(short).toBe(0);
    // a shot whose medium ends before its beat says so
    changed(film, (d) => {
      d.shots[0]!.length = 24;
      d.shots[1]!.inFrame = 110;
      d.shots[1]!.length = 5;
      short = spreadOverBeats(d, media, [d.shots[1]!.id], 2, countingIds('s'));
    });
    expect(short).toBe(1);
  });
});

describe('markers', () => {
  it('stay in order, and those of a medium lie wherever it is shown', () => {
    const ids = countingIds('m');
    const film = changed(sampleFilm([...media.values()]), (d) => {
      addMarker(d, 50, ids);
      addMarker(d, 20.5, ids);
      addMediumMarker(d, 'b', 1, ids);
    });
    expect(film.markers!.map((m) => m.frame)).toEqual([20.5, 50]);
    expect(marksOfFilm(film, media).map((m) => [m.kind, m.frame])).toEqual([
      ['marker', 20.5],
      ['marker', 50],
      ['medium marker', 144],
    ]);
    expect(changed(film, (d) => setMarker(d, film.markers![0]!.id, { frame: 70 })).markers!.map((m) => m.frame)).toEqual([50, 70]);
  });
});

describe('snapping', () => {
  it('draws to cuts, sounds, markers and beats, but not to what is moved', () => {
    const film = changed(withClip(), (d) => void addMarker(d, 77, countingIds('m')));
    expect(snapTargets(film, media)).toEqual([0, 12, 77, 120, 240, 252, 360]);
    expect(snapTargets(film, media, [clipOf(film).id])).toEqual([0, 77, 120, 240, 360]);
    expect([nearestTarget(75, [70, 77], 3), nearestTarget(60, [70, 77], 3)]).toEqual([77, null]);
  });
});

describe('cutInWord', () => {
  const word = { a: { start: 1, end: 1.5 }, b: { start: 2.2, end: 2.7 }, cutA: 1.26, cutB: 2.47, likeness: 0.9 };

  it('cuts where both say the same at the same time, sound on the exact place', () => {
    const film = changed(sampleFilm([media.get('a')!, media.get('b')!]), (d) => {
      d.shots[0]!.inFrame = 4;
      d.shots[0]!.length = 50;
      d.shots[1]!.inFrame = 20;
      d.shots[1]!.length = 100;
    });
    const cut = changed(film, (d) => void cutInWord(d, media, d.joins[0]!.id, 'leaving', word));
    const { join, leaving, entering, cut: at } = placedJoins(cut)[0]!;
    // where sound goes over, each shot is at its own exact place
    const goes = at + join.sound!.at;
    expect((leaving.inFrame + goes) / 24).toBeCloseTo(1.26, 4);
    expect((entering.inFrame + goes - at) / 24).toBeCloseTo(2.47, 4);
    expect(Math.abs(join.sound!.at)).toBeLessThanOrEqual(0.5);
    // the entering shot still ends on its own picture, within a frame
    expect(Math.abs(entering.inFrame + entering.length - 120)).toBeLessThanOrEqual(0.5);
    const other = changed(film, (d) => void cutInWord(d, media, d.joins[0]!.id, 'entering', { ...word, cutA: 2.47, cutB: 1.26 }));
    expect(other.shots.map((s) => s.inFrame)).toEqual(cut.shots.map((s) => s.inFrame));
  });

  it('does nothing where the cut would lie outside a shot', () => {
    const film = sampleFilm([media.get('a')!, media.get('b')!], rational(24, 1));
    let isDone = true;
    expect(changed(film, (d) => void (isDone = cutInWord(d, media, d.joins[0]!.id, 'leaving', { ...word, cutA: 0 })))).toBe(film);
    expect(isDone).toBe(false);
    expect(setSoundChangeKeeps(film)).toMatchObject({ at: 3, kind: 'hard' });
  });
});

const setSoundChangeKeeps = (film: Film) => changed(film, (d) => setSoundChange(d, d.joins[0]!.id, { at: 3 })).joins[0]!.sound;
