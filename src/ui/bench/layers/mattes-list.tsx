'use client';
import { Plus } from 'lucide-react';
import type { ShotSide } from '../../../core/film/composition';
import { MATTE_KINDS, type MatteKind } from '../../../core/film/edits/mattes';
import type { Matte } from '../../../core/film/film';
import type { PlacedJoin } from '../../../core/film/timing';
import { Menu, MenuItem } from '../../parts/menu';
import { useOneStop } from '../../parts/one-stop';
import { useFilm } from '../../store/film-context';

const KIND_TEXT: Record<MatteKind, string> = {
  strokes: 'Strokes',
  outline: 'Outline',
  'colour key': 'Colour key',
  'brightness key': 'Brightness key',
};

export function matteText({ painted, outline, trackId, key, frameEdits = [] }: Matte): string {
  if (key !== undefined) return `${key.kind} key`;
  if (painted?.length === 0) return frameEdits.length > 0 ? 'imported frames' : 'strokes · nothing painted yet';
  if (painted !== undefined) return `strokes · ${painted.length} ${painted.length === 1 ? 'frame' : 'frames'} painted`;
  if (!outline.closed) return (outline.keys[0]?.points.length ?? 0) < 2 ? 'outline · not drawn yet' : 'outline · open';
  const keys = `${outline.keys.length} ${outline.keys.length === 1 ? 'keyframe' : 'keyframes'}`;
  return `outline · ${trackId === undefined ? keys : `${keys}, on a track`}`;
}

/** The mattes of both shots, to be chosen, and a menu to begin another. */
export function MattesList({
  placed,
  matteId,
  onSelect,
  onAdd,
}: {
  readonly placed: PlacedJoin;
  readonly matteId: string | null;
  readonly onSelect: (id: string) => void;
  readonly onAdd: (kind: MatteKind, side: ShotSide) => void;
}) {
  const { film } = useFilm('film');
  const stop = useOneStop<HTMLUListElement>();
  const owners = [undefined, placed.join.id, placed.leaving.id, placed.entering.id];
  const mattes = film.mattes.filter(
    (m) => (m.mediumId === placed.leaving.mediumId || m.mediumId === placed.entering.mediumId) && owners.includes(m.ownerId),
  );
  return (
    <>
      <div className="flex items-center justify-between pt-3 pr-2 pl-3.5">
        <h2 className="font-semibold text-soft">Mattes of these shots</h2>
        <Menu label="Add a matte" icon={<Plus size={14} />}>
          {(['leaving', 'entering'] as const).flatMap((side) =>
            MATTE_KINDS.map((kind) => (
              <MenuItem key={`${side} ${kind}`} onSelect={() => onAdd(kind, side)}>
                {KIND_TEXT[kind]} on {placed[side].name}
              </MenuItem>
            )),
          )}
        </Menu>
      </div>
      {mattes.length === 0 && <p className="px-3.5 py-1.5 text-soft">None yet. Add one with +, or choose a kind of join in Pair.</p>}
      <ul {...stop}>
        {mattes.map((matte) => (
          <li key={matte.id} className={matte.id === matteId ? 'bg-sheet' : ''}>
            <button
              type="button"
              aria-pressed={matte.id === matteId}
              className="block w-full px-3.5 py-1.5 text-left"
              onClick={() => onSelect(matte.id)}
            >
              <span className="block truncate font-semibold" data-matte-id={matte.id === matteId ? matte.id : undefined}>
                {matte.name}
              </span>
              <span className="block text-[11.5px] text-soft">{matteText(matte)}</span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
