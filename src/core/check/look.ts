import type { ShotSide, Side } from '../film/composition';
import type { Film, Media } from '../film/film';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { lumaOf } from '../image/plane';
import { createImage, type Image, type Plane } from '../image/pixels';
import type { Point } from '../geometry/matrix';
import type { FramePlan, PictureRef, PlannedMatte } from '../plan/frame-plan';
import { needsOf, picturesOf } from '../plan/plan-needs';
import { planFrame } from '../plan/plan-film';
import { planMatteAlone } from '../plan/stage-plans';
import { planShot } from '../plan/plan-shot';
import type { CoverageSource, PictureSource } from '../render/compositor';
import { CpuCompositor } from '../render/cpu/compositor';
import { measureHole } from '../recipes/hole-shape';
import { findLeak, type Leak } from './leak';

/** Size at which frames are looked at. */
const LOOK_HEIGHT = 180;
/** Squares across and down in which a shot's picture is remembered. */
const [ACROSS, DOWN] = [16, 9];

/** A matte that a layer uses: what of it stays, and how it covers on the frame. */
interface MattePlan {
  readonly matteId: string;
  readonly side: Side;
  readonly shot: ShotSide;
  readonly plan: FramePlan;
}

/** What is drawn to look at one frame of a join. */
export interface LookPlans {
  /** Null where it takes long to draw: what is made by motion. */
  readonly result: FramePlan | null;
  readonly shots: Readonly<Record<ShotSide, FramePlan | null>>;
  readonly mattes: readonly MattePlan[];
}

/** How a matte covers a frame: share of the frame, its middle in film pixels, and what leaks along its edge. */
export interface MatteLook {
  readonly matteId: string;
  readonly side: Side;
  readonly shot: ShotSide;
  readonly area: number;
  /** How much of each square of the frame it covers, 0..1. */
  readonly squares: readonly number[];
  readonly x: number;
  readonly y: number;
  readonly leak: Leak | null;
}

/** What a frame of a join looks like. */
export interface FrameLook {
  /** Mean brightness of the result, 0..255; null where it was not drawn. */
  readonly light: number | null;
  /** The result, very small; null where it was not drawn. */
  readonly result: readonly number[] | null;
  /** The shots' pictures, very small; null where they are not on. */
  readonly shots: Readonly<Record<ShotSide, readonly number[] | null>>;
  readonly mattes: readonly MatteLook[];
}

/** What has to be drawn to look at a film frame of a join. */
export function lookPlans(film: Film, media: Media, placed: PlacedJoin, frame: number): LookPlans {
  const result = planFrame(film, media, frame, { samples: 1 });
  const shotPlan = (side: ShotSide): FramePlan | null => {
    const medium = mediumOf(media, placed[side]);
    if (medium === null || shotFrameAt(film, media, placed[side], startsAround(placed)[side], frame) === null) return null;
    return planShot(film, media, placed, side, frame);
  };
  const uses = placed.join.layers.flatMap((layer) => {
    const shot = layer.source.kind === 'leaving' || layer.source.kind === 'entering' ? layer.source.kind : null;
    return shot === null || !layer.visible ? [] : layer.mattes.map((use) => ({ use, shot }));
  });
  const isOfShot = (matteId: string, shot: ShotSide): boolean =>
    film.mattes.find((m) => m.id === matteId)?.mediumId === placed[shot].mediumId;
  // a matte that is used on both sides is looked at as the hole it makes
  const first = new Map(
    [...uses].sort((a, b) => Number(a.use.side === 'outside') - Number(b.use.side === 'outside')).map((u) => [u.use.matteId, u]),
  );
  const mattes = [...first.values()]
    .filter(({ use, shot }) => isOfShot(use.matteId, shot))
    .map(({ use, shot }): MattePlan => {
      const { matteId, side } = use;
      return { matteId, side, shot, plan: planMatteAlone(film, media, placed, shot, matteId, frame, use) };
    });
  return {
    result: needsOf(result).followsMotion ? null : result,
    shots: { leaving: shotPlan('leaving'), entering: shotPlan('entering') },
    mattes,
  };
}

/** The pictures that are needed to look at a frame. */
export const picturesToLook = ({ result, shots, mattes }: LookPlans): PictureRef[] =>
  picturesOf(...[result, shots.leaving, shots.entering, ...mattes.map((m) => m.plan)].filter((plan) => plan !== null));

/** The plans whose mattes are needed to look at a frame. */
export const plansToLook = ({ result, mattes }: LookPlans): readonly FramePlan[] => [
  ...(result === null ? [] : [result]),
  ...mattes.map((m) => m.plan),
];

/** Looks at frames of one film. Keeps scratch memory. */
export class FrameLooker {
  private readonly width: number;
  private readonly compositor: CpuCompositor;
  private readonly out: Image;
  private readonly film: Pick<Film, 'width' | 'height'>;

  constructor(film: Pick<Film, 'width' | 'height'>) {
    this.film = film;
    this.width = Math.max(1, Math.round((LOOK_HEIGHT * film.width) / film.height));
    this.compositor = new CpuCompositor(this.width, LOOK_HEIGHT);
    this.out = createImage(this.width, LOOK_HEIGHT);
  }

  look({ result, shots, mattes }: LookPlans, pictures: PictureSource, coverages: CoverageSource): FrameLook {
    const draw = (plan: FramePlan): Image => {
      this.compositor.draw(plan, pictures, this.out, coverages);
      return this.out;
    };
    const small = (plan: FramePlan | null): readonly number[] | null => (plan === null ? null : squaresOf(lumaOf(draw(plan))));
    const made = small(result);
    return {
      light: result === null ? null : meanLight(this.out),
      result: made,
      shots: { leaving: small(shots.leaving), entering: small(shots.entering) },
      mattes: mattes.flatMap((m) => this.matteLook(m, pictures, coverages)),
    };
  }

  private matteLook({ matteId, side, shot, plan }: MattePlan, pictures: PictureSource, coverages: CoverageSource): MatteLook[] {
    const layer = plan.layers[0];
    if (layer === undefined) return [];
    const covered = new Uint8Array(this.width * LOOK_HEIGHT);
    this.compositor.drawMattes(plan, layer.mattes, pictures, covered, coverages);
    const { width, height } = this.film;
    const shape = measureHole(covered, this.width, LOOK_HEIGHT, width, height);
    const squares = squaresOf({ width: this.width, height: LOOK_HEIGHT, data: Float32Array.from(covered, (v) => v / 255) }, [32, 18]);
    if (shape === null) return [{ matteId, side, shot, area: 0, squares, x: 0, y: 0, leak: null }];
    const bare: readonly PlannedMatte[] = [];
    this.compositor.draw({ ...plan, layers: [{ ...layer, mattes: bare }] }, pictures, this.out, coverages);
    const toFilm = (p: Point): Point => ({ x: (p.x / this.width - 0.5) * width, y: (p.y / LOOK_HEIGHT - 0.5) * height });
    // only what is taken out can leak; what stays is told by its edge on the stage
    const leak = side === 'outside' ? findLeak(this.out, covered) : null;
    return [
      {
        matteId,
        side,
        shot,
        area: shape.area / (width * height),
        squares,
        x: shape.x,
        y: shape.y,
        leak: leak === null ? null : { ...leak, at: toFilm(leak.at), widthPx: (leak.widthPx * width) / this.width },
      },
    ];
  }
}

function meanLight({ data }: Image): number {
  let sum = 0;
  for (let i = 0; i < data.length; i += 4) sum += 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!;
  return sum / (data.length / 4);
}

/** Mean value in each square of a plane. */
function squaresOf({ width, height, data }: Plane, [across, down]: readonly [number, number] = [ACROSS, DOWN]): readonly number[] {
  const sums = new Float64Array(across * down);
  const counts = new Float64Array(across * down);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const k = Math.floor((y * down) / height) * across + Math.floor((x * across) / width);
      sums[k]! += data[y * width + x]!;
      counts[k]! += 1;
    }
  return Array.from(sums, (s, k) => s / counts[k]!);
}
