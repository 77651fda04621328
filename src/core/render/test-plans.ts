import { chain, IDENTITY, rotation, scaling, translation, type Matrix } from '../geometry/matrix';
import { createImage, type Image } from '../image/pixels';
import { corner } from '../matte/outline/outline';
import type { FramePlan, PlannedLayer, PlannedOutline } from '../plan/frame-plan';
import { plainPlanned } from '../plan/plan-shot';
import type { PictureSource } from './compositor';

/** The size that test plans are drawn at. */
export const TEST_SIZE = { width: 80, height: 45 } as const;

/** A plan on which all compositors must agree. */
export interface TestPlan {
  readonly name: string;
  readonly plan: FramePlan;
}

const { width: W, height: H } = TEST_SIZE;

const layer = (mediumId: string, rest: Partial<PlannedLayer> = {}): PlannedLayer => ({
  ...plainPlanned({ kind: 'picture', picture: { mediumId, frame: 0, width: W, height: H }, next: null }, W, H, IDENTITY),
  ...rest,
});

/** A diamond about the middle. */
const diamond = (rest: Partial<PlannedOutline> = {}): PlannedOutline => ({
  ...{ kind: 'outline', points: [corner(0, -18), corner(26, 0), corner(0, 18), corner(-26, 0)], side: 'inside', combine: 'intersect' },
  ...{ growPx: 0, featherPx: 0, matrix: IDENTITY, rides: true },
  ...rest,
});

const plan = (name: string, layers: readonly PlannedLayer[], rest: Partial<FramePlan> = {}): TestPlan => ({
  name,
  plan: { ...TEST_SIZE, layers, finish: [], background: null, missing: [], ...rest },
});

/** Moments of an open shutter: a layer that grows, turns and drifts. */
const moving = (count: number): Matrix[] =>
  Array.from({ length: count }, (_, i) => chain(scaling(1.1 + 0.05 * i), rotation(1.5 * i), translation(0.7 * i, -0.4 * i)));

/** A plane that is turned away from the eye. */
const inSpace = (by: number): Matrix => [0.9, 0, 3, 0.05, 1, 0, by, 0, 1];

export const TEST_PLANS: readonly TestPlan[] = [
  plan('one picture as it is', [layer('a')]),
  plan('moved by whole pixels', [layer('a', { matrix: translation(7, -4) }), layer('b')]),
  plan('scaled, turned and half seen through', [
    layer('a', { matrix: chain(scaling(0.7), rotation(17), translation(5, 2)), opacity: 0.6 }),
    layer('b'),
  ]),
  plan('a hole, soft and grown', [layer('a', { mattes: [diamond({ side: 'outside', growPx: 2, featherPx: 6 })] }), layer('b')]),
  plan('mattes joined', [
    layer('a', {
      mattes: [
        diamond(),
        diamond({ matrix: translation(12, 3), combine: 'subtract' }),
        diamond({ matrix: translation(-30, 0), combine: 'add' }),
      ],
    }),
    layer('b'),
  ]),
  plan('mirrored beyond its border', [layer('a', { matrix: chain(scaling(0.5), rotation(30)), edges: 'mirrored' })]),
  plan('over again beyond its border', [layer('a', { matrix: chain(scaling(0.4), rotation(10)), edges: 'repeated' })]),
  plan('in space', [
    layer('a', { matrix: inSpace(0.004), mattes: [diamond()] }),
    layer('b', { matrix: inSpace(-0.003), edges: 'stretched' }),
  ]),
  plan('an open shutter through a hole', [
    layer('a', { matrix: moving(1)[0]!, samples: moving(7), mattes: [diamond({ side: 'outside' })] }),
    layer('b', { matrix: scaling(0.9), samples: moving(5), opacity: 0.7 }),
    layer('c'),
  ]),
  ...(['add', 'multiply', 'screen', 'lighten', 'darken'] as const).map((blend) =>
    plan(`blended: ${blend}`, [layer('a', { blend, opacity: 0.8, matrix: scaling(0.8) }), layer('b')]),
  ),
  plan('effects on a layer and on what lies under it', [
    layer('a', {
      mattes: [diamond()],
      effects: [
        { kind: 'drop shadow', params: { distancePx: 4, softPx: 4 } },
        { kind: 'outline', params: { widthPx: 2 } },
      ],
    }),
    layer('b', {
      content: { kind: 'beneath' },
      effects: [{ kind: 'exposure', params: { stops: 0.5 } }],
      mattes: [diamond({ featherPx: 9 })],
    }),
    layer('b'),
  ]),
  plan(
    'a colour, the whole finished, over a background',
    [layer('a', { content: { kind: 'colour', colour: [200, 40, 90] }, matrix: chain(scaling(0.5), rotation(40)) })],
    { background: [10, 20, 30], finish: [{ kind: 'flash', params: { amount: 0.3 } }] },
  ),
];

/** A picture with detail of all sizes, the same every time; see-through in part where it is called 'c'. */
function detailed(mediumId: string): Image {
  const image = createImage(W, H);
  const seed = mediumId.charCodeAt(0);
  for (let y = 0, i = 0; y < H; y++)
    for (let x = 0; x < W; x++, i += 4) {
      image.data[i] = 128 + 120 * Math.sin((x * seed) / 300 + y / 5);
      image.data[i + 1] = (x * 37 + y * 91 + seed * 13) % 256;
      image.data[i + 2] = ((x >> 3) ^ (y >> 3)) & 1 ? 230 : 25;
      image.data[i + 3] = mediumId === 'c' ? (x * 9 + y * 5) % 256 : 255;
    }
  return image;
}

const known = new Map(['a', 'b', 'c'].map((id) => [id, detailed(id)]));
export const testPictures: PictureSource = ({ mediumId }) => known.get(mediumId) ?? null;
