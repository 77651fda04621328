'use client';
import { useState } from 'react';
import { makeRoom, roomMissing } from '../../core/film/edits/trims';
import { framesText } from '../../core/film/timing';
import { Button } from '../parts/button';
import { NumberField } from '../parts/number-field';
import { useFilm, useTools } from '../store/film-context';
import { newId } from '../store/new-id';

const USUAL = 12;

/** Offers to trim shots at the cuts of joins that have no handles for an overlap; nothing where there are enough. */
export function RoomRow({ joinIds }: { readonly joinIds: readonly string[] }) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const [frames, setFrames] = useState(USUAL);
  const lacking = joinIds.filter((id) => {
    const { leaving, entering } = roomMissing(film, media, id, frames);
    return leaving + entering > 0;
  });
  if (lacking.length === 0) return null;
  const make = (): void =>
    store.edit(`Trimmed both ends to handles of ${framesText(frames)}`, (d) => {
      for (const id of lacking) makeRoom(d, media, id, frames, newId);
    });
  const of = joinIds.length === 1 ? 'These shots have' : `The shots of ${lacking.length} of ${joinIds.length} joins have`;
  return (
    <div className="flex flex-col gap-1.5">
      <p className="text-soft">{of} too few handles for a long overlap. Trimmed at the cut, they have pictures for it.</p>
      <div className="flex items-center gap-1.5">
        <Button onClick={make}>Trim both ends by</Button>
        <NumberField label="Handles after trimming" unit="fr" min={1} max={500} value={frames} onCommit={setFrames} />
      </div>
    </div>
  );
}
