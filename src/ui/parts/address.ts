/**
 * Changes the address of this page without a new entry in the history. It goes past the router's own version of
 * `replaceState`, which would give up a navigation that is under way.
 */
export function setAddress(query: Readonly<Record<string, string | number>>): void {
  const search = new URLSearchParams(Object.entries(query).map(([k, v]) => [k, String(v)]));
  History.prototype.replaceState.call(window.history, window.history.state, '', `${location.pathname}?${search}`);
}
