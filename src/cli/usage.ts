/** The command line was not understood; the message says how it should be. */
export class UsageError extends Error {}

/** The first line of a message: Node's own advice on arguments goes on over several. */
export const oneLine = (message: string): string => message.split('\n')[0]!.trim();

/** Options with a negative number as one argument, so that the number is not taken for an option of its own. */
export function withNegatives(args: readonly string[]): string[] {
  const joined: string[] = [];
  for (const arg of args) {
    const option = joined.at(-1);
    const isValue = /^-[\d.]/.test(arg) && option?.startsWith('--') === true && !option.includes('=');
    if (isValue) joined[joined.length - 1] = `${option}=${arg}`;
    else joined.push(arg);
  }
  return joined;
}

/** A whole number of at least `least`. @throws UsageError */
export function wholeNumber(text: string | undefined, name: string, least: number): number {
  const value = Number(text);
  if (text === undefined || text.trim() === '' || !Number.isInteger(value) || value < least)
    throw new UsageError(`${name} takes a whole number from ${least}, not "${text ?? ''}"`);
  return value;
}
