/**
 * The value of a typed sum such as '1280/2', '-3*(4+.5)' or '12'; null when it is none or not finite.
 * Grammar: sums of products of signed numbers and brackets.
 */
export function evaluateSum(text: string): number | null {
  let at = 0;
  const skip = (): void => {
    while (text[at] === ' ') at++;
  };
  const take = (symbols: string): string | null => {
    skip();
    const symbol = text[at];
    if (symbol === undefined || !symbols.includes(symbol)) return null;
    at++;
    return symbol;
  };
  const atom = (): number => {
    if (take('-') !== null) return -atom();
    if (take('+') !== null) return atom();
    if (take('(') !== null) {
      const value = sum();
      return take(')') === null ? NaN : value;
    }
    skip();
    const match = /^(\d+\.?\d*|\.\d+)/.exec(text.slice(at));
    if (match === null) return NaN;
    at += match[0].length;
    return Number(match[0]);
  };
  const product = (): number => {
    let value = atom();
    for (let sign = take('*/'); sign !== null; sign = take('*/')) value = sign === '*' ? value * atom() : value / atom();
    return value;
  };
  const sum = (): number => {
    let value = product();
    for (let sign = take('+-'); sign !== null; sign = take('+-')) value = sign === '+' ? value + product() : value - product();
    return value;
  };
  const value = sum();
  skip();
  return at === text.length && Number.isFinite(value) ? value : null;
}
