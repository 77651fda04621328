/** The names this program listens on. Any other is another site's, pointed here. */
const OWN_NAMES = new Set(['127.0.0.1', 'localhost', '[::1]']);

const hostnameOf = (host: string): string => host.replace(/:\d+$/, '').toLowerCase();

/** True for the `Host` of a request that was meant for this program. */
export const isOwnHost = (host: string | null): boolean => host !== null && OWN_NAMES.has(hostnameOf(host));

/** Says why a request to the programming interface does not come from a page of this program; null when it does, or from no page at all. */
export function foreignness(method: string, headers: Headers): string | null {
  const host = headers.get('host');
  if (!isOwnHost(host)) return 'Irimi answers only to the names 127.0.0.1 and localhost.';
  const site = headers.get('sec-fetch-site');
  const origin = headers.get('origin');
  const isForeign = origin !== null && (!URL.canParse(origin) || new URL(origin).host !== host);
  if (isForeign || site === 'cross-site' || site === 'same-site') return 'Requests from other sites are not accepted.';
  if (origin === null && method !== 'GET' && method !== 'HEAD') return 'A request that changes something must say its origin.';
  return null;
}
