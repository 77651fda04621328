import { describe, expect, it } from 'vitest';
import { changed, edgeKey, sampleFilm, sampleMedium, sampleWipe } from '../../core/film/sample-film';
import { addTrack, setSteadying } from '../../core/film/edits/mattes';
import { AppError } from '../base/errors';
import { parseFilm } from './film-schema';
import { parse } from '../base/parse';
import { frameSchema, paintedFrameQuery } from '../http/request-schema';

const media = [sampleMedium('a', 60), sampleMedium('b', 60)] as const;
const wipe = sampleWipe(...media, [edgeKey(30, 80), edgeKey(50, -80)]);
const steadying = { trackId: 'track', position: 1, turn: 0.5, size: 0, centred: false, edges: 'mirror' } as const;
const held = changed(wipe, (d) => {
  const corners: [number, number][] = [
    [0, 0],
    [8, 0],
    [8, 8],
  ];
  addTrack(d, 'a', 'Sign', 'affine', 3, corners, () => 'track');
  setSteadying(d, d.shots[0]!.id, steadying);
});

type Path = readonly (string | number)[];

/** The film as a hostile or broken page might send it: with `value` at a place of it. */
function broken(path: Path, value: unknown): unknown {
  const copy = JSON.parse(JSON.stringify(held)) as unknown;
  let node = copy as Record<string | number, unknown>;
  for (const key of path.slice(0, -1)) node = node[key] as Record<string | number, unknown>;
  node[path.at(-1)!] = value;
  return copy;
}
const refusal = (value: unknown): string => {
  try {
    parseFilm(value);
  } catch (error) {
    expect(error).toBeInstanceOf(AppError);
    expect((error as AppError).code).toBe('bad-request');
    return (error as Error).message;
  }
  return 'accepted';
};

describe('parseFilm', () => {
  it('gives back what is right as it is', () => {
    expect(parseFilm(JSON.parse(JSON.stringify(held)))).toEqual(held);
    expect(parseFilm(sampleFilm(media)).shots).toHaveLength(2);
  });

  it.each<[string, Path, unknown]>([
    ['another schema', ['schemaVersion'], 99],
    ['a size of nothing', ['width'], 0],
    ['a number as text', ['height'], '90'],
    ['a shot without length', ['shots', 0, 'length'], 0],
    ['two shots of one id', ['shots', 1, 'id'], held.shots[0]!.id],
    ['a field nobody knows', ['shots', 0, 'speed'], 2],
    ['more than all of a movement', ['shots', 0, 'steadying', 'turn'], 1.5],
    ['a side that is none', ['joins', 0, 'layers', 0, 'mattes', 0, 'side'], 'left'],
    ['keys of a track out of order', ['tracks', 0, 'keys'], [held.tracks![0]!.keys[0], { ...held.tracks![0]!.keys[0], frame: 1 }]],
    ['a place that is no number', ['tracks', 0, 'keys', 0, 'corners', 0], [0, null]],
    ['shots that are no list', ['shots'], {}],
  ])('refuses %s', (_, path, value) => {
    expect(refusal(broken(path, value))).toMatch(/^Not accepted: /);
  });

  it.each<[string, Path, unknown, RegExp]>([
    ['a shot held on a track', ['tracks'], [], /shot a refers to a track that is not in the film/],
    ['a join of a shot', ['joins', 0, 'enteringShotId'], 'gone', /refers to a shot that is not in the film/],
    ['a layer with a matte', ['mattes'], [], /refers to a matte that is not in the film/],
    ['a matte on a track', ['mattes', 0, 'trackId'], 'gone', /Behind .* refers to a track that is not in the film/],
  ])('refuses %s that is not there', (_, path, value, words) => {
    expect(refusal(broken(path, value))).toMatch(words);
  });

  it.each([null, 12, 'film', [], undefined])('refuses %s', (value) => {
    expect(refusal(value)).not.toBe('accepted');
  });
});

describe('parse', () => {
  it('takes numbers as text only where it is told to', () => {
    expect(() => parse(frameSchema, '12')).toThrow('must be a number');
    expect(parse(frameSchema, '12', true)).toBe(12);
    expect(() => parse(frameSchema, '-1', true)).toThrow(AppError);
    expect(() => parse(frameSchema, 'NaN', true)).toThrow(AppError);
  });

  it('bounds the size of a painted frame', () => {
    expect(parse(paintedFrameQuery, { width: '640', height: '360', madeFrom: 'x' }, true)).toEqual({
      width: 640,
      height: 360,
      madeFrom: 'x',
    });
    expect(() => parse(paintedFrameQuery, { width: '100000', height: '360', madeFrom: 'x' }, true)).toThrow('width');
  });
});
