'use client';
import { useState, type DragEvent } from 'react';
import { addShot } from '../../core/film/edits/reel';
import type { Film } from '../../core/film/film';
import { MEDIUM_DRAG_TYPE, draggedIds } from '../shelf/drag-types';
import { useFilm, useTools } from '../store/film-context';
import { newId } from '../store/new-id';
import type { ReelScale } from './reel-scale';
import { indexAt } from './shot-drag';

const NONE: ReadonlySet<string> = new Set();

/** Taking cards that are dragged from the shelf. `dropAt` is the place among the shots where they would be laid; null without any. */
export function useShelfDrops(film: Film, scale: ReelScale) {
  const { store } = useTools();
  const { media } = useFilm('media');
  const [dropAt, setDropAt] = useState<number | null>(null);
  const placeOf = (event: DragEvent): number => indexAt(film, scale.placeAt(event.clientX), NONE);
  return {
    dropAt,
    handlers: {
      onDragOver(event: DragEvent): void {
        if (!event.dataTransfer.types.includes(MEDIUM_DRAG_TYPE)) return;
        event.preventDefault();
        setDropAt(placeOf(event));
      },
      onDragLeave: (): void => setDropAt(null),
      onDrop(event: DragEvent): void {
        setDropAt(null);
        if (!event.dataTransfer.types.includes(MEDIUM_DRAG_TYPE)) return;
        const dropped = draggedIds(event.dataTransfer).flatMap((id) => media.get(id) ?? []);
        if (dropped.length === 0) return;
        event.preventDefault();
        const index = placeOf(event);
        store.edit(`Added ${dropped.length === 1 ? dropped[0]!.name : `${dropped.length} media`} to the reel`, (d) =>
          dropped.forEach((medium, i) => addShot(d, medium, index + i, newId)),
        );
      },
    },
  };
}
