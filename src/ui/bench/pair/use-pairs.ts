'use client';
import { useMemo } from 'react';
import { isUnderWay } from '../../../core/film/job';
import type { PlacedJoin } from '../../../core/film/timing';
import { pairOrderOf } from '../../../core/pair/cut-pair';
import type { FoundPairs } from '../../../core/pair/find-pairs';
import { useAsked } from '../../store/asked';
import { useFilm, useJobOfKind, useTools } from '../../store/film-context';

type Sent = Omit<FoundPairs, 'map'> & {
  readonly map: Omit<FoundPairs['map'], 'parts'> & { readonly parts: Readonly<Record<keyof FoundPairs['map']['parts'], string>> };
};

const bytesOf = (text: string): Uint8Array<ArrayBuffer> => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

function received({ map, ...rest }: Sent): FoundPairs {
  const parts = Object.fromEntries(Object.entries(map.parts).map(([name, text]) => [name, bytesOf(text)]));
  return { ...rest, map: { ...map, parts: parts as unknown as FoundPairs['map']['parts'] } };
}

/** What comparing both shots of a join came to, for a window of frames around the cut as it was when it was asked for. */
export function usePairs(placed: PlacedJoin, window: number) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  // the window stays where it is while the cut moves within it; it is laid anew for another join or another length
  const key = `${placed.join.id} ${window} ${placed.leaving.mediumId} ${placed.entering.mediumId} ${media.has(placed.leaving.mediumId)} ${media.has(placed.entering.mediumId)}`;
  const order = useMemo(
    () => pairOrderOf(film, media, placed, window),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [key],
  );
  const newest = useJobOfKind('pair');
  const isRunning = newest !== undefined && isUnderWay(newest);
  const url = order === null ? null : `/api/films/${store.filmId}/pairs?order=${encodeURIComponent(JSON.stringify(order))}`;
  // asked again whenever a comparison has come to its end
  const { data: sent, problem } = useAsked<Sent | null>(url, `${newest?.id} ${isRunning}`);
  const found = useMemo(() => (sent == null ? null : received(sent)), [sent]);
  return {
    order,
    found,
    job: isRunning ? newest : null,
    problem: problem ?? newest?.error ?? null,
    look: () => {
      if (order !== null) void store.ask('pairs', order).then(() => store.refreshJobs());
    },
  };
}
