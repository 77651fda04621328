import { produce } from 'immer';
import { describe, expect, it } from 'vitest';
import { addTrack, rideOnTrack } from '../film/edits/mattes';
import { countingIds, edgeKey, sampleMedium, sampleWipe } from '../film/sample-film';
import { centreOf, type Track } from '../track/track';
import { outlineToJson, outlineToSvg, svgPath } from './outline-files';
import { readTracks, trackToCsv, trackToJson } from './track-files';

const [a, b] = [sampleMedium('a', 120), sampleMedium('b', 120)];
const box = (x: number, y = 0): [number, number][] => [
  [x - 10, y - 10],
  [x + 10, y - 10],
  [x + 10, y + 10],
  [x - 10, y + 10],
];
const film = produce(sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -80)]), (d) => {
  addTrack(d, a.id, 'Sign', 'affine', 30, box(0), countingIds('track'));
  d.tracks![0]!.frames = [
    { frame: 31, corners: box(4.5, 1), confidence: 0.9 },
    { frame: 32, corners: box(9, 2), confidence: 0.4 },
  ];
});
const track = film.tracks![0]!;
const matte = film.mattes[0]!;

describe('a track as a file', () => {
  it('counts from the medium’s corner, pixel centres at whole numbers', () => {
    const { frames } = JSON.parse(trackToJson(track, a)) as { frames: { frame: number; corners: number[][] }[] };
    expect(frames.map((f) => f.frame)).toEqual([30, 31, 32]);
    expect(frames[0]!.corners[0]).toEqual([a.width / 2 - 10.5, a.height / 2 - 10.5]);
    expect(trackToCsv(track, a).split('\n')[2]).toMatch(/^31,0.9,74,/);
  });

  it.each([
    ['JSON', trackToJson],
    ['CSV', trackToCsv],
  ] as const)('comes back from %s as it was', (_, write) => {
    const [read, ...more] = readTracks(write(track, a), 'file', a);
    expect(more).toEqual([]);
    if (read === undefined) throw new Error('nothing was read');
    // a line of numbers says nothing of how the region may move
    expect(read.model).toBe(write === trackToJson ? 'affine' : 'perspective');
    expect(read.frames.map((f) => f.frame)).toEqual([30, 31, 32]);
    expect(read.frames[1]!.corners).toEqual(box(4.5, 1));
    expect(read.frames[2]!.confidence).toBe(0.4);
  });

  it.each([
    ['JSON', trackToJson],
    ['CSV', trackToCsv],
  ] as const)('is one place a frame in %s where it follows a point, and comes back as one', (_, write) => {
    const point: Track = { ...track, model: 'position', frames: track.frames };
    const text = write(point, a);
    expect(text).not.toContain('corners');
    const [read] = readTracks(text, 'file', a);
    expect(read!.model).toBe('position');
    expect(centreOf(read!.frames[1]!.corners)).toEqual([4.5, 1]);
  });

  it('may be several points, each left out where it cannot be seen', () => {
    const read = readTracks(
      '{"name":"Dots","frames":[{"frame":4,"points":[[79.5,44.5],[10,20],null]},{"frame":5,"points":[null,[11,20],null]}]}',
      'file',
      a,
    );
    expect(read.map((t) => [t.name, t.frames.map((f) => f.frame)])).toEqual([
      ['Dots 1', [4]],
      ['Dots 2', [4, 5]],
    ]);
    expect(centreOf(read[0]!.frames[0]!.corners)).toEqual([80 - a.width / 2, 45 - a.height / 2]);
  });

  it('may come without confidence, separated by semicolons', () => {
    const [read] = readTracks('7;1;2\n8;1.5;2', 'file', a);
    expect(read!.frames.map((f) => [f.frame, f.confidence])).toEqual([
      [7, 1],
      [8, 1],
    ]);
  });

  it('says what is wrong with it', () => {
    const bad: [string, RegExp][] = [
      ['{', /neither JSON nor CSV/],
      ['{"frames":{}}', /no list/],
      ['{"frames":[]}', /no frame/],
      ['{"frames":[{"frame":1,"corners":[[1,2],[3,4]]}]}', /three or more/],
      ['{"frames":[{"frame":1,"corners":[[1,"x"]]}]}', /frame 1 has no corners/],
      ['{"frames":[{"frame":-1,"corners":[[1,2],[3,4],[5,6]]}]}', /no frame number/],
      ['frame,confidence\n1,1', /line 2/],
      ['frame,x,y\n1,,2', /line 2/],
      ['1,2,3,4,5', /three or more/],
      ['{"frames":[{"frame":1,"points":[null]}]}', /can be seen/],
      ['1,1,1,2,3,4,5,6\n1,1,1,2,3,4,5,6', /twice/],
      ['', /no frame/],
    ];
    for (const [text, why] of bad) expect(() => readTracks(text, 'file', a)).toThrow(why);
  });
});

describe('an outline as a file', () => {
  it('is given as it shows on each frame, on its track', () => {
    const riding = produce(film, (d) => rideOnTrack(d, matte.id, track.id));
    const at = (f: typeof film, frame: number): number[] =>
      (JSON.parse(outlineToJson(f, f.mattes[0]!, a, { first: frame, last: frame })) as { frames: { points: { at: number[] }[] }[] })
        .frames[0]!.points[0]!.at;
    expect(at(riding, 31)[0]! - at(film, 31)[0]!).toBeCloseTo(4.5, 1);
    expect(at(riding, 31)[1]! - at(film, 31)[1]!).toBeCloseTo(1, 1);
  });

  it('is a path a frame in SVG, the first one showing', () => {
    const svg = outlineToSvg(
      produce(film, (d) => void (d.mattes[0]!.name = 'Edge <1> & "2"')),
      { ...matte, name: 'Edge <1> & "2"' },
      a,
      {
        first: 30,
        last: 32,
      },
    );
    expect([...svg.matchAll(/<path id="frame-(\d+)"/g)].map((m) => m[1])).toEqual(['30', '31', '32']);
    expect(svg.match(/display="none"/g)).toHaveLength(2);
    expect(svg).not.toMatch(/<1>/);
  });

  it('keeps curves as cubic curves', () => {
    const point = (x: number, y: number, out = 0) => ({ x, y, inX: 0, inY: 0, outX: out, outY: 0 });
    expect(svgPath([point(0, 0, 5), point(10, 0), point(10, 10)], { ...a, width: 20, height: 20 })).toBe(
      'M10 10C15 10 20 10 20 10L20 20L10 10Z',
    );
    expect(svgPath([], a)).toBe('');
  });
});
