import { createImage, type Image } from '../src/core/image/pixels';

/** A shot whose every frame is known exactly: pictures, coverage of the subject, and four corners that ride on it. */
export interface KnownShot {
  readonly name: string;
  readonly frames: readonly Image[];
  /** Coverage of what is visible of the subject, 0..255. */
  readonly mattes: readonly Uint8Array[];
}

export interface ShotRecipe {
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly seed: number;
  readonly background: Image;
  readonly subject: Image;
  /** Of the frame's height. */
  readonly radius: number;
  /** How far the subject travels, of the frame's width; how much it turns, in radians; its growth at the end. */
  readonly travel: number;
  readonly turn: number;
  readonly growth: number;
  /** Bending of the shape over time, as a share of its radius. */
  readonly bend: number;
  /** An arm that swings, as a share of the radius; 0 for none. */
  readonly arm: number;
  /** How far a side that is not seen at first has turned into view behind it at the end, as a share of the radius. */
  readonly side?: number;
  /** Camera travel of the background, as a share of the frame's width. */
  readonly camera: number;
  /** Standard deviation of the noise, 8-bit steps. */
  readonly noise: number;
  /** Share of the frame time the shutter is open. */
  readonly shutter: number;
  /** Something that crosses in front. */
  readonly occluder: boolean;
}

function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Bilinear colour, mirrored beyond the edges; adds to `out`. */
function addSample({ width, height, data }: Image, x: number, y: number, weight: number, out: Float64Array): void {
  const mirror = (v: number, n: number): number => {
    const m = ((v % (2 * n)) + 2 * n) % (2 * n);
    return m < n ? m : 2 * n - 1e-6 - m;
  };
  const px = Math.max(0, Math.min(width - 1.001, mirror(x, width) - 0.5));
  const py = Math.max(0, Math.min(height - 1.001, mirror(y, height) - 0.5));
  const i = 4 * ((py | 0) * width + (px | 0));
  const fx = px - (px | 0);
  const fy = py - (py | 0);
  const below = 4 * width;
  for (let c = 0; c < 3; c++) {
    const upper = data[i + c]! * (1 - fx) + data[i + 4 + c]! * fx;
    const lower = data[i + below + c]! * (1 - fx) + data[i + below + 4 + c]! * fx;
    out[c]! += weight * (upper * (1 - fy) + lower * fy);
  }
}

interface Pose {
  readonly x: number;
  readonly y: number;
  readonly cos: number;
  readonly sin: number;
  readonly scale: number;
  readonly wave: number;
  readonly armAngle: number;
  readonly side: number;
  readonly cameraX: number;
  readonly cameraY: number;
  readonly cameraScale: number;
  readonly occluderX: number;
}

/** Places between the subject's near and far edge where its side is looked up. */
const SIDE_STEPS = 12;

/** Renders the shot with four to twelve samples a pixel over the shutter time. */
export function renderShot(recipe: ShotRecipe): KnownShot {
  const { width, height, seed } = recipe;
  const chance = random(seed);
  const waves = Array.from({ length: 5 }, (_, k) => ({
    size: ((chance() - 0.3) * 0.3) / (1 + 0.6 * k),
    phase: 2 * Math.PI * chance(),
    n: k + 2,
  }));
  const from = { x: width * (0.5 - recipe.travel / 2), y: height * (0.42 + 0.16 * chance()) };
  const to = { x: width * (0.5 + recipe.travel / 2), y: height * (0.42 + 0.16 * chance()) };
  const phase = 2 * Math.PI * chance();
  const poseAt = (frame: number): Pose => {
    const t = frame / Math.max(1, recipe.frames - 1);
    const eased = t + 0.1 * Math.sin(2 * Math.PI * t + phase) - 0.1 * Math.sin(phase);
    const angle = recipe.turn * (eased + 0.15 * Math.sin(5 * t + phase));
    return {
      x: from.x + (to.x - from.x) * eased,
      y: from.y + (to.y - from.y) * eased + height * 0.05 * Math.sin(7 * t + phase),
      cos: Math.cos(angle),
      sin: Math.sin(angle),
      scale: recipe.radius * height * (1 + recipe.growth * t),
      wave: 2 * Math.PI * 1.3 * t,
      armAngle: 0.6 + 1.1 * Math.sin(5 * t + phase),
      side: (recipe.side ?? 0) * t,
      cameraX: recipe.camera * width * (t + 0.06 * Math.sin(9 * t)),
      cameraY: 0.25 * recipe.camera * width * Math.sin(3 * t),
      cameraScale: 1 + 0.12 * recipe.camera * t,
      occluderX: width * (1.35 - 1.7 * t),
    };
  };
  const frames: Image[] = [];
  const mattes: Uint8Array[] = [];
  const steps = recipe.shutter > 0 ? 3 : 1;
  const offsets = [0.25, 0.75];
  const isInside = (bx: number, by: number): boolean => {
    const r2 = bx * bx + by * by;
    if (r2 >= 2.6) return false;
    const angle = Math.atan2(by, bx);
    let radius = 0.82;
    for (const w of waves) radius += w.size * Math.sin(w.n * angle + w.phase);
    return r2 < radius * radius;
  };
  const noise = random(seed + 99);
  const out = new Float64Array(3);
  const { subject, background } = recipe;
  const subjectScale = (0.42 * Math.min(subject.width, subject.height)) / (1.3 * recipe.radius * height);
  const backgroundScale = Math.max(width / background.width, height / background.height) * 1.02;
  for (let frame = 0; frame < recipe.frames; frame++) {
    const poses = Array.from({ length: steps }, (_, s) => poseAt(frame + recipe.shutter * ((s + 0.5) / steps - 0.5)));
    const image = createImage(width, height);
    const matte = new Uint8Array(width * height);
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        out.fill(0);
        let cover = 0;
        const share = 1 / (poses.length * 4);
        for (const pose of poses) {
          for (const oy of offsets) {
            for (const ox of offsets) {
              const px = x + ox;
              const py = y + oy;
              if (recipe.occluder && Math.abs(px - pose.occluderX + 0.2 * py) < 0.035 * width) {
                addSample(background, 3 * px - pose.occluderX * 3, 2 * py, share * 0.45, out);
                continue;
              }
              const dx = (px - pose.x) / pose.scale;
              const dy = (py - pose.y) / pose.scale;
              const qx = dx * pose.cos + dy * pose.sin;
              const qy = -dx * pose.sin + dy * pose.cos;
              // the inside bends with the outline
              const bx = qx + recipe.bend * Math.sin(1.7 * qy + pose.wave);
              const by = qy + recipe.bend * Math.sin(1.4 * qx + 0.7 * pose.wave);
              let inside = isInside(bx, by);
              let lift = 0;
              for (let k = 1; k <= SIDE_STEPS && !inside && pose.side > 0; k++) {
                if (!isInside(bx + (pose.side * k) / SIDE_STEPS, by)) continue;
                inside = true;
                lift = 1;
                addSample(subject, subject.width * (0.1 + (0.3 * k) / SIDE_STEPS), subject.height * (0.4 + 0.3 * by), share, out);
              }
              if (!inside && recipe.arm > 0) {
                const ax = Math.cos(pose.armAngle);
                const ay = -Math.sin(pose.armAngle);
                const along = bx * ax + by * ay;
                const across = -bx * ay + by * ax;
                if (along > 0 && along < 0.8 + recipe.arm && Math.abs(across) < 0.13) {
                  inside = true;
                  lift = 1;
                  addSample(
                    subject,
                    subject.width * 0.3 + along * recipe.radius * height * subjectScale,
                    subject.height * 0.6 + across * recipe.radius * height * subjectScale,
                    share,
                    out,
                  );
                }
              }
              if (inside) {
                cover += share;
                if (lift === 0)
                  addSample(
                    subject,
                    subject.width / 2 + bx * recipe.radius * height * subjectScale,
                    subject.height / 2 + by * recipe.radius * height * subjectScale,
                    share,
                    out,
                  );
              } else
                addSample(
                  background,
                  background.width / 2 + ((px - width / 2) / backgroundScale) * pose.cameraScale + pose.cameraX,
                  background.height / 2 + ((py - height / 2) / backgroundScale) * pose.cameraScale + pose.cameraY,
                  share,
                  out,
                );
            }
          }
        }
        for (let c = 0; c < 3; c++) image.data[4 * i + c] = out[c]! + recipe.noise * (noise() + noise() + noise() + noise() - 2) * 1.73;
        image.data[4 * i + 3] = 255;
        matte[i] = Math.round(255 * cover);
      }
    }
    frames.push(image);
    mattes.push(matte);
  }
  return { name: recipe.name, frames, mattes };
}
