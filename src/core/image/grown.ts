/** 1 where `from` is 1, and at the pixels marked 1 in `through` that hang together with those by their four neighbours; new. */
export function grown(from: Uint8Array, through: Uint8Array, width: number): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(from);
  const stack: number[] = [];
  for (let i = 0; i < out.length; i++) if (out[i] === 1) stack.push(i);
  const take = (i: number): void => {
    if (out[i] === 1 || through[i] !== 1) return;
    out[i] = 1;
    stack.push(i);
  };
  while (stack.length > 0) {
    const i = stack.pop()!;
    const x = i % width;
    if (x > 0) take(i - 1);
    if (x + 1 < width) take(i + 1);
    if (i >= width) take(i - width);
    if (i + width < out.length) take(i + width);
  }
  return out;
}
