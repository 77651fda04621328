/** The server's answer to a request it did not accept; the message is for the user. */
export class ApiError extends Error {
  readonly status: number;

  constructor(status: number, message: string) {
    super(message);
    this.name = 'ApiError';
    this.status = status;
  }
}

/** @throws ApiError when the server refuses, TypeError when it cannot be reached. */
export async function call<T>(method: 'GET' | 'POST' | 'DELETE', url: string, body?: unknown): Promise<T> {
  const response = await fetch(url, {
    method,
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  const answer: unknown = await response.json();
  if (!response.ok) throw new ApiError(response.status, (answer as { message?: string }).message ?? 'The server refused the request.');
  return answer as T;
}
