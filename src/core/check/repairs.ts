import type { Draft } from 'immer';
import type { NewId } from '../film/drafts';
import { setFollowsHole } from '../recipes/wipe-past';
import { setOverlap, slideEntering, trimEnd } from '../film/edits';
import { byId, type Film, type Media } from '../film/film';
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
      setOverlap(film, joinId, repair.before, repair.after);
      return;
    case 'fit hole':
      setFollowsHole(film, media, joinId, true);
  }
}
