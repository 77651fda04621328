import { describe, expect, it } from 'vitest';
import type { Probe } from '../server/video/ffmpeg';
import { readFrameSpan } from './frame-span';

/** Tells of a minute at 24 frames a second; there is no file to count them in. */
const probed: Probe = {
  width: 64,
  height: 36,
  rate: { numerator: 24, denominator: 1 },
  wasVariable: false,
  duration: 60,
  start: 0,
  codec: 'h264',
  hasSound: false,
  matrix: 'bt709',
  alphaDecoder: null,
};
const span = (frame: string, to?: string, from?: string): ReturnType<typeof readFrameSpan> =>
  readFrameSpan({ frame, ...(to === undefined ? {} : { to }), ...(from === undefined ? {} : { from }) }, 'absent.mp4', probed);

describe('the span of frames on the command line', () => {
  it('takes an end well inside the video as there, without counting', async () => {
    expect(await span('5', '100')).toEqual({ frame: 5, from: 0, to: 100, last: Infinity });
    expect(await span('5', '1391', '3')).toEqual({ frame: 5, from: 3, to: 1391, last: Infinity });
  });

  it('counts where the end is near, or not given', async () => {
    await expect(span('5', '1392')).rejects.toThrow('absent.mp4');
    await expect(span('5')).rejects.toThrow('absent.mp4');
  });

  it('refuses a span that does not hold its frame, and what is no number', async () => {
    await expect(span('5', '4')).rejects.toThrow('--to 4: the frame given is 5, later than that');
    await expect(span('5', '9', '6')).rejects.toThrow('--from 6: the last frame possible is 5');
    await expect(span('5', 'nine')).rejects.toThrow('--to takes a whole number from 0');
  });
});
