import { describe, expect, it } from 'vitest';
import { removeMatte } from '../../film/edits/mattes';
import { type Film } from '../../film/film';
import { ARRIVES_FROM, GROUND_COMES, type ArriveSettings } from '../../film/recipe-settings';
import { changed, sampleFilm, sampleMedium } from '../../film/sample-film';
import { placedJoins } from '../../film/timing';
import { apply } from '../../geometry/matrix';
import { corner } from '../../matte/outline/outline';
import { pictureOf, type PlannedLayer } from '../../plan/frame-plan';
import { planFrame } from '../../plan/plan-film';
import { EASE_NAMES } from '../../motion/eases';
import { channelAt } from '../../motion/curve';
import { layJoin, makeKind, setSettings } from '../making';
import { isChangedByHand } from '../../film/made-mark';
import { setOverlapAndRefit } from '../refit';
import { casesOf } from '../test-joins';
import { nextThing } from '../lacks';

const [a, b] = [sampleMedium('a', 80), sampleMedium('b', 80)];
const media = new Map([a, b].map((m) => [m.id, m]));
const base: Film = changed(sampleFilm([a, b]), (d) => {
  d.shots[0]!.length = 50;
  d.shots[1]!.inFrame = 30;
  d.shots[1]!.length = 50;
  const points = [corner(-20, -20), corner(20, -20), corner(20, 20), corner(-20, 20)];
  d.mattes.push({ id: 'cart', mediumId: 'b', name: 'Cart', outline: { closed: true, keys: [{ frame: 0, ease: 'straight', points }] } });
});
const JOIN = base.joins[0]!.id;
const made = changed(base, (d) => makeKind(d, media, JOIN, 'arrive', { matteId: 'cart' }));
const placed = (film: Film) => placedJoins(film)[0]!;
const layers = (film: Film, frame: number): readonly PlannedLayer[] => planFrame(film, media, frame).layers;
const set = (change: Partial<ArriveSettings>): Film => changed(made, (d) => setSettings(d, media, JOIN, 'arrive', change));
const middleOf = (layer: PlannedLayer): { x: number; y: number } => apply(layer.matrix, { x: 0, y: 0 });

describe('an arrival', () => {
  it('brings the subject in ahead of its ground, over the leaving shot', () => {
    const { from, to, join } = placed(made);
    expect(to - from).toBe(16);
    expect(join.layers.map((l) => l.name)).toEqual(['Arrives', 'shot b', 'shot a']);
    const [subject, ground, under] = layers(made, from) as [PlannedLayer, PlannedLayer, PlannedLayer];
    expect(middleOf(subject).x).toBeLessThan(-800);
    expect(subject.samples.length).toBeGreaterThan(1);
    expect([ground.opacity, pictureOf(under)?.mediumId]).toEqual([0, 'a']);
    const [there] = layers(made, from + 10) as [PlannedLayer];
    expect(middleOf(there)).toEqual({ x: 0, y: 0 });
    expect(nextThing(made, media, placed(made), { measured: undefined, report: null })).toBeNull();
  });

  it('follows its overlap, and is as the shot is once that is over', () => {
    const longer = changed(made, (d) => setOverlapAndRefit(d, media, JOIN, 12, 12));
    const { from, to, join } = placed(longer);
    expect(isChangedByHand(longer, join)).toBe(false);
    expect(middleOf(layers(longer, from)[0]!).x).toBeLessThan(-800);
    const last = layers(longer, to - 1);
    expect(last[1]!.opacity).toBeGreaterThan(0.85);
    expect(last[1]!.matrix).toEqual(layers(longer, to)[0]!.matrix);
  });

  it('lets the ground come at the cut, or from its brightest parts on', () => {
    const cuts = set({ ground: 'cuts' });
    const { cut, to, from } = placed(cuts);
    const count = (film: Film, frame: number): number => layers(film, frame).filter((l) => pictureOf(l)?.mediumId === 'b').length;
    if (to > cut) expect([count(cuts, cut - 1), count(cuts, cut)]).toEqual([1, 2]);
    const sweeps = set({ ground: 'sweeps' });
    const key = sweeps.mattes.find((m) => m.name.startsWith('Sweep'))!.key!;
    if (key.kind !== 'brightness') throw new Error('no brightness key');
    const at = (frame: number): number => {
      const [matte] = layers(sweeps, frame)[1]!.mattes;
      return matte?.kind === 'key' && matte.key.kind === 'brightness' ? matte.key.threshold : NaN;
    };
    expect(at(from)).toBeGreaterThan(1.1);
    expect(at(to - 1)).toBeLessThan(0.1);
    // made anew it is the same matte
    expect(changed(sweeps, (d) => setSettings(d, media, JOIN, 'arrive', { groundOver: 4 })).mattes).toHaveLength(2);
  });

  it('asks for what arrives when that is gone', () => {
    const gone = changed(made, (d) => removeMatte(d, 'cart'));
    expect(nextThing(gone, media, placed(gone), { measured: undefined, report: null })).toMatchObject({ step: 'move' });
    // what a hand has changed stays until it is made anew
    const turned = changed(gone, (d) => setSettings(d, media, JOIN, 'arrive', { from: 'right' }));
    expect(placed(turned).join.layers).toHaveLength(3);
    const anew = changed(turned, (d) => layJoin(d, media, JOIN));
    expect(placed(anew).join.layers.map((l) => l.name)).toEqual(['shot b', 'shot a']);
  });

  it('never leaves the leaving shot’s place bare, and ends in its own place, over many random settings', () => {
    let seed = 7;
    const chance = (n: number): number => {
      seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff;
      return seed % n;
    };
    for (let n = 0; n < casesOf(200); n++) {
      const [before, after] = [chance(20), 1 + chance(20)];
      const settings: Partial<ArriveSettings> = {
        from: ARRIVES_FROM[chance(4)]!,
        distancePx: chance(3000),
        arrivesIn: 1 + chance(before + after),
        ease: EASE_NAMES[chance(6)]!,
        ground: GROUND_COMES[chance(3)]!,
        groundOver: 1 + chance(30),
        motionBlur: chance(2) === 1,
      };
      const film = changed(made, (d) => {
        setOverlapAndRefit(d, media, JOIN, before, after);
        setSettings(d, media, JOIN, 'arrive', settings);
      });
      const { from, to, cut, join } = placed(film);
      for (let frame = from; frame < to; frame++) expect(pictureOf(layers(film, frame).at(-1)!)?.mediumId).toBe('a');
      const { x, y } = join.layers[0]!.motion;
      expect([channelAt(x, from + settings.arrivesIn! - cut), channelAt(y, from + settings.arrivesIn! - cut)]).toEqual([0, 0]);
    }
  });
});
