import type { Film, Matte, Medium } from '../film/film';
import { drawnPoints } from '../film/mattes';
import type { OutlinePoint } from '../matte/outline/outline';

const hundredth = (v: number): number => Math.round(100 * v) / 100;

interface FrameRange {
  readonly first: number;
  /** Included. */
  readonly last: number;
}

/**
 * An outline as it shows on every frame of a range, tracks included. Pixels of the medium, pixel centres at whole
 * numbers; `in` and `out` are where a point's handles are.
 */
export function outlineToJson(film: Film, matte: Matte, medium: Medium, { first, last }: FrameRange): string {
  const place = (x: number, y: number): [number, number] => [hundredth(x + medium.width / 2 - 0.5), hundredth(y + medium.height / 2 - 0.5)];
  const point = (p: OutlinePoint) => ({ at: place(p.x, p.y), in: place(p.x + p.inX, p.y + p.inY), out: place(p.x + p.outX, p.y + p.outY) });
  const frames = Array.from({ length: last - first + 1 }, (_, i) => ({
    frame: first + i,
    points: drawnPoints(film, matte, first + i).map(point),
  }));
  return `${JSON.stringify({ name: matte.name, closed: matte.outline.closed, width: medium.width, height: medium.height, frames }, null, 1)}\n`;
}

/** An SVG path of closed cubic curves. SVG counts from the picture's corner, pixel centres at a half. */
export function svgPath(points: readonly OutlinePoint[], { width, height }: Medium): string {
  const [start] = points;
  if (start === undefined) return '';
  const at = (x: number, y: number): string => `${hundredth(x + width / 2)} ${hundredth(y + height / 2)}`;
  const curves = points.map((p, i) => {
    const next = points[(i + 1) % points.length]!;
    const straight = p.outX === 0 && p.outY === 0 && next.inX === 0 && next.inY === 0;
    return straight
      ? `L${at(next.x, next.y)}`
      : `C${at(p.x + p.outX, p.y + p.outY)} ${at(next.x + next.inX, next.y + next.inY)} ${at(next.x, next.y)}`;
  });
  return `M${at(start.x, start.y)}${curves.join('')}Z`;
}

const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

/** One SVG with a path a frame, its id `frame-N`; only the first shows, the others are hidden until asked for. */
export function outlineToSvg(film: Film, matte: Matte, medium: Medium, { first, last }: FrameRange): string {
  const paths = Array.from({ length: last - first + 1 }, (_, i) => {
    const d = svgPath(drawnPoints(film, matte, first + i), medium);
    return `  <path id="frame-${first + i}" d="${d}"${i === 0 ? '' : ' display="none"'}/>`;
  });
  const { width, height } = medium;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">\n  <title>${escaped(matte.name)}</title>\n${paths.join('\n')}\n</svg>\n`;
}
