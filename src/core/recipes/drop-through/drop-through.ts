import type { Carrier, Layer } from '../../film/composition';
import type { DropSettings, Pin } from '../../film/recipe-settings';
import { mediumOf } from '../../film/timing';
import { EASES_OF_MOVES, easedKeys } from '../../motion/eases';
import { STILL } from '../../motion/motion';
import { shotFraming } from '../../plan/shot-framing';
import type { KindOfJoin, Making } from '../kind';
import { withoutPin } from '../pin';
import { idOf, madeLayer, madeUse, ownOutline, standing } from '../made-layers';
import { fault, note, type Note } from '../next-thing';

/** A shot is enlarged at most so much to match the other. */
const MOST_ENLARGED = 4;

/** How both pictures are stacked: the entering one lies `down` below the leaving one and `across` of it; each may be enlarged to match the other. */
export interface Stack {
  readonly across: number;
  readonly down: number;
  /** Of the leaving picture once it has gone, and of the entering one where it comes in. */
  readonly leavingScale: number;
  readonly enteringScale: number;
  /** Where the seam lies, film pixels below the leaving picture's middle. */
  readonly seam: number;
}

/**
 * Stacks two pictures so that what `pin` lays over each other coincides. Neither is made smaller, so that no border comes into sight: where the
 * entering one would have to be, the leaving one grows. The entering one begins at the leaving one's lower border at the latest.
 */
export function stackOf(pin: Pin | null, height: number): Stack {
  const scale = Math.min(MOST_ENLARGED, Math.max(1 / MOST_ENLARGED, pin?.scale ?? 1));
  const [leavingScale, enteringScale] = [Math.max(1, 1 / scale), Math.max(1, scale)];
  const wanted = (pin?.y ?? height) * leavingScale;
  // its upper border lies within the leaving picture
  const most = ((leavingScale + enteringScale) * height) / 2;
  const down = Math.max(height / 2, Math.min(most, wanted));
  const [top, bottom] = [down - (enteringScale * height) / 2, (leavingScale * height) / 2];
  return { across: (pin?.x ?? 0) * leavingScale, down, leavingScale, enteringScale, seam: (top + bottom) / 2 };
}

/** The seam as an outline of the leaving shot: all of it above. It is made once for a join and then follows its numbers. */
function seamMatte({ film, media, join, placed }: Making<DropSettings>, stack: Stack): string | null {
  const medium = mediumOf(media, placed.leaving);
  if (medium === null) return null;
  const matte = ownOutline(film, join, 'seam', medium.id, `Seam of ${placed.leaving.name}`);
  const [x, top, y] = [2 * film.width, -4 * film.height, stack.seam / stack.leavingScale];
  matte.outline = standing(
    [
      [-x, top],
      [x, top],
      [x, y],
      [-x, y],
    ],
    shotFraming(film, medium, placed.leaving, Math.round(placed.leaving.inFrame)),
  );
  return matte.id;
}

/** What falls out of one shot falls into the next: both are stacked and go up together, as if the camera fell along. */
export const dropThrough: KindOfJoin<DropSettings> = {
  name: 'Drop through',
  made: 'a drop through',
  does: 'out at the bottom, in again at the top',
  need: null,
  elsewhere: withoutPin,
  defaults: { pin: null, seamPx: 60, ease: 'soft both', motionBlur: true },
  fields: [
    { name: 'pin', label: 'What falls', kind: 'pin' },
    { name: 'seamPx', label: 'Softness of the seam', kind: 'number', unit: 'px', min: 0, max: 600, step: 5 },
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES },
    { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
  ],
  shortest: 2,
  longest: 500,
  usual: 14,
  make(making) {
    const { film, join, placed, settings } = making;
    const { pin, seamPx, ease, motionBlur } = settings;
    const stack = stackOf(pin, film.height);
    const [first, last] = [-join.before - 1, join.after];
    const fallId = idOf(join, 'fall');
    const fall: Carrier = { id: fallId, name: 'Fall', motion: { ...STILL, y: easedKeys(ease, [first, 0], [last, -stack.down]) } };
    const seam = seamMatte(making, stack);
    // both are of one size while the seam crosses; before and after each is as its shot is
    const settled = Math.max(1, Math.round((join.before + join.after) / 2));
    const leaving: Layer = {
      ...madeLayer(join, 'above', placed.leaving.name, { kind: 'leaving' }),
      ridesOn: fallId,
      blur: motionBlur,
      motion: { ...STILL, scale: stack.leavingScale === 1 ? 1 : easedKeys('soft both', [first, 1], [first + settled, stack.leavingScale]) },
      mattes: seam === null ? [] : [madeUse(join, 'above', { matteId: seam, side: 'inside', growPx: 0, featherPx: seamPx })],
    };
    const entering: Layer = {
      ...madeLayer(join, 'below', placed.entering.name, { kind: 'entering' }),
      ridesOn: fallId,
      blur: motionBlur,
      edges: 'mirrored',
      motion: {
        ...STILL,
        x: stack.across === 0 ? 0 : easedKeys('soft both', [last - settled, stack.across], [last, 0]),
        y: stack.down,
        scale: stack.enteringScale === 1 ? 1 : easedKeys('soft both', [last - settled, stack.enteringScale], [last, 1]),
        turn: pin === null || pin.turn === 0 ? 0 : easedKeys('soft both', [last - settled, pin.turn], [last, 0]),
      },
    };
    return { layers: [leaving, entering], carriers: [fall] };
  },
  notes(film, _media, _placed, { pin }) {
    const { across, down, leavingScale, enteringScale } = stackOf(pin, film.height);
    const grown =
      leavingScale > 1
        ? `the leaving shot grows ${leavingScale.toFixed(2)} ×`
        : `the entering shot comes ${enteringScale.toFixed(2)} × as large`;
    const told: Note[] = [note(`The entering shot lies ${Math.round(down)} px below and ${Math.round(across)} px across; ${grown}.`)];
    const wanted = pin === null ? down : pin.y * leavingScale;
    if (Math.abs(wanted - down) > 1)
      told.push(
        fault(
          wanted > down
            ? `What falls is ${Math.round(wanted - down)} px too far apart: leave later, or enter earlier.`
            : 'What falls lies at nearly one height in both: leave when it is lower, or enter while it is higher.',
        ),
      );
    return told;
  },
};
