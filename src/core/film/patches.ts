import type { Patch } from 'immer';

type Path = readonly (string | number)[];
type Bag = Readonly<Record<string, unknown>>;

const isBag = (value: unknown): value is Bag => typeof value === 'object' && value !== null && !Array.isArray(value);

const isCount = (value: unknown): value is number => typeof value === 'number' && Number.isInteger(value) && value >= 0;

/** True for plain data that holds the same; a field that is undefined counts as none. */
export function isSame(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a)) return Array.isArray(b) && a.length === b.length && a.every((item, i) => isSame(item, b[i]));
  if (!isBag(a) || !isBag(b)) return false;
  return Object.keys(a).every((key) => isSame(a[key], b[key])) && Object.keys(b).every((key) => key in a || b[key] === undefined);
}

/**
 * The patches that make `to` of `from`, both plain data: as small as the change, whatever lists were written anew on the way. What
 * both share by reference is not looked into. An item that came, went or moved in a list is a patch of that list.
 */
export function patchesBetween(from: unknown, to: unknown, path: Path = []): Patch[] {
  if (Object.is(from, to)) return [];
  if (Array.isArray(from) && Array.isArray(to)) return patchesOfList(from, to, path);
  if (isBag(from) && isBag(to)) return patchesOfFields(from, to, path);
  return isSame(from, to) ? [] : [{ op: 'replace', path: [...path], value: to }];
}

function patchesOfFields(from: Bag, to: Bag, path: Path): Patch[] {
  const patches: Patch[] = [];
  for (const key of new Set([...Object.keys(from), ...Object.keys(to)])) {
    const [before, after] = [from[key], to[key]];
    if (after === undefined && before !== undefined) patches.push({ op: 'remove', path: [...path, key] });
    else if (before === undefined && after !== undefined) patches.push({ op: 'add', path: [...path, key], value: after });
    else patches.push(...patchesBetween(before, after, [...path, key]));
  }
  return patches;
}

/** What an item of a list is known by, so that it is told from its neighbours; undefined for items without a name of their own. */
const nameOf = (item: unknown): unknown => (isBag(item) ? (item.id ?? item.frame) : undefined);

function patchesOfList(from: readonly unknown[], to: readonly unknown[], path: Path): Patch[] {
  const shorter = Math.min(from.length, to.length);
  let head = 0;
  while (head < shorter && Object.is(from[head], to[head])) head++;
  let tail = 0;
  while (tail < shorter - head && Object.is(from.at(-1 - tail), to.at(-1 - tail))) tail++;
  const before = from.slice(head, from.length - tail);
  const after = to.slice(head, to.length - tail);
  const pairs = before.length === after.length && before.every((item, i) => nameOf(item) === nameOf(after[i]));
  if (pairs) return before.flatMap((item, i) => patchesBetween(item, after[i], [...path, head + i]));
  return patchesOfNamed(before, after, path, head) ?? patchesOfMiddle(before, after, path, head);
}

/** Items that go, then those that come, then what changed in the others; null where their order changed, or they have no names. */
function patchesOfNamed(before: readonly unknown[], after: readonly unknown[], path: Path, head: number): Patch[] | null {
  const [had, has] = [before, after].map((items) => new Map(items.map((item) => [nameOf(item), item])));
  if (had!.has(undefined) || has!.has(undefined) || had!.size < before.length || has!.size < after.length) return null;
  const stay = before.map(nameOf).filter((name) => has!.has(name));
  if (
    after
      .map(nameOf)
      .filter((name) => had!.has(name))
      .some((name, i) => name !== stay[i])
  )
    return null;
  const patches: Patch[] = [];
  for (let i = before.length - 1; i >= 0; i--) if (!has!.has(nameOf(before[i]))) patches.push({ op: 'remove', path: [...path, head + i] });
  after.forEach((item, i) => {
    const known = had!.get(nameOf(item));
    if (known === undefined) patches.push({ op: 'add', path: [...path, head + i], value: item });
    else patches.push(...patchesBetween(known, item, [...path, head + i]));
  });
  return patches;
}

/** What lies between the items that both lists begin and end with goes, and comes anew. */
function patchesOfMiddle(before: readonly unknown[], after: readonly unknown[], path: Path, head: number): Patch[] {
  const shorter = Math.min(before.length, after.length);
  let same = 0;
  while (same < shorter && isSame(before[same], after[same])) same++;
  let tail = 0;
  while (tail < shorter - same && isSame(before.at(-1 - tail), after.at(-1 - tail))) tail++;
  const gone = before.length - same - tail;
  return [
    ...Array.from({ length: gone }, (_, i): Patch => ({ op: 'remove', path: [...path, head + same + gone - 1 - i] })),
    ...after.slice(same, after.length - tail).map((value, i): Patch => ({ op: 'add', path: [...path, head + same + i], value })),
  ];
}

/**
 * The film, or any plain data, with patches laid on it one after the other. Each list and object on the way is copied once,
 * however many patches go through it; what they do not touch is shared.
 * @throws RangeError with the path of a patch that has no place
 */
export function patched<T>(from: T, patches: readonly Patch[]): T {
  const made = new Set<unknown>();
  const owned = (value: unknown): Record<string | number, unknown> => {
    if (made.has(value)) return value as Record<string, unknown>;
    const copy: unknown = Array.isArray(value) ? value.slice() : { ...(value as object) };
    made.add(copy);
    return copy as Record<string, unknown>;
  };
  const root = { film: from as unknown };
  for (const patch of patches) {
    requirePlace(root.film, patch);
    let at: Record<string | number, unknown> = root;
    let last: string | number = 'film';
    for (const step of patch.path) {
      at = at[last] = owned(at[last]);
      last = step;
    }
    put(at, last, patch);
  }
  return root.film as T;
}

function put(at: Record<string | number, unknown>, last: string | number, { op, value }: Patch): void {
  if (Array.isArray(at) && typeof last === 'number' && op !== 'replace') {
    if (op === 'add') at.splice(last, 0, value);
    else at.splice(last, 1);
  } else if (op === 'remove') delete at[last];
  else at[last] = value;
}

/**
 * Checks that a patch can be laid on `film` without making holes in its lists: every step of its path but the last is there, and
 * what is added to a list joins on. For patches applied one after the other, each on what the ones before it made.
 * @throws RangeError with the path
 */
function requirePlace(film: unknown, { op, path, value }: Patch): void {
  const fail = (): never => {
    throw new RangeError(`there is no place ${path.join('/')}`);
  };
  let at: unknown = film;
  path.forEach((step, i) => {
    const isLast = i === path.length - 1;
    if (Array.isArray(at)) {
      const room = isLast && op === 'add' ? at.length : at.length - 1;
      // a list is only ever made shorter
      const isLength = isLast && step === 'length' && op === 'replace' && isCount(value) && value <= at.length;
      if (!isLength && (typeof step !== 'number' || !Number.isInteger(step) || step < 0 || step > room)) fail();
      at = isLength ? undefined : at[step as number];
    } else if (isBag(at) && typeof step === 'string' && (Object.hasOwn(at, step) || (isLast && op === 'add' && !(step in at))))
      at = at[step];
    else fail();
  });
  if (path.length === 0) fail();
}
