/** Whether a file of this name holds a picture that can be brought in. */
export const isPictureName = (name: string): boolean => /\.(png|jpe?g|webp|tiff?|bmp)$/i.test(name);

/**
 * The medium frames that pictures of a sequence belong on, by their file names: the numbers these end in where the medium, of
 * `length` frames, has them all. Numbers that run past its end, such as those from 1001, are counted on from frame `first` instead,
 * or from 0 where there is no room for them after it. Names without numbers, or with one twice, go one after the other from `first`.
 */
export function framesOfPictures(names: readonly string[], first: number, length: number): number[] {
  const numbers = names.map((name) => Number(/(\d+)\.\w+$/.exec(name)?.[1] ?? NaN));
  if (numbers.some(Number.isNaN) || new Set(numbers).size < numbers.length) return names.map((_, i) => first + i);
  const least = numbers.reduce((a, b) => Math.min(a, b), Infinity);
  const most = numbers.reduce((a, b) => Math.max(a, b), 0);
  if (most < length) return numbers;
  const start = first + most - least < length ? first : 0;
  return numbers.map((n) => start + n - least);
}
