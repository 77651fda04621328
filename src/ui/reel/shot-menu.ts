'use client';
import type { Shot } from '../../core/film/film';
import { TINTS } from '../../core/film/tint';
import { commandItem, type MenuActions } from '../commands/context-menu';
import { useTools } from '../store/film-context';
import { chooseShots, useReelChoice } from '../store/reel-choice';
import { askForName } from './name-field';
import type { ShotActions } from './shot-actions';

/** The menu of a shot. Opened on one that is not selected it selects that alone; the items then work on what is selected. */
export function useShotMenu(shot: Shot, actions: ShotActions): () => MenuActions {
  const { store } = useTools();
  return () => {
    const { shotId, alsoShots } = useReelChoice.getState();
    if (shot.id !== shotId && !alsoShots.has(shot.id)) chooseShots([shot.id]);
    return [
      [
        commandItem('split', actions.split, 'Split at the playhead'),
        commandItem('duplicate', actions.duplicate, 'Duplicate'),
        commandItem('swapWithNext', actions.swap, 'Swap with the next'),
        commandItem('rename', askForName, 'Rename…'),
      ],
      [
        commandItem('cutShots', actions.cut, 'Cut'),
        commandItem('copyShots', actions.copy, 'Copy'),
        commandItem('pasteShots', actions.paste, 'Paste at the playhead'),
      ],
      [
        commandItem('turnOff', actions.turnOff, shot.isOff === true ? 'Turn on' : 'Turn off, leave black'),
        commandItem('removeShot', actions.remove, 'Remove from the reel'),
        commandItem('chooseToEnd', actions.chooseToEnd, 'Select all to its right'),
      ],
      TINTS.map((tint) => ({
        label: shot.tint === tint ? `Without colour ${tint}` : `Colour ${tint}`,
        onSelect: () =>
          store.edit(`Colour of ${shot.name}`, (d) => {
            const here = d.shots.find((s) => s.id === shot.id)!;
            if (shot.tint === tint) delete here.tint;
            else here.tint = tint;
          }),
      })),
    ];
  };
}
