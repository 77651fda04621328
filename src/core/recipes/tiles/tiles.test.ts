import { describe, expect, it } from 'vitest';
import { addMarker } from '../../film/edits/marks';
import type { Film } from '../../film/film';
import { TILE_SHAPES, type TilesSettings } from '../../film/recipe-settings';
import { changed } from '../../film/sample-film';
import { EASES_OF_MOVES } from '../../motion/eases';
import { makeKind, runOf, setSettings } from '../making';
import { isChangedByHand } from '../../film/made-mark';
import { tiles } from './tiles';
import { casesOf, chances, drawn, joinAt, leastCovered, MEDIA, pixel, REEL } from '../test-joins';

const ids = [0, 1, 2].map((i) => joinAt(REEL, i).join.id);
/** Tiles on the first joins of the reel, one space for all of them. */
const made = (count: number, settings: Partial<TilesSettings> = {}): Film =>
  changed(REEL, (d) => {
    for (const id of ids.slice(0, count))
      makeKind(d, MEDIA, id, 'tiles in space', { motionBlur: false, copies: 0, ...settings, goesOn: id !== ids[0] });
  });
const [RED, GREEN, BLUE, YELLOW] = [
  [255, 0, 0, 255],
  [0, 255, 0, 255],
  [0, 0, 255, 255],
  [255, 255, 0, 255],
];
const middle = (film: Film, frame: number): readonly number[] => pixel(drawn(film, frame), 0, 0);
const cornerOf = (film: Film, frame: number): readonly number[] => pixel(drawn(film, frame), -79, -44);

describe('tiles in space', () => {
  it('fold the frame, go over to the next tile and open it into the whole frame', () => {
    const film = made(1);
    const { from, to, cut, join } = joinAt(film);
    expect([from, to]).toEqual([cut - 28, cut + 10]);
    expect(join.byDepth).toBe(true);
    expect([cornerOf(film, from), cornerOf(film, cut - 18)]).toEqual([RED, [16, 20, 34, 255]]);
    expect([middle(film, cut - 18), middle(film, cut)]).toEqual([RED, GREEN]);
    expect([cornerOf(film, cut), cornerOf(film, to - 1)[1]! > 100]).toEqual([[16, 20, 34, 255], true]);
    expect(drawn(film, to).data).toEqual(drawn(film, to + 5).data);
    expect(middle(film, from - 1)).toEqual(RED);
  });

  it('hang in one space through any number of shots, with no jump from join to join', () => {
    const film = made(3);
    expect(runOf(film, ids[1]!)).toEqual(ids);
    for (const [i, colour] of [GREEN, BLUE, YELLOW].entries()) expect(middle(film, joinAt(film, i).cut + 4)).toEqual(colour);
    for (const i of [0, 1]) {
      const at = joinAt(film, i + 1).from;
      expect(joinAt(film, i).to).toBe(at);
      const [before, after] = [drawn(film, at - 1), drawn(film, at)];
      let most = 0;
      before.data.forEach((v, k) => (most = Math.max(most, Math.abs(v - after.data[k]!))));
      expect(most).toBeLessThan(3);
      expect(cornerOf(film, at)).toEqual([16, 20, 34, 255]);
    }
    expect(cornerOf(film, joinAt(film, 2).to)).toEqual(YELLOW);
  });

  it('are made anew together when one of them changes', () => {
    const film = changed(made(3), (d) => setSettings(d, MEDIA, ids[0]!, 'tiles in space', { across: 2, shape: 'hexagon' }));
    const [one, second] = ids.map((_, i) => joinAt(film, i).join);
    expect(one!.layers.find((l) => l.name === 'shot c')!.motion.x).toBeCloseTo(2.9 * film.width, 6);
    expect(isChangedByHand(film, second!)).toBe(false);
    expect(film.mattes.find((m) => m.name === 'Tile of shot b')!.outline.keys[0]!.points).toHaveLength(10);
  });

  it('arrive at the marker nearest to the cut, where that is asked for', () => {
    const film = changed(made(1), (d) => {
      addMarker(d, 57, () => 'm');
      setSettings(d, MEDIA, ids[0]!, 'tiles in space', { arrives: 'marker' });
    });
    const { from, cut } = joinAt(film);
    expect(from).toBe(57 - 28);
    expect(tiles.notes!(film, MEDIA, joinAt(film), joinAt(film).join.recipe!.settings as TilesSettings, undefined)[0]!.text).toContain(
      `arrives on 57`,
    );
    expect(cut).toBe(60);
  });

  it('take the shape of a drawn outline', () => {
    const film = changed(made(1), (d) => setSettings(d, MEDIA, ids[0]!, 'tiles in space', { shape: 'drawn', drawnId: 'box-a' }));
    const folded = film.mattes.find((m) => m.name === 'Tile of shot a')!.outline.keys.at(-1)!.points;
    expect(Math.max(...folded.map((p) => Math.abs(p.x)))).toBe(20);
  });

  it('leave nothing empty over many random settings, and begin and end on the shots’ own framing', () => {
    const chance = chances(31);
    for (let n = 0; n < casesOf(200); n++) {
      const shots = 1 + chance(3);
      const film = made(shots, {
        shape: TILE_SHAPES[chance(5)]!,
        turn: chance(180),
        folds: 2 + chance(12),
        travels: 2 + chance(30),
        across: chance(60) / 10 - 3,
        down: chance(40) / 10 - 2,
        depth: chance(30) / 10 - 1,
        tilt: chance(60) - 30,
        copies: chance(20) === 0 ? 2 : 0,
        ease: EASES_OF_MOVES[chance(EASES_OF_MOVES.length)]!,
        motionBlur: chance(2) === 0,
      });
      const i = chance(shots);
      const { from, to } = joinAt(film, i);
      const frame = [from, from + chance(to - from), to - 1][chance(3)]!;
      expect([n, leastCovered(drawn(film, frame))]).toEqual([n, 255]);
      if (n % 5 > 0) continue;
      expect(cornerOf(film, joinAt(film).from)).toEqual(RED);
      expect(drawn(film, joinAt(film, shots - 1).to).data).toEqual(drawn(film, joinAt(film, shots - 1).to + 1).data);
    }
  });
});
