'use client';
import { makePlainCut } from '../../core/film/edits/joins';
import type { PlacedJoin } from '../../core/film/timing';
import { commandItem, type MenuActions } from '../commands/context-menu';
import { useTools } from '../store/film-context';
import { copyJoin, pasteJoin } from './join-copies';
import { toggleJoin, useReelChoice } from '../store/reel-choice';
import { heldJoin } from './shot-clipboard';
import { newId } from '../store/new-id';

/** The menu of a join on the reel. What is pasted goes on all that are selected, where this one is among them. */
export function useJoinMenu(placed: PlacedJoin, onOpen: () => void): () => MenuActions {
  const { store } = useTools();
  return () => {
    const { id, name } = placed.join;
    const { joins } = useReelChoice.getState();
    const ids = joins.has(id) ? [...joins] : [id];
    return [
      [{ label: 'Open on the bench', onSelect: onOpen }],
      [
        { ...commandItem('copyShots', () => copyJoin(store, id), 'Copy this join') },
        {
          ...commandItem(
            'pasteShots',
            () => pasteJoin(store, ids),
            ids.length === 1 ? 'Paste a join here' : `Paste on ${ids.length} joins`,
          ),
          isDisabled: heldJoin() === null,
        },
        { label: joins.has(id) ? 'Deselect' : 'Select', onSelect: () => toggleJoin(id) },
      ],
      [
        {
          label: 'Make it a plain cut',
          onSelect: () => store.edit(`Made ${name} a plain cut`, (d) => makePlainCut(d, id, newId)),
        },
      ],
    ];
  };
}
