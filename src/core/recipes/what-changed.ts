import { byId, type Film, type Join } from '../film/film';
import { framesText } from '../film/timing';

const lengthOf = ({ before, after }: Join): number => before + after;
const layersText = (count: number): string => (count === 1 ? '1 layer' : `${count} layers`);

/** What laying a recipe on a join did to a film, in short sentences. */
export function whatChanged(before: Film, after: Film, joinId: string): readonly string[] {
  const [had, has] = [byId(before.joins, joinId, 'join'), byId(after.joins, joinId, 'join')];
  const told: string[] = [];
  if (lengthOf(had) !== lengthOf(has))
    told.push(`The overlap has ${framesText(lengthOf(has))}${lengthOf(had) === 0 ? '' : ` instead of ${lengthOf(had)}`}.`);
  else if (had.before !== has.before)
    told.push(`The overlap begins ${framesText(Math.abs(had.before - has.before))} ${has.before > had.before ? 'earlier' : 'later'}.`);
  if (had.layers.length > 0 || has.layers.length > 0)
    told.push(
      had.layers.length === 0
        ? `${layersText(has.layers.length)} made.`
        : `${layersText(has.layers.length)} instead of ${had.layers.length}.`,
    );
  const made = after.mattes.filter((m) => m.ownerId === undefined && !before.mattes.some((b) => b.id === m.id));
  if (made.length > 0) told.push(`New in Mask: ${made.map((m) => m.name).join(', ')}.`);
  const moved = after.shots.filter((s) => {
    const old = before.shots.find((b) => b.id === s.id);
    return old !== undefined && (old.inFrame !== s.inFrame || old.length !== s.length);
  });
  if (moved.length > 0) told.push(`Other frames are shown of ${moved.map((s) => s.name).join(' and ')}.`);
  return told;
}
