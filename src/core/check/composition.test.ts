import { describe, expect, it } from 'vitest';
import { setOverlap } from '../film/edits/joins';
import { trimEnd, trimStart } from '../film/edits/trims';
import { addLayer, setLayer, setMotion } from '../film/edits/layers';
import { changed, countingIds, sampleFilm, sampleMedium } from '../film/sample-film';
import { placedJoins } from '../film/timing';
import { easedKeys } from '../motion/eases';
import type { Film } from '../film/film';
import { checkComposition } from './composition';

const [a, b, short] = [sampleMedium('a', 60), sampleMedium('b', 60), sampleMedium('s', 4)];
const media = new Map([a, b, short].map((m) => [m.id, m]));
const film = changed(sampleFilm([a, b]), (d) => {
  trimEnd(d, a, d.shots[0]!.id, -12, countingIds());
  trimStart(d, b, d.shots[1]!.id, 12, countingIds());
  setOverlap(d, d.joins[0]!.id, 10, 10);
});
const { join } = placedJoins(film)[0]!;
const [leaving, entering] = join.layers;
const find = (change: Parameters<typeof changed>[1]): string[] => {
  const now: Film = changed(film, change);
  return checkComposition(now, media, placedJoins(now)[0]!).map((f) => f.text);
};

describe('checkComposition', () => {
  it('finds nothing in an overlap that shows its shots as they are', () => {
    expect(find(() => undefined)).toEqual([]);
  });

  it('says that media from the shelf runs out, unless its layer is there only as long', () => {
    expect(find((d) => void addLayer(d, join.id, 'Spark', { kind: 'medium', mediumId: 's', frame: 0 }, countingIds('spark')))).toEqual([
      'Spark has no picture on 16 frames of the overlap: its media has 4.',
    ]);
    expect(
      find((d) => {
        const id = addLayer(d, join.id, 'Spark', { kind: 'medium', mediumId: 's', frame: 0 }, countingIds('spark'));
        setLayer(d, join.id, id, { span: { first: 0, last: 3 } });
      }),
    ).toEqual([]);
  });

  it('says that a layer is enlarged too much, and where most', () => {
    expect(
      find((d) =>
        setMotion(d, join.id, { kind: 'layer', id: leaving!.id }, { scale: easedKeys('straight', [-10, 1], [5, 20], [9, 1]) }),
      )[0],
    ).toMatch(/^shot a is enlarged 20\.0 × on frame 53/);
  });

  it('says that the shot that goes on stops at once where the overlap ends, and not when it comes softly to rest', () => {
    const moved = (ease: 'straight' | 'soft stop'): string[] =>
      find((d) => {
        setLayer(d, join.id, leaving!.id, { visible: false });
        setMotion(d, join.id, { kind: 'layer', id: entering!.id }, { x: easedKeys(ease, [-10, -80], [9, 0]) });
      });
    expect(moved('straight').some((t) => t.includes('where the overlap ends'))).toBe(true);
    expect(moved('soft stop').some((t) => t.includes('where the overlap ends'))).toBe(false);
  });
});
