/** True for what the system, or a program that writes, says of a disk without room. */
export const isDiskFull = (error: unknown): boolean =>
  (error as { code?: unknown }).code === 'ENOSPC' || /No space left on device/.test((error as Error).message);
