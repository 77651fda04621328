import { expect, it } from 'vitest';
import type { Matte } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { STILL } from '../../../core/motion/motion';
import { stepStates } from './step-states';

const join = { layers: [], carriers: [], finish: [] };
const placed = (part: object = {}, to = 10): PlacedJoin => ({ from: 0, to, cut: 5, join: { ...join, ...part } }) as unknown as PlacedJoin;
const nothing = { findings: [], faults: new Set<number>(), matte: null, strokes: null, track: null };
const states = (part: object, on: PlacedJoin = placed()) => stepStates({ placed: on, ...nothing, ...part });
const matte = (part: object): Matte => ({ outline: { closed: false, keys: [] }, ...part }) as unknown as Matte;

it('a plain cut has everything to do', () => {
  expect(new Set(Object.values(states({}, placed({}, 0))))).toEqual(new Set(['open']));
});

it('Pair and Check are done with an overlap, and want a look where something is wrong', () => {
  expect(states({})).toMatchObject({ pair: 'done', check: 'done' });
  expect(states({ faults: new Set([3]), findings: [{}] })).toMatchObject({ pair: 'look', check: 'look' });
});

it('Mask is done with a closed outline, a key or frames; doubtful ones want a look', () => {
  expect(states({ matte: matte({}) }).mask).toBe('open');
  expect(states({ matte: matte({ outline: { closed: true, keys: [] } }) }).mask).toBe('done');
  expect(states({ matte: matte({ key: {} }) }).mask).toBe('done');
  const painted = matte({ painted: [] });
  expect(states({ matte: painted, strokes: { doubtful: [], frames: [] } }).mask).toBe('open');
  expect(states({ matte: painted, strokes: { doubtful: [], frames: [{}] } }).mask).toBe('done');
  expect(states({ matte: painted, strokes: { doubtful: [{}], frames: [{}] } }).mask).toBe('look');
});

it('Track is done once followed, Move once something moves, Blend once something blends', () => {
  expect(states({ track: { track: { frames: [] } } }).track).toBe('open');
  expect(states({ track: { track: { frames: [{ confidence: 1 }] } } }).track).toBe('done');
  expect(states({ track: { track: { frames: [{ confidence: 0.1 }] } } }).track).toBe('look');
  const layer = { motion: STILL, effects: [], blend: 'normal' };
  expect(states({}, placed({ layers: [layer] }))).toMatchObject({ move: 'open', blend: 'open' });
  const moved = { ...layer, motion: { ...STILL, x: [{ frame: 0, value: 0 }] }, blend: 'add' };
  expect(states({}, placed({ layers: [moved] }))).toMatchObject({ move: 'done', blend: 'done' });
});
