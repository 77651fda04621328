import { expect, it } from 'vitest';
import { plainLayer } from '../../core/film/composition';
import type { Film } from '../../core/film/film';
import { changed, sampleFilm, sampleMedium } from '../../core/film/sample-film';
import { keyOfLane, laneChannel, laneFacts, type LaneTarget } from '../../core/lanes/lanes';
import { easedKeys, EASE_SHAPES } from '../../core/motion/eases';
import { keysOf } from '../../core/motion/key-edits';
import { deleted, eased, movedBy, pasted, raisedBy, shapeOf, stretchedBy, withFactor, withKey } from './lane-edits';
import type { Lane } from './use-lanes';

const FILM = changed(sampleFilm([sampleMedium('a', 60), sampleMedium('b', 60)]), (d) => {
  const join = d.joins[0]!;
  const layer = plainLayer('over', 'Over', 'leaving');
  join.layers = [{ ...layer, opacity: easedKeys('straight', [0, 1], [10, 0]) as never }] as never;
});
const JOIN = FILM.joins[0]!.id;
const TARGET: LaneTarget = { kind: 'opacity', layerId: 'over' };
const laneOf = (film: Film): Lane => ({
  key: keyOfLane(TARGET),
  target: TARGET,
  channel: laneChannel(film, JOIN, TARGET)!,
  facts: laneFacts(film, JOIN, TARGET)!,
  isOpen: false,
  isPinned: false,
  top: 0,
  height: 26,
});
const LANE = laneOf(FILM);
const chosen = (...frames: number[]) => new Map([[LANE.key, new Set(frames)]]);
const keysAfter = (change: Parameters<typeof changed>[1]): [number, number][] =>
  keysOf(laneChannel(changed(FILM, change), JOIN, TARGET)!).map((k) => [k.frame, k.value]);

it('moves the keys that are chosen, or lays them once more', () => {
  expect(keysAfter(movedBy(JOIN, [LANE], chosen(10), 5, false))).toEqual([[0, 1], [15, 0]]); // prettier-ignore
  expect(keysAfter(movedBy(JOIN, [LANE], chosen(10), 5, true))).toEqual([[0, 1], [10, 0], [15, 0]]); // prettier-ignore
  expect(keysAfter(movedBy(JOIN, [LANE], new Map(), 5, false))).toEqual([[0, 1], [10, 0]]); // prettier-ignore
});

it('stretches about a frame of the film’s clock', () => {
  const { origin } = LANE.facts;
  expect(keysAfter(stretchedBy(JOIN, [LANE], chosen(0, 10), origin, 2))).toEqual([[0, 1], [20, 0]]); // prettier-ignore
  expect(keysAfter(stretchedBy(JOIN, [LANE], chosen(0, 10), origin + 10, 0.5))).toEqual([[5, 1], [10, 0]]); // prettier-ignore
});

it('raises within the limits of the lane, deletes, adds and pastes', () => {
  expect(keysAfter(raisedBy(JOIN, LANE, chosen(10), 0.4))).toEqual([[0, 1], [10, 0.4]]); // prettier-ignore
  expect(keysAfter(raisedBy(JOIN, LANE, chosen(0), 0.4))).toEqual([[0, 1], [10, 0]]); // prettier-ignore
  expect(keysAfter(deleted(JOIN, [LANE], chosen(10)))).toEqual([[0, 1]]);
  expect(keysAfter(withKey(JOIN, LANE, 5))).toEqual([[0, 1], [5, 0.5], [10, 0]]); // prettier-ignore
  const keys = keysOf(LANE.channel);
  expect(keysAfter(pasted(JOIN, LANE, keys, 20)).map(([f]) => f)).toEqual([0, 10, 20, 30]);
});

it('eases ways, and tells the shape that all of them share', () => {
  expect(shapeOf([LANE], chosen(0))).toEqual({ out: 'straight', into: 'straight' });
  expect(shapeOf([LANE], chosen(10))).toBeNull();
  const soft = changed(FILM, eased(JOIN, [LANE], chosen(0), EASE_SHAPES['soft both']));
  expect(shapeOf([laneOf(soft)], chosen(0))).toEqual(EASE_SHAPES['soft both']);
});

it('makes a way faster at a time, its ends as they were', () => {
  const faster = changed(FILM, withFactor(JOIN, LANE, 5, 1.6));
  expect(keysOf(laneChannel(faster, JOIN, TARGET)!).map((k) => [k.frame, k.value])).toEqual([[0, 1], [10, 0]]); // prettier-ignore
  expect(laneChannel(faster, JOIN, TARGET)).not.toEqual(LANE.channel);
  expect(keysAfter(withFactor(JOIN, LANE, 40, 2))).toEqual([[0, 1], [10, 0]]); // prettier-ignore
});
