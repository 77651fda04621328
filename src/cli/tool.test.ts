import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { KnownShot } from '../../bench/synthetic-shots';
import { carriedShot, H, W, writeVideo } from '../../tests/fixtures/carried-shot';
import { regionAndContour } from '../../bench/measures';
import { apply, invert, type Matrix } from '../core/geometry/matrix';
import { writeGrey } from '../server/video/picture-files';
import { openTestWorkplace, type TestWorkplace } from '../server/database/test-workplace';

let place: TestWorkplace;
let shot: KnownShot;

beforeAll(async () => {
  if (!existsSync('dist/cli.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  place = await openTestWorkplace();
  shot = carriedShot();
  writeVideo(place.file('carry.mkv'), shot);
}, 60_000);
afterAll(() => place.close());

describe('the port', () => {
  it.each(['99999', '0', 'x', '-1'])('%s is refused in one line, before anything is built', (port) => {
    const { status, stderr } = spawnSync('./irimi', ['start'], { env: { ...process.env, PORT: port }, encoding: 'utf8' });
    expect(`${status}: ${stderr.trim()}`).toBe(`2: irimi: PORT takes a number from 1 to 65535, not "${port}"`);
  });
});

describe('the tools on plain files', () => {
  const tool = (...args: string[]): string => {
    try {
      execFileSync(process.execPath, ['dist/cli.mjs', 'tool', ...args], {
        env: { ...process.env, IRIMI_CALLER: place.folder },
        stdio: ['ignore', 'pipe', 'pipe'],
      });
      return '';
    } catch (error) {
      const { status, stderr } = error as { status: number; stderr: Buffer };
      return `${status}: ${stderr.toString().trim()}`;
    }
  };
  const readGrey = (name: string): Uint8Array =>
    new Uint8Array(execFileSync('ffmpeg', ['-v', 'error', '-i', place.file(name), '-f', 'rawvideo', '-pix_fmt', 'gray', 'pipe:1']));

  it('carry a matte to numbered pictures of the video’s size', async () => {
    await writeGrey(place.file('m.png'), Uint8Array.from(shot.mattes[4]!), W, H);
    expect(tool('carry', '--video', 'carry.mkv', '--frame', '4', '--matte', 'm.png', '--out', 'out', '--from', '2', '--to', '6')).toBe('');
    const { frames } = JSON.parse(readFileSync(place.file('out/carry.json'), 'utf8')) as {
      frames: { frame: number; confidence: number }[];
    };
    expect(frames.map((f) => f.frame)).toEqual([2, 3, 4, 5, 6]);
    for (const n of [2, 6]) expect(regionAndContour(readGrey(`out/0000${n}.png`), shot.mattes[n]!, W, H).j).toBeGreaterThan(0.9);
    expect(readGrey('out/00004.png')).toEqual(shot.mattes[4]);
  });

  it('carry from several given frames, which stay as they are, and meet between them', async () => {
    await writeGrey(place.file('m2.png'), Uint8Array.from(shot.mattes[2]!), W, H);
    await writeGrey(place.file('m7.png'), Uint8Array.from(shot.mattes[7]!), W, H);
    expect(
      tool('carry', '--video', 'carry.mkv', '--given', '7=m7.png', '--given', '2=m2.png', '--out', 'several', '--from', '1', '--to', '8'),
    ).toBe('');
    const { frames } = JSON.parse(readFileSync(place.file('several/carry.json'), 'utf8')) as {
      frames: { frame: number; confidence: number }[];
    };
    expect(frames.map((f) => f.frame)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    for (const n of [2, 7]) expect(readGrey(`several/0000${n}.png`)).toEqual(shot.mattes[n]);
    for (const n of [1, 5, 8]) expect(regionAndContour(readGrey(`several/0000${n}.png`), shot.mattes[n]!, W, H).j).toBeGreaterThan(0.9);
    expect(readdirSync(place.file('several'))).toHaveLength(9);
    expect(tool('carry', '--video', 'carry.mkv', '--given', '2=m2.png', '--given', '2=m7.png', '--out', 'twice')).toMatch(
      /^2: .*frame 2 is given twice/,
    );
    expect(tool('carry', '--video', 'carry.mkv', '--given', 'm2.png', '--out', 'twice')).toMatch(
      /^2: .*--given takes a frame and a picture/,
    );
  });

  it('cut a picture from a box around the subject', () => {
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', place.file('carry.mkv'), '-frames:v', '1', place.file('f0.png')]);
    const inside = [...shot.mattes[0]!.keys()].filter((i) => shot.mattes[0]![i] === 255);
    const [xs, ys] = [inside.map((i) => i % W), inside.map((i) => Math.floor(i / W))];
    const [left, top] = [Math.min(...xs) - 8, Math.min(...ys) - 8];
    const box = [left, top, Math.max(...xs) + 8 - left, Math.max(...ys) + 8 - top];
    writeFileSync(place.file('box.json'), JSON.stringify({ box }));
    expect(tool('cut', '--image', 'f0.png', '--strokes', 'box.json', '--out', 'boxed.png')).toBe('');
    expect(regionAndContour(readGrey('boxed.png'), shot.mattes[0]!, W, H).j).toBeGreaterThan(0.75);
    writeFileSync(place.file('nothing.json'), '{}');
    expect(tool('cut', '--image', 'f0.png', '--strokes', 'nothing.json', '--out', 'boxed.png')).toMatch(/^2: /);
  });

  it('find the picture between two, and melt one video into another', () => {
    const frame = (n: number, name: string): void =>
      void execFileSync('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-i',
        place.file('carry.mkv'),
        '-vf',
        `select=eq(n\\,${n})`,
        '-frames:v',
        '1',
        place.file(name),
      ]);
    frame(2, 'a.png');
    frame(3, 'truth.png');
    frame(4, 'after.png');
    expect(tool('between', '--a', 'a.png', '--b', 'after.png', '--at', '0.5', '--out', 'mid.png')).toBe('');
    const apart = (x: Uint8Array, y: Uint8Array): number => x.reduce((sum, v, i) => sum + Math.abs(v - y[i]!), 0) / x.length;
    const [a, b, truth, mid] = ['a.png', 'after.png', 'truth.png', 'mid.png'].map(readGrey) as [
      Uint8Array,
      Uint8Array,
      Uint8Array,
      Uint8Array,
    ];
    const fade = a.map((v, i) => (v + b[i]!) / 2);
    expect(apart(mid, truth)).toBeLessThan(0.8 * apart(fade, truth));
    expect(tool('between', '--a', 'a.png', '--b', 'after.png', '--at', '2', '--out', 'mid.png')).toMatch(
      /^2: .*--at takes a number from 0 to 1/,
    );
    const morph = ['morph', '--a', 'carry.mkv', '--a-frame', '3', '--b', 'carry.mkv', '--b-frame', '8', '--frames', '4', '--out', 'melted'];
    expect(tool(...morph)).toBe('');
    // both go on by themselves: within one video they show the very frames between
    frame(5, 'five.png');
    expect(readdirSync(place.file('melted'))).toEqual(['00000.png', '00001.png', '00002.png', '00003.png', 'morph.json']);
    expect(apart(readGrey('melted/00001.png'), readGrey('five.png'))).toBeLessThan(2);
    expect(tool(...morph.map((v) => (v === '3' ? '300' : v)))).toMatch(/^2: .*the last frame possible/);
  });

  it('pair two videos', () => {
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-i',
      place.file('carry.mkv'),
      '-vf',
      'trim=start_frame=3,setpts=PTS-STARTPTS,hflip',
      '-c:v',
      'ffv1',
      place.file('later.mkv'),
    ]);
    expect(tool('pair', '--a', 'carry.mkv', '--b', 'later.mkv', '--out', 'pairs.json')).toBe('');
    const { pairs } = JSON.parse(readFileSync(place.file('pairs.json'), 'utf8')) as {
      pairs: {
        a: number;
        b: number;
        score: number;
        transform: { scale: number; rotationDegrees: number; dx: number; dy: number; flip: boolean };
      }[];
    };
    const { a, b, transform } = pairs[0]!;
    expect(Math.abs(a - b - 3)).toBeLessThanOrEqual(1);
    expect(transform.flip).toBe(true);
    expect(Math.abs(transform.scale - 1)).toBeLessThan(0.01);
    expect(Math.hypot(transform.dx, transform.dy)).toBeLessThan(2);
  });

  it('find the beats of music and a word in another take', () => {
    const demo = (name: string): string => `${process.cwd()}/demo/media/${name}`;
    expect(tool('beats', '--audio', demo('small-hours.opus'), '--out', 'beats.json')).toBe('');
    const beats = JSON.parse(readFileSync(place.file('beats.json'), 'utf8')) as { bpm: number; beats: number[] };
    expect(Math.abs(beats.bpm - 112)).toBeLessThan(1.2);
    expect(beats.beats.length).toBeGreaterThan(60);
    expect(
      tool('word', '--a', demo('mender-take-1.webm'), '--a-span', '2.08,2.62', '--b', demo('mender-take-2.webm'), '--out', 'word.json'),
    ).toBe('');
    const word = JSON.parse(readFileSync(place.file('word.json'), 'utf8')) as { b: { start: number; end: number }; offset: number };
    expect(word.b.end).toBeGreaterThan(word.b.start);
    expect(
      tool('word', '--a', demo('mender-take-1.webm'), '--a-span', '3,2', '--b', demo('mender-take-2.webm'), '--out', 'w.json'),
    ).toMatch(/^2: /);
    expect(tool('beats', '--audio', demo('../truth/none.wav'), '--out', 'b.json')).toMatch(/^2: /);
  });

  it('cut a picture from strokes', () => {
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', place.file('carry.mkv'), '-frames:v', '1', place.file('f.png')]);
    const inside = [...shot.mattes[0]!.keys()].filter((i) => shot.mattes[0]![i] === 255);
    const [cx, cy] = [
      inside.reduce((s, i) => s + (i % W), 0) / inside.length,
      inside.reduce((s, i) => s + Math.floor(i / W), 0) / inside.length,
    ];
    writeFileSync(
      place.file('s.json'),
      JSON.stringify({
        keep: [
          {
            radius: 4,
            points: [
              [cx - 8, cy - 8],
              [cx + 8, cy + 8],
            ],
          },
          {
            radius: 4,
            points: [
              [cx + 8, cy - 8],
              [cx - 8, cy + 8],
            ],
          },
        ],
        drop: [
          {
            radius: 4,
            points: [
              [5, 5],
              [W - 5, 5],
              [W - 5, H - 5],
              [5, H - 5],
              [5, 5],
            ],
          },
        ],
      }),
    );
    expect(tool('cut', '--image', 'f.png', '--strokes', 's.json', '--out', 'a.png')).toBe('');
    expect(regionAndContour(readGrey('a.png'), shot.mattes[0]!, W, H).j).toBeGreaterThan(0.85);
  });

  it('follow corners and points', () => {
    expect(
      tool(
        'follow',
        '--video',
        'carry.mkv',
        '--frame',
        '3',
        '--corners',
        '[[80,40],[110,40],[110,66],[80,66]]',
        '--model',
        'similarity',
        '--out',
        'T.json',
      ),
    ).toBe('');
    const track = JSON.parse(readFileSync(place.file('T.json'), 'utf8')) as { frames: { frame: number; corners: [number, number][] }[] };
    expect(track.frames.map((f) => f.frame)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8]);
    expect(track.frames[3]!.corners[0]).toEqual([80, 40]);
    expect(tool('follow', '--video', 'carry.mkv', '--frame', '3', '--points', '[[40,80],[1000,4]]', '--out', 'P.json')).toBe('');
    const points = JSON.parse(readFileSync(place.file('P.json'), 'utf8')) as { frames: { points: ([number, number] | null)[] }[] };
    expect(points.frames[4]!.points[0]).not.toBeNull();
    expect(points.frames[4]!.points[1]).toBeNull();
  });

  it('solve a zoom through a hole: no pixel bare, nothing of the leaving picture left, the entering one itself in the end', async () => {
    const [w, h, frames] = [160, 90, 8];
    const holeAt = (f: number): Uint8Array =>
      Uint8Array.from({ length: w * h }, (_, i) => {
        const [x, y] = [(i % w) - 60 - 3 * f, Math.floor(i / w) - 40];
        return x * x + 2 * y * y < (14 + f) ** 2 ? 255 : 0;
      });
    mkdirSync(place.file('hole'));
    for (let f = 0; f < frames; f++) await writeGrey(place.file(`hole/${String(f + 20).padStart(5, '0')}.png`), holeAt(f), w, h);
    expect(tool('solve', '--hole', 'hole', '--width', String(w), '--height', String(h), '--out', 's.json')).toBe('');
    const solved = JSON.parse(readFileSync(place.file('s.json'), 'utf8')) as {
      frames: { frame: number; leaving: Matrix; entering: Matrix }[];
      notes: string[];
    };
    expect(solved.frames.map((f) => f.frame)).toEqual(Array.from({ length: frames }, (_, f) => f + 20));
    expect(solved.notes[0]).toMatch(/^The hole holds the whole frame from 27 on, at \d+\.\d ×\./);
    expect(solved.frames[0]!.leaving).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    expect(solved.frames.at(-1)!.entering).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    solved.frames.forEach(({ leaving, entering }, f) => {
      const hole = holeAt(f);
      const [toLeaving, toEntering] = [invert(leaving), invert(entering)];
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          const p = { x: x + 0.5 - w / 2, y: y + 0.5 - h / 2 };
          const from = apply(toLeaving, p);
          const at = Math.floor(from.y + h / 2) * w + Math.floor(from.x + w / 2);
          const isOpen = hole[at] === 255;
          const to = apply(toEntering, p);
          if (isOpen) expect(Math.abs(to.x) <= w / 2 && Math.abs(to.y) <= h / 2, `frame ${f}, ${x}, ${y}`).toBe(true);
          if (f === frames - 1) expect(isOpen).toBe(true);
        }
    });
    expect(tool('solve', '--hole', 'nowhere', '--width', '9', '--height', '9', '--out', 's2.json')).toMatch(/^2: .*nowhere is no folder/);
    expect(tool('solve', '--hole', 'hole', '--width', '9', '--height', '9', '--ease', 'bouncy', '--out', 's2.json')).toMatch(
      /--ease takes one of/,
    );
    expect(existsSync(place.file('s2.json'))).toBe(false);
  });

  it('touch nothing in a folder that they have not written themselves', () => {
    const carry = (out: string): string =>
      tool('carry', '--video', 'carry.mkv', '--frame', '4', '--matte', 'm.png', '--out', out, '--from', '3', '--to', '5');
    mkdirSync(place.file('mine/out.part'), { recursive: true });
    for (const name of ['mine/notes.txt', 'mine/out.part/keep.txt', 'mine/00001.png']) writeFileSync(place.file(name), 'mine');
    expect(carry('mine')).toMatch(/^2: irimi tool: mine holds \S+, which is no earlier result of this; give an empty folder/);
    expect(carry('.')).toMatch(/no earlier result of this/);
    expect(carry('mine/out')).toBe('');
    expect(readFileSync(place.file('mine/out.part/keep.txt'), 'utf8')).toBe('mine');
    expect(readFileSync(place.file('mine/00001.png'), 'utf8')).toBe('mine');
    // an earlier result of its own is replaced whole
    expect(tool('carry', '--video', 'carry.mkv', '--frame', '4', '--matte', 'm.png', '--out', 'mine/out', '--from', '4', '--to', '5')).toBe(
      '',
    );
    expect(readdirSync(place.file('mine/out')).sort()).toEqual(['00004.png', '00005.png', 'carry.json']);
    mkdirSync(place.file('pictures'));
    writeFileSync(place.file('pictures/00001.png'), 'mine');
    expect(carry('pictures')).toMatch(/no earlier result of this/);
    expect(tool('cut', '--image', 'f.png', '--strokes', 's.json', '--out', 'f.png')).toMatch(/is what is read from/);
    expect(tool('cut', '--image', 'f.png', '--strokes', 's.json', '--out', 'mine')).toMatch(/is a folder/);
    expect(tool('edge', '--video', 'carry.mkv', '--out', 'no/such/E.json')).toMatch(/there is no folder/);
    expect(readdirSync(place.folder).filter((n) => n.includes('part'))).toEqual([]);
  });

  it('know no tool by the name of something else, and take negative numbers for numbers', () => {
    for (const name of ['constructor', 'toString', '__proto__']) expect(tool(name)).toMatch(/^2: irimi tool: unknown tool "[^\n]*$/);
    expect(tool('carry', '--video', 'carry.mkv', '--frame', '-3', '--matte', 'm.png', '--out', 'none')).toMatch(
      /^2: irimi tool: --frame takes a whole number from 0, not "-3"$/,
    );
    expect(tool('carry', '--frame')).toMatch(/^2: [^\n]*$/);
  });

  it('end with one line and leave nothing when something is wrong', () => {
    writeFileSync(place.file('no.mp4'), 'not a video');
    expect(tool('carry', '--video', 'no.mp4', '--frame', '0', '--matte', 'm.png', '--out', 'none')).toMatch(
      /^2: irimi tool: This file is neither video nor sound/,
    );
    expect(tool('carry', '--video', 'carry.mkv', '--frame', '99', '--matte', 'm.png', '--out', 'none')).toMatch(
      /^2: .*--frame 99: the last frame possible is 8$/,
    );
    expect(tool('carry', '--video', 'carry.mkv', '--frame', '4', '--to', '2', '--matte', 'm.png', '--out', 'none')).toMatch(
      /^2: .*--to 2: the frame given is 4, later than that$/,
    );
    expect(tool('carry', '--video', 'carry.mkv', '--frame', '4', '--to', '9', '--matte', 'm.png', '--out', 'none')).toMatch(
      /^2: .*--to 9: the last frame possible is 8$/,
    );
    expect(existsSync(place.file('none'))).toBe(false);
    writeFileSync(place.file('bad.json'), '{"keep": 3}');
    expect(tool('cut', '--image', 'f.png', '--strokes', 'bad.json', '--out', 'b.png')).toMatch(/^2: .*"keep" must be an array/);
    expect(tool('cut', '--image', 'f.png', '--strokes', 'absent.json', '--out', 'b.png')).toMatch(/^2: .*absent.json is not a JSON file/);
    expect(tool('follow', '--video', 'carry.mkv', '--frame', '0', '--corners', 'here', '--out', 'X.json')).toMatch(
      /^2: .*--corners takes a list of places/,
    );
    expect(existsSync(place.file('b.png'))).toBe(false);
  });
});
