import { describe, expect, it } from 'vitest';
import { setOverlap } from '../film/edits/joins';
import { addShot } from '../film/edits/reel';
import { addLayer, setEffects, setLayer } from '../film/edits/layers';
import type { Film } from '../film/film';
import { changed, countingIds } from '../film/sample-film';
import { channelAt, type ValueKey } from '../motion/curve';
import { easedKeys } from '../motion/eases';
import { makeKind, setSettings } from './making';
import { frameMap, layOwnRecipe, recipeOfJoin, type Adapts, type OwnRecipe, type Told } from './own-recipe';
import { isChangedByHand } from '../film/made-mark';
import { joinAt, MEDIA, REEL } from './test-joins';

const ALL: Adapts = { length: true, mattes: true, beats: true };
const [first, second] = [joinAt(REEL).join.id, joinAt(REEL, 1).join.id];
const saved = (film: Film, adapts = ALL, at = 0): OwnRecipe =>
  recipeOfJoin(film, MEDIA, joinAt(film, at), { name: 'Mine', picture: null, adapts });
const laid = (film: Film, recipe: OwnRecipe, joinId = second): { film: Film; told: readonly string[]; all: readonly Told[] } => {
  let all: readonly Told[] = [];
  const next = changed(film, (d) => void (all = layOwnRecipe(d, MEDIA, joinId, recipe, countingIds('laid'))));
  return { film: next, told: all.map((t) => t.text), all };
};

describe('a recipe of one’s own', () => {
  it('lays a kind as it was set, with a matte of the new shot', () => {
    const film = changed(REEL, (d) => makeKind(d, MEDIA, first, 'arrive', { matteId: 'box-b', from: 'above', distancePx: 333 }));
    const { film: next, told } = laid(film, saved(film));
    expect(told).toEqual([]);
    const { join } = joinAt(next, 1);
    expect(join.recipe).toMatchObject({ kind: 'arrive', settings: { matteId: 'box-c', from: 'above', distancePx: 333 } });
    expect([isChangedByHand(next, join), join.layers[0]!.mattes[0]!.matteId]).toEqual([false, 'box-c']);
    expect([join.before, join.after]).toEqual([joinAt(film).join.before, joinAt(film).join.after]);
    // the other join is as it was
    expect(joinAt(next).join).toEqual(joinAt(film).join);
  });

  it('says what did not fit: no matte, no medium, points to be marked', () => {
    const bare = changed(REEL, (d) => {
      makeKind(d, MEDIA, first, 'arrive', { matteId: 'box-b' });
      d.mattes = d.mattes.filter((m) => m.mediumId !== 'c');
    });
    const begun = laid(bare, saved(bare));
    expect(begun.told).toEqual(['Paint over “Box b” of shot c: it has none yet.']);
    // one is begun for it, which its settings take, and the report leads there
    const { matteId } = joinAt(begun.film, 1).join.recipe!.settings as { matteId: string };
    expect(begun.film.mattes.find((m) => m.id === matteId)).toMatchObject({ name: 'Box b', mediumId: 'c', painted: [] });
    expect(begun.all[0]!.matte).toEqual({ id: matteId, side: 'entering' });
    const fixed = changed(REEL, (d) => makeKind(d, MEDIA, first, 'arrive', { matteId: 'box-b' }));
    expect(laid(fixed, saved(fixed, { ...ALL, mattes: false })).told).toHaveLength(1);
    const bridged = changed(REEL, (d) => makeKind(d, MEDIA, first, 'bridge', { pin: { x: 1, y: 2, scale: 0.5, turn: 0 } }));
    expect(laid(bridged, saved(bridged)).told).toEqual(['Set again where one shot lies in the other.']);
    const foreign = changed(REEL, (d) => {
      addLayer(d, first, 'Spark', { kind: 'medium', mediumId: 'gone', frame: 0 }, countingIds('l'));
      setOverlap(d, first, 4, 4);
    });
    const result = laid(foreign, saved(foreign));
    expect(result.told).toEqual(['“Spark” is left out: its media is not on the shelf.']);
    expect(joinAt(result.film, 1).join.layers.map((l) => l.name)).toEqual(['shot a', 'shot b']);
  });

  it('never takes the hole of another join for a subject', () => {
    const film = changed(REEL, (d) => {
      makeKind(d, MEDIA, first, 'arrive', { matteId: 'box-b' });
      // the only matte of the last shot is the hole of a zoom that leads out of it
      addShot(d, MEDIA.get('a')!, 3, countingIds('more'));
      const out = d.joins.find((j) => j.leavingShotId === d.shots[2]!.id)!;
      makeKind(d, MEDIA, out.id, 'zoom through', { matteId: 'box-c' });
    });
    const { film: next, told } = laid(film, saved(film));
    expect(told).toEqual(['Paint over “Box b” of shot c: it has none yet.']);
    expect(joinAt(next, 1).join.recipe).not.toMatchObject({ settings: { matteId: 'box-c' } });
  });

  it('names nothing that is not here, whatever its file says', () => {
    const tiles = changed(REEL, (d) => makeKind(d, MEDIA, first, 'tiles in space', {}));
    const recipe = saved(tiles);
    const foreign = {
      ...recipe,
      recipe: { ...recipe.recipe, settings: { ...recipe.recipe!.settings, mediumId: 'gone', drawnId: 'gone' } },
    };
    const { film, told } = laid(tiles, foreign as OwnRecipe);
    expect(told).toContain('A background is left out: its media is not on the shelf.');
    expect(joinAt(film, 1).join.recipe!.settings).toMatchObject({ mediumId: null, drawnId: null });
  });

  it('says nothing of mattes that its kind makes itself', () => {
    const film = changed(REEL, (d) => makeKind(d, MEDIA, first, 'drop through', {}));
    expect(saved(film).mattes).toEqual([]);
    expect(laid(film, saved(film)).told).toEqual([]);
  });

  it('lays what was made by hand, stretched to the length it finds or with its own', () => {
    const film = changed(REEL, (d) => {
      setOverlap(d, first, 10, 10);
      const id = addLayer(d, first, 'Still', { kind: 'held', side: 'entering', frame: 25 }, countingIds('l'));
      setLayer(d, first, id, { opacity: easedKeys('straight', [-10, 0], [0, 1]), span: { first: -10, last: 9 } });
      setEffects(d, { kind: 'join', joinId: first }, [
        {
          id: 'fx',
          kind: 'shake',
          visible: true,
          span: { first: 0, last: 9 },
          params: { strengthPx: [...easedKeys('straight', [0, 12], [10, 0])] },
        },
      ]);
      setOverlap(d, second, 20, 20);
      d.shots[2]!.inFrame = 40;
    });
    const { film: next } = laid(film, saved(film));
    const { join } = joinAt(next, 1);
    expect([join.before, join.after]).toEqual([20, 20]);
    const [still] = join.layers;
    // five frames past the cut as before, of the new shot
    expect(still!.source).toEqual({ kind: 'held', side: 'entering', frame: 45 });
    expect(still!.span).toEqual({ first: -20, last: 18 });
    expect(channelAt(still!.opacity, -10)).toBeCloseTo(0.5, 6);
    expect(join.finish[0]).toMatchObject({ kind: 'shake', span: { first: 0 } });
    expect((join.finish[0]!.params.strengthPx as readonly ValueKey[]).map((k) => k.frame)).toEqual([0, 20]);
    expect(join.finish[0]!.id).not.toBe('fx');
    const own = laid(film, saved(film, { ...ALL, length: false }));
    expect([joinAt(own.film, 1).join.before, joinAt(own.film, 1).join.layers[0]!.span]).toEqual([10, { first: -10, last: 9 }]);
  });

  it('moves what lay on beats onto beats again', () => {
    const recipe: OwnRecipe = { ...saved(REEL), before: 20, after: 20, beats: [-20, -10, 0, 10, 20] };
    const at = frameMap(recipe, 20, 20, [-24, -12, 0, 12, 24]);
    expect([-20, -10, -5, 0, 10, 25].map(at)).toEqual([-24, -12, -6, 0, 12, 30]);
    // without beats its length alone counts
    expect([-20, 20].map(frameMap(recipe, 10, 30, []))).toEqual([-10, 30]);
    expect(laid(REEL, recipe).told).toContain('There are no beats here to keep to.');
  });

  it('remembers a zoom by its settings and lets it be solved again', () => {
    const film = changed(REEL, (d) => {
      makeKind(d, MEDIA, first, 'zoom through', { matteId: 'box-a' });
      setSettings(d, MEDIA, first, 'zoom through', { piece: 'slides', room: 0.2 });
    });
    const { film: next, told } = laid(film, saved(film));
    expect(told).toEqual([]);
    expect(joinAt(next, 1).join.recipe).toMatchObject({
      kind: 'zoom through',
      settings: { matteId: 'box-b', piece: 'slides', room: 0.2 },
      made: '',
    });
  });
});
