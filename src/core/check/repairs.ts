import type { Draft } from 'immer';
import type { NewId } from '../film/drafts';
import { setFraming } from '../film/edits/shots';
import { makeRoom, slideEntering, trimEnd } from '../film/edits/trims';
import { setLayer } from '../film/edits/layers';
import { byId, type Film, type Join, type Media } from '../film/film';
import { placeJoin } from '../film/timing';
import { broughtTogether } from '../pair/bring-together';
import { setOverlapAndRefit } from '../recipes/refit';
import { kindNamed, settingsOf } from '../recipes/kinds';
import { setSettings } from '../recipes/making';
import type { Repair } from './finding';

/** Does what a finding proposes for a join. */
export function applyRepair(film: Draft<Film>, media: Media, joinId: string, repair: Repair, newId: NewId): void {
  const { enteringShotId } = byId(film.joins, joinId, 'join');
  const medium = media.get(byId(film.shots, enteringShotId, 'shot').mediumId);
  switch (repair.kind) {
    case 'slide':
      if (medium === undefined) return;
      slideEntering(film, medium, joinId, repair.later);
      if (repair.trimEnd > 0) trimEnd(film, medium, enteringShotId, -repair.trimEnd, newId);
      return;
    case 'trim end':
      if (medium !== undefined) trimEnd(film, medium, enteringShotId, -repair.by, newId);
      return;
    case 'overlap':
      setOverlapAndRefit(film, media, joinId, repair.before, repair.after);
      return;
    case 'make room':
      return makeRoom(film, media, joinId, repair.frames, newId);
    case 'fit hole':
      setSettings(film, media, joinId, 'wipe past', { followsHole: true });
      return;
    case 'grow matte':
      // every layer that shares the edge moves it alike
      for (const { mattes } of byId(film.joins, joinId, 'join').layers)
        for (const use of mattes) if (use.matteId === repair.matteId) use.growPx += repair.byPx;
      return;
    case 'mirror borders':
      for (const id of repair.layerIds) setLayer(film, joinId, id, { edges: 'mirrored' });
      return;
    case 'less room': {
      const { recipe } = byId(film.joins, joinId, 'join') as Join;
      const less = recipe === undefined ? null : kindNamed(recipe.kind).withoutRoom?.(settingsOf(recipe));
      if (recipe !== undefined && less != null) setSettings(film, media, joinId, recipe.kind, less);
      return;
    }
    case 'between': {
      const join = byId(film.joins, joinId, 'join');
      const shot = byId(film.shots, repair.side === 'leaving' ? join.leavingShotId : join.enteringShotId, 'shot');
      shot.time = { speed: 1, anchor: 0, ...shot.time, between: 'flow' };
      return;
    }
    case 'bring together': {
      const placed = placeJoin(film, joinId);
      const framing = placed === null ? null : broughtTogether(film, media, placed);
      if (framing !== null) setFraming(film, enteringShotId, framing);
    }
  }
}
