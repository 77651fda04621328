import { describe, expect, it } from 'vitest';
import { plainLayer } from '../../core/film/composition';
import type { Film } from '../../core/film/film';
import { changed, sampleFilm, sampleMedium } from '../../core/film/sample-film';
import { keyOfLane, laneChannel, laneFacts, type LaneTarget } from '../../core/lanes/lanes';
import { easedKeys } from '../../core/motion/eases';
import { keysOf } from '../../core/motion/key-edits';
import { changeOf, framesBy, keysWithin, reachOf, takeHold, timeAt, type Hold, type LaneSpace } from './lane-drag';
import { OPEN } from './lane-geometry';
import type { Lane } from './use-lanes';

const FILM = changed(sampleFilm([sampleMedium('a', 60), sampleMedium('b', 60)]), (d) => {
  d.joins[0]!.layers = [{ ...plainLayer('over', 'Over', 'leaving'), opacity: easedKeys('straight', [0, 1], [10, 0]) as never }] as never;
});
const JOIN = FILM.joins[0]!.id;
const TARGET: LaneTarget = { kind: 'opacity', layerId: 'over' };
const laneOf = (film: Film, isOpen = false): Lane => ({
  ...{ key: keyOfLane(TARGET), target: TARGET, isOpen, isPinned: false, top: 20, height: isOpen ? OPEN : 26 },
  channel: laneChannel(film, JOIN, TARGET)!,
  facts: laneFacts(film, JOIN, TARGET)!,
});
const CELL = 10;
const spaceOf = (lane: Lane, marks: LaneSpace['marks'] = []): LaneSpace => ({ joinId: JOIN, lanes: [lane], marks, cell: CELL, zero: 100 });
const LANE = laneOf(FILM);
const SPACE = spaceOf(LANE);
const { origin } = LANE.facts;
/** CSS pixels of the middle of the cell of a key. */
const xOf = (frame: number): number => 100 + (frame + origin + 0.5) * CELL;
const NONE = new Map<string, ReadonlySet<number>>();
const key = (frame: number, lane = LANE): Extract<Hold, { kind: 'key' }> => ({ kind: 'key', lane, frame, keys: new Map([[lane.key, new Set([frame])]]) }); // prettier-ignore
const after = (space: LaneSpace, held: Hold, dx: number, dy: number, copies = false): readonly (readonly [number, number])[] | null => {
  const made = changeOf(space, held, dx, dy, { x: 0, y: 0 }, copies);
  return made === null ? null : keysOf(laneChannel(changed(FILM, made[1]), JOIN, TARGET)!).map((k) => [k.frame, k.value] as const);
};

describe('taking hold', () => {
  it('of a key chooses it, alone or beside others, and leaves those that are chosen', () => {
    const both = new Map([[LANE.key, new Set([0, 10])]]);
    const dataset = { lane: LANE.key, key: '10' };
    expect(takeHold(SPACE, dataset, { x: 0, y: 25 }, false, NONE)).toMatchObject({ kind: 'key', frame: 10 });
    expect((takeHold(SPACE, dataset, { x: 0, y: 25 }, false, NONE) as { keys: unknown }).keys).toEqual(new Map([[LANE.key, new Set([10])]])); // prettier-ignore
    expect((takeHold(SPACE, dataset, { x: 0, y: 25 }, false, both) as { keys: unknown }).keys).toBe(both);
    expect((takeHold(SPACE, dataset, { x: 0, y: 25 }, true, both) as { keys: unknown }).keys).toEqual(new Map([[LANE.key, new Set([0])]])); // prettier-ignore
  });

  it('of an empty place begins a box, and outside of lanes nothing', () => {
    expect(takeHold(SPACE, {}, { x: 7, y: 25 }, false, NONE)).toEqual({ kind: 'box', x: 7, y: 25, base: new Map() });
    expect(takeHold(SPACE, {}, { x: 7, y: 500 }, false, NONE)).toBeNull();
  });
});

describe('dragging', () => {
  it('moves keys by whole frames, to a mark where one is near', () => {
    expect(after(SPACE, key(10), 3 * CELL + 2, 0)).toEqual([[0, 1], [13, 0]]); // prettier-ignore
    expect(after(SPACE, key(10), 3 * CELL, 0, true)).toEqual([[0, 1], [10, 0], [13, 0]]); // prettier-ignore
    expect(after(SPACE, key(10), 2, 0)).toBeNull();
    const marked = spaceOf(LANE, [{ kind: 'marker', name: 'Here', frame: origin + 14 }]);
    expect(framesBy(marked, key(10), 3.6 * CELL)).toBe(4);
  });

  it('raises a key of an open lane by how far it goes up', () => {
    const open = laneOf(FILM, true);
    const raised = after(spaceOf(open), key(10, open), 0, -30)!;
    expect(raised[0]).toEqual([0, 1]);
    expect(raised[1]![0]).toBe(10);
    expect(raised[1]![1]).toBeGreaterThan(0);
    expect(after(SPACE, key(10), 0, -30)).toBeNull();
  });

  it('stretches what is chosen about its other end', () => {
    const keys = new Map([[LANE.key, new Set([0, 10])]]);
    expect(after(SPACE, { kind: 'stretch', end: 'to', keys }, 5 * CELL, 0)).toEqual([[0, 1], [15, 0]]); // prettier-ignore
    expect(after(SPACE, { kind: 'stretch', end: 'from', keys }, 5 * CELL, 0)).toEqual([[5, 1], [10, 0]]); // prettier-ignore
    expect(reachOf([LANE], keys)).toEqual([origin, origin + 10]);
    expect(reachOf([LANE], new Map([[LANE.key, new Set([0])]]))).toBeNull();
  });

  it('chooses the keys in a box beside those that were chosen', () => {
    const box = { kind: 'box' as const, x: xOf(8), y: 22, base: new Map([[LANE.key, new Set([0])]]) };
    expect(keysWithin(SPACE, box, { x: xOf(12), y: 30 })).toEqual(new Map([[LANE.key, new Set([0, 10])]]));
    expect(keysWithin(SPACE, { ...box, base: NONE }, { x: xOf(9), y: 30 })).toEqual(NONE);
    expect(timeAt(SPACE, LANE, xOf(7))).toBeCloseTo(7);
  });
});
