import { windowName } from './this-window';

/** The server's answer to a request it did not accept; the message is for the user. */
export class ApiError extends Error {
  readonly status: number;

  constructor(status: number, message: string) {
    super(message);
    this.name = 'ApiError';
    this.status = status;
  }
}

/** Tells the server which window asks. */
export const ownHeaders = (): Record<string, string> => ({ 'x-irimi-window': windowName() });

/** What an answer in text says to the user. */
export function messageOf(text: string): string {
  try {
    return (JSON.parse(text) as { message?: string }).message ?? 'The server refused the request.';
  } catch {
    return 'The server refused the request.';
  }
}

/** `outlivesPage`: it goes on when the page is left at once; for small bodies. @throws ApiError when the server refuses, TypeError when it cannot be reached. */
export async function call<T>(method: 'GET' | 'POST' | 'DELETE', url: string, body?: unknown, outlivesPage = false): Promise<T> {
  const response = await fetch(url, {
    method,
    // a browser sends at most 64 kB on for a page that is left
    keepalive: outlivesPage,
    headers: { ...ownHeaders(), ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const text = await response.text();
  if (!response.ok) throw new ApiError(response.status, messageOf(text));
  return JSON.parse(text) as T;
}
