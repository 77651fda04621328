/** The value with every text that is one of the ids as what that goes by now. Keys stay. */
export function withIds<T>(value: T, ids: ReadonlyMap<string, string>): T {
  if (typeof value === 'string') return (ids.get(value) ?? value) as T;
  if (Array.isArray(value)) return value.map((item: unknown) => withIds(item, ids)) as T;
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, withIds<unknown>(v, ids)])) as T;
}
