import { expect, it, vi } from 'vitest';
import { changed, countingIds } from '../film/sample-film';
import { channelAt } from '../motion/curve';
import type { KindOfJoin } from './kind';
import type * as Kinds from './kinds';
import { KIND_NAMES, kindNamed } from './kinds';
import { nextThing } from './lacks';
import { madeLayer, wayOver } from './made-layers';
import { chooseKind, setSettings } from './making';
import { layOwnRecipe, recipeOfJoin } from './own-recipe';
import { previewOf } from './preview';
import { joinAt, MEDIA, REEL } from './test-joins';

interface BlinkSettings {
  readonly least: number;
}

// a kind is a folder, and a line in the list of kinds
vi.mock('./kinds', async (original) => {
  const known = await original<typeof Kinds>();
  const blink: KindOfJoin<BlinkSettings> = {
    name: 'Blink',
    made: 'a blink',
    does: 'one shot sinks, the other rises',
    need: null,
    defaults: { least: 0.25 },
    fields: [{ name: 'least', label: 'Sinks to', kind: 'number', unit: '%', min: 0, max: 100, step: 1, factor: 100 }],
    shortest: 4,
    longest: 40,
    usual: 10,
    make: ({ join, placed, settings: { least } }) => ({
      layers: [
        { ...madeLayer(join, 'over', placed.leaving.name, { kind: 'leaving' }), opacity: wayOver('straight', join, [1, least]) },
        madeLayer(join, 'under', placed.entering.name, { kind: 'entering' }),
      ],
    }),
    lacks: (_film, _placed, { least }) => (least < 1 ? null : { step: 'move', text: 'It sinks to nothing.', matteId: null, frame: null }),
    quick: { least: 0 },
  };
  const all = { ...known.KINDS, blink };
  return { ...known, KINDS: all, KIND_NAMES: Object.keys(all), kindNamed: (kind: keyof typeof all) => all[kind] };
});

const BLINK = 'blink' as (typeof KIND_NAMES)[number];

it('lets a kind be added by its own module and one line', async () => {
  expect(KIND_NAMES).toContain(BLINK);
  expect(kindNamed(BLINK).name).toBe('Blink');
  const id = REEL.joins[0]!.id;
  const made = changed(REEL, (d) => chooseKind(d, MEDIA, id, BLINK, countingIds()));
  const { join } = joinAt(made);
  expect(join.before + join.after).toBe(10);
  expect(channelAt(join.layers[0]!.opacity, join.after)).toBeCloseTo(0.25, 6);
  const next = (film: typeof made) => nextThing(film, MEDIA, joinAt(film), { measured: undefined, report: null });
  expect(next(made)).toBeNull();
  const whole = changed(made, (d) => setSettings(d, MEDIA, id, BLINK, { least: 1 } as object));
  expect(next(whole)!.text).toBe('It sinks to nothing.');
  expect(channelAt(joinAt(whole).join.layers[0]!.opacity, join.after)).toBe(1);
  // the sheet of kinds shows it, a recipe of it is saved and applied, a file with it is read
  expect(joinAt(previewOf(REEL, MEDIA, id, BLINK)!.film).join.layers).toHaveLength(2);
  const adapts = { length: false, mattes: false, beats: false };
  const recipe = recipeOfJoin(whole, MEDIA, joinAt(whole), { name: 'Mine', picture: null, adapts });
  const laid = changed(REEL, (d) => void layOwnRecipe(d, MEDIA, id, recipe, countingIds('laid')));
  expect(joinAt(laid).join.recipe).toMatchObject({ kind: 'blink', settings: { least: 1 } });
  const { recipe: schema } = await import('../../server/schema/recipe-schema');
  expect(schema.validate(joinAt(laid).join.recipe).error).toBeUndefined();
  expect(schema.validate({ kind: 'blink', settings: { least: 2 }, made: '' }).error).toBeDefined();
});
