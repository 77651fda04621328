import type { DissolveSettings } from '../../film/recipe-settings';
import { EASES_OF_MOVES } from '../../motion/eases';
import type { KindOfJoin } from '../kind';
import { madeLayer, wayOver } from '../made-layers';

/** One shot fades into the other: the leaving one above loses its opacity by a curve of its own. */
export const dissolve: KindOfJoin<DissolveSettings> = {
  name: 'Dissolve',
  made: 'a dissolve',
  does: 'one shot fades into the other',
  need: null,
  defaults: { ease: 'straight' },
  fields: [{ name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES }],
  shortest: 2,
  longest: 1000,
  usual: 12,
  make: ({ join, placed, settings }) => ({
    layers: [
      { ...madeLayer(join, 'over', placed.leaving.name, { kind: 'leaving' }), opacity: wayOver(settings.ease, join, [1, 0]) },
      madeLayer(join, 'under', placed.entering.name, { kind: 'entering' }),
    ],
  }),
};
