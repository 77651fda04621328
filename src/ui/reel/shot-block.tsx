'use client';
import type { PointerEvent } from 'react';
import type { Film, Shot } from '../../core/film/film';
import { mediumFrameAt } from '../../core/film/timing';
import { ContextMenu } from '../commands/context-menu';
import { StripTile } from '../shelf/strip-tile';
import { TINT_COLOUR } from '../parts/tints';
import { useFilm } from '../store/film-context';
import { chooseShot, leaveClip, useReelChoice } from '../store/reel-choice';
import { SHOT_HEIGHT, SHOT_TOP, type ReelScale } from './reel-scale';
import { useShotMenu } from './shot-menu';
import type { ShotActions } from './shot-actions';
import type { ShotDrag } from './use-shot-drag';
import { isMoved } from './shot-drag';

const TILE = 84;
const TILE_HEIGHT = 46;

interface ShotBlockProps {
  /** As it is shown, with what is being dragged. */
  readonly film: Film;
  readonly shot: Shot;
  /** Film frame it begins on. */
  readonly start: number;
  readonly scale: ReelScale;
  /** Tab comes to it. */
  readonly reached: boolean;
  readonly drag: ShotDrag;
  readonly shotActions: ShotActions;
}

const speedText = ({ time }: Shot): string =>
  time === undefined ? '' : `${typeof time.speed === 'number' ? `${Math.round(time.speed * 100) / 100} ×` : 'ramp'} · `;

/** A shot on the reel: its pictures, its name, and ends to drag. */
export function ShotBlock({ film, shot, start, scale, reached, drag, shotActions }: ShotBlockProps) {
  const { media } = useFilm('media');
  const isChosen = useReelChoice((s) => s.shotId === shot.id || s.alsoShots.has(shot.id));
  const actions = useShotMenu(shot, shotActions);
  const medium = media.get(shot.mediumId);
  const width = shot.length * scale.perFrame;
  const tiles = medium === undefined ? 0 : Math.max(1, Math.ceil(width / TILE));
  const held = drag.drag;
  const lifted = held?.kind === 'move' && held.ids.has(shot.id) && isMoved(held) ? held.dx : 0;
  const grip = (on: 'body' | 'start' | 'end') => (event: PointerEvent) => drag.start(event, shot, on);
  const look = `${isChosen ? 'border-ink outline-1 outline-ink outline-solid' : 'border-sheet'} ${lifted === 0 ? '' : 'z-30 opacity-75'}`;
  return (
    <ContextMenu label={`Shot ${shot.name}`} actions={actions}>
      <div
        role="button"
        aria-pressed={isChosen}
        aria-label={`${shot.name} ${shot.length} frames${shot.isOff === true ? ', off' : ''}`}
        data-shot={shot.id}
        tabIndex={reached ? 0 : -1}
        onFocus={() => (isChosen ? leaveClip() : chooseShot(shot.id))}
        className={`absolute cursor-grab touch-none overflow-hidden rounded-[3px] border bg-well active:cursor-grabbing ${look}`}
        style={{ left: scale.x(start) + lifted, top: SHOT_TOP, width, height: SHOT_HEIGHT }}
        // with Ctrl a click only adds it to what is selected, or takes it out
        onMouseDown={(e) => (e.ctrlKey || e.metaKey) && e.preventDefault()}
        onPointerDown={grip('body')}
        onPointerMove={drag.move}
        onPointerUp={drag.end}
        onPointerCancel={drag.cancel}
      >
        {medium !== undefined &&
          Array.from({ length: tiles }, (_, i) => (
            <span
              key={i}
              className={`absolute top-0 overflow-hidden ${shot.isOff === true ? 'opacity-25' : ''}`}
              style={{ left: i * TILE, width: TILE, height: TILE_HEIGHT }}
            >
              <StripTile
                medium={medium}
                frame={mediumFrameAt(film, shot, medium, Math.min(shot.length - 1, ((i + 0.5) * TILE) / scale.perFrame))}
                boxAspect={TILE / TILE_HEIGHT}
              />
            </span>
          ))}
        <span
          className="absolute inset-x-0 bottom-0 flex h-4 items-center justify-between bg-sheet px-3 text-[11px]"
          style={shot.tint === undefined ? {} : { borderTop: `3px solid ${TINT_COLOUR[shot.tint]}` }}
        >
          <span className="truncate font-semibold">{shot.name}</span>{' '}
          <span className="pl-2 font-mono text-[10px] text-soft">
            {shot.isOff === true && 'off · '}
            {speedText(shot)}
            {shot.length}
          </span>
        </span>
        {(['start', 'end'] as const).map((end) => (
          <span
            key={end}
            role="presentation"
            data-trim={end}
            title={end === 'end' ? 'Trim the end; Shift: its speed; Alt: roll the cut' : 'Trim the start; Alt: roll the cut'}
            className={`absolute inset-y-0 w-[7px] cursor-ew-resize hover:bg-white/50 ${end === 'start' ? 'left-0' : 'right-0'}`}
            onPointerDown={grip(end)}
          />
        ))}
      </div>
    </ContextMenu>
  );
}
