import { expect, it } from 'vitest';
import { framesOfPictures } from './picture-numbers';

it('puts pictures on the frames their names end in', () => {
  expect(framesOfPictures(['m3.png', 'm0007.png', 'take2-9.tiff'], 5, 10)).toEqual([3, 7, 9]);
});

it('counts numbers past the end of the medium from the frame asked for, with their gaps, or from the start where they do not fit', () => {
  expect(framesOfPictures(['a.1001.png', 'a.1002.png', 'a.1004.png'], 4, 10)).toEqual([4, 5, 7]);
  expect(framesOfPictures(['a.1001.png', 'a.1002.png', 'a.1004.png'], 7, 10)).toEqual([0, 1, 3]);
  const fromOne = Array.from({ length: 10 }, (_, i) => `${i + 1}.png`);
  expect(framesOfPictures(fromOne, 0, 10)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
});

it('puts pictures without numbers, or with one twice, one after the other', () => {
  expect(framesOfPictures(['sky.png', 'moon.png'], 2, 10)).toEqual([2, 3]);
  expect(framesOfPictures(['a1.png', 'b1.png'], 2, 10)).toEqual([2, 3]);
});
