import type { LayerSource } from '../../film/composition';
import { kindOf, type Film, type Join } from '../../film/film';
import type { MeltSettings } from '../../film/recipe-settings';
import { placedJoins, type PlacedJoin } from '../../film/timing';
import { EASES_OF_MOVES, type EaseName } from '../../motion/eases';
import type { KindOfJoin } from '../kind';
import { madeLayer, madeUse, wayOver } from '../made-layers';

/** Frames a melt takes at least and at most. */
export const SHORTEST_MELT = 2;
export const LONGEST_MELT = 24;

/** A layer's source that melts both shots over an overlap. */
export function meltSource(ease: EaseName, quality: MeltSettings['quality'], join: Pick<Join, 'before' | 'after'>): LayerSource {
  const way = wayOver(ease, join, [0, 1]);
  return { kind: 'melt', quality, warp: way, mix: way };
}

/** Both shots go over into each other by their motion; around a subject they dissolve. */
export const melt: KindOfJoin<MeltSettings> = {
  name: 'Melt',
  made: 'a melt',
  does: 'matching parts flow into each other',
  need: null,
  quick: { quality: 'fast' },
  defaults: { matteId: null, quality: 'fine', ease: 'soft both' },
  fields: [
    { name: 'matteId', label: 'Melts', kind: 'matte', side: 'any', orNone: 'all of the picture' },
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES },
    { name: 'quality', label: 'Motion found', kind: 'choice', options: ['fast', 'fine'] },
  ],
  shortest: SHORTEST_MELT,
  longest: LONGEST_MELT,
  usual: 8,
  make({ join, settings: { ease, quality, matteId } }) {
    const layer = madeLayer(join, 'melt', 'Melt', meltSource(ease, quality, join));
    if (matteId === null) return { layers: [layer] };
    return {
      layers: [
        { ...layer, mattes: [madeUse(join, 'melt', { matteId, side: 'inside', growPx: 12, featherPx: 16 })] },
        { ...madeLayer(join, 'from', 'Around, leaving', { kind: 'leaving' }), opacity: wayOver(ease, join, [1, 0]) },
        madeLayer(join, 'to', 'Around, entering', { kind: 'entering' }),
      ],
    };
  },
};

/** The plain cuts between two pieces of one take: what "melt all cuts of this take" means. */
export const cutsOfTake = (film: Film, { leaving }: PlacedJoin): readonly PlacedJoin[] =>
  placedJoins(film).filter(
    (p) => p.leaving.mediumId === leaving.mediumId && p.entering.mediumId === leaving.mediumId && kindOf(p.join) === 'cut',
  );
