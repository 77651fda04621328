import Timecode from 'smpte-timecode';
import { expect, it } from 'vitest';
import { rational } from '../geometry/rational';
import { clocksOf, clockText, parseClock, timecodeAfter, usualClock } from './clock';

const [FILM, NTSC, FAST] = [rational(24, 1), rational(30_000, 1001), rational(60_000, 1001)];

it('tells a frame by each clock', () => {
  expect(clockText(FILM, 24 * 3661 + 5, 'timecode')).toBe('01:01:01:05');
  expect(clockText(FILM, 0, 'timecode')).toBe('00:00:00:00');
  expect(clockText(FILM, 125, 'frames')).toBe('125');
  expect(clockText(FILM, 125, 'seconds')).toBe('5.21 s');
  expect(clockText(rational(25, 2), 13, 'timecode')).toBe('00:00:01:00');
});

it('drops numbers where that is done, so that an hour is an hour', () => {
  expect([usualClock(FILM), usualClock(NTSC), usualClock(rational(2997, 100))]).toEqual(['timecode', 'drop-frame', 'drop-frame']);
  expect(clocksOf(FILM)).not.toContain('drop-frame');
  expect(clockText(NTSC, 1799, 'drop-frame')).toBe('00:00:59;29');
  expect(clockText(NTSC, 1800, 'drop-frame')).toBe('00:01:00;02');
  expect(clockText(NTSC, 17_982, 'drop-frame')).toBe('00:10:00;00');
  expect(clockText(NTSC, 107_892, 'drop-frame')).toBe('01:00:00;00');
  expect(clockText(FAST, 215_784, 'drop-frame')).toBe('01:00:00;00');
  expect(clockText(FAST, 3600, 'drop-frame')).toBe('00:01:00;04');
});

it('reads what it tells, over hours, as the library counts', () => {
  for (const rate of [NTSC, FAST])
    for (let frame = 0; frame < 300_000; frame += 397) {
      const text = clockText(rate, frame, 'drop-frame');
      expect(parseClock(rate, text, 'drop-frame')).toBe(frame);
      expect(new Timecode(text, [rate.numerator, rate.denominator], true).frameCount).toBe(frame);
    }
});

it('reads the last parts of a timecode, and seconds', () => {
  expect(parseClock(FILM, '01:01:01:05', 'timecode')).toBe(24 * 3661 + 5);
  expect(parseClock(FILM, '2:10', 'timecode')).toBe(58);
  expect(parseClock(FILM, ' 7 ', 'frames')).toBe(7);
  expect(parseClock(FILM, '5,5', 'seconds')).toBe(132);
  expect(parseClock(FILM, '5.21 s', 'seconds')).toBe(125);
  expect(parseClock(FILM, '1:00:00', 'seconds')).toBe(24 * 60);
  for (const wrong of ['', 'a', '1:2:3:4:5', '-3', '1:x']) expect(parseClock(FILM, wrong, 'timecode')).toBeNull();
});

it('goes on from a timecode that a file begins with, as that counts', () => {
  expect(timecodeAfter(FILM, '01:00:00:20', 30)).toBe('01:00:02:02');
  expect(timecodeAfter(NTSC, '00:00:59;20', 10)).toBe('00:01:00;02');
  expect(timecodeAfter(NTSC, '00:00:59:20', 10)).toBe('00:01:00:00');
  expect(timecodeAfter(NTSC, '23:59:59;29', 1)).toBe('00:00:00;00');
});
