import { expect, it, vi } from 'vitest';
import { checkEffectEnds } from '../check/lacks';
import { changed } from '../film/sample-film';
import { laneFacts } from '../lanes/lanes';
import { planFrame } from '../plan/plan-film';
import { joinAt, MEDIA, REEL } from '../recipes/test-joins';
import { makeKind } from '../recipes/making';
import type { EffectKind } from './effect';
import type * as Registry from './registry';
import { EFFECTS, effectNamed } from './registry';

// an effect is a file, and a name in the list
vi.mock('./registry', async (original) => {
  const known = await original<typeof Registry>();
  const tint: EffectKind = {
    kind: 'tint',
    name: 'Tint',
    does: 'all of it redder',
    params: { share: { label: 'Share', unit: '', min: 0, max: 1, step: 0.01, initial: 0.5 } },
    amount: 'share',
    endsInSight: true,
    reachPx: () => 0,
    draw(src, out, { share }) {
      src.data.forEach((v, i) => (out.data[i] = i % 4 === 0 ? v + (255 - v) * share! : v));
    },
  };
  return {
    ...known,
    EFFECTS: [...known.EFFECTS, tint],
    effectNamed: (kind: string) => (kind === 'tint' ? tint : known.effectNamed(kind)),
  };
});

it('lets an effect be added by its own file and one name', async () => {
  const id = REEL.joins[0]!.id;
  const film = changed(REEL, (d) => {
    makeKind(d, MEDIA, id, 'dissolve');
    d.joins[0]!.finish = [{ id: 'e', kind: 'tint', visible: true, params: { share: 1 } }];
  });
  const placed = joinAt(film);
  expect(EFFECTS.map((e) => e.kind)).toContain('tint');
  // planned, its number a lane, looked at by Check, and taken by the schema
  expect(planFrame(film, MEDIA, placed.from).finish).toEqual([{ kind: 'tint', params: { share: 1, frame: -placed.join.before } }]);
  expect(checkEffectEnds(placed).map((f) => f.kind)).toEqual(['cut off']);
  const target = { kind: 'effect', place: { kind: 'join', joinId: id }, effectId: 'e', param: 'share' } as const;
  expect(laneFacts(film, id, target)).toMatchObject({ name: 'tint, share', min: 0, max: 1 });
  const { parseFilm } = await import('../../server/schema/film-schema');
  expect(parseFilm(film).joins[0]!.finish[0]!.kind).toBe('tint');
  expect(() => parseFilm(changed(film, (d) => void (d.joins[0]!.finish[0]!.kind = 'taint')))).toThrow();
  expect(() => effectNamed('taint')).toThrow(RangeError);
});
