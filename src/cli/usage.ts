/** The command line was not understood; the message says how it should be. */
export class UsageError extends Error {}

/** A whole number of at least `least`. @throws UsageError */
export function wholeNumber(text: string | undefined, name: string, least: number): number {
  const value = Number(text);
  if (text === undefined || !Number.isInteger(value) || value < least)
    throw new UsageError(`${name} takes a whole number from ${least}, not "${text ?? ''}"`);
  return value;
}
