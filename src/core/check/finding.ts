import type { ShotSide } from '../film/composition';
import { framesText } from '../film/timing';
import type { Point } from '../geometry/matrix';

/** What mends a finding at the press of a button. Film frames; later is to the right in the weave. */
export type Repair =
  | { readonly kind: 'slide'; readonly later: number; readonly trimEnd: number }
  | { readonly kind: 'trim end'; readonly by: number }
  | { readonly kind: 'overlap'; readonly before: number; readonly after: number }
  | { readonly kind: 'fit hole' }
  /** Both shots are trimmed at the cut until they have handles of so many frames. */
  | { readonly kind: 'make room'; readonly frames: number }
  /** A hole is made larger by so many pixels of its medium. */
  | { readonly kind: 'grow matte'; readonly matteId: string; readonly byPx: number }
  /** Layers go on mirrored beyond their border. */
  | { readonly kind: 'mirror borders'; readonly layerIds: readonly string[] }
  /** A zoom leaves no room around its hole, so that it enlarges less. */
  | { readonly kind: 'less room' }
  /** Pictures between those of a shot are made by motion. */
  | { readonly kind: 'between'; readonly side: ShotSide }
  /** The points where the eye is are brought together. */
  | { readonly kind: 'bring together' };

/** Something an attentive viewer would notice. Frames are film frames, first to last. */
export interface Finding {
  readonly kind:
    | 'empty pixels'
    | 'no picture'
    | 'never covers'
    | 'shrinks'
    | 'enlarged'
    | 'speed jump'
    | 'open too early'
    | 'leaves too early'
    | 'no outline'
    | 'light jump'
    | 'matte jump'
    | 'leak'
    | 'scene change'
    | 'picture jump'
    | 'nothing arrives'
    | 'cut off'
    | 'repeated'
    | 'uneven'
    | 'eye jump';
  readonly from: number;
  readonly to: number;
  /** The frame on which it shows best; the first unless said. */
  readonly best?: number;
  /** Where on the picture of that frame, film pixels from its middle; undefined for what is everywhere. */
  readonly place?: Point;
  /** One sentence: what is wrong. */
  readonly text: string;
  /** One sentence: what to try. */
  readonly advice: string;
  /** What to try, to be done at once; null where that is work by hand. */
  readonly repair: Repair | null;
}

/** What is said before a file is made of it: holes, pictures that are missing, and jumps of the whole picture. */
export const SAID_BEFORE_SENDING: ReadonlySet<Finding['kind']> = new Set([
  'empty pixels',
  'no picture',
  'never covers',
  'picture jump',
  'light jump',
  'scene change',
]);

/** The frame to go to for a finding. */
export const frameOfFinding = ({ best, from }: Pick<Finding, 'best' | 'from'>): number => best ?? from;

/** What a repair does, for its button and for the list of changes. */
export function repairText(repair: Repair): string {
  switch (repair.kind) {
    case 'slide': {
      const slide = `Slide it ${framesText(Math.abs(repair.later))} ${repair.later < 0 ? 'earlier' : 'later'}`;
      return repair.trimEnd === 0 ? slide : `${slide}, trim its end by ${repair.trimEnd}`;
    }
    case 'trim end':
      return `Trim its end by ${framesText(repair.by)}`;
    case 'overlap':
      return `Overlap ${repair.before} before, ${repair.after} past the cut`;
    case 'make room':
      return `Trim both ends to handles of ${framesText(repair.frames)}`;
    case 'fit hole':
      return 'Fit the overlap to the hole';
    case 'grow matte':
      return `Let the hole grow by ${repair.byPx} px`;
    case 'mirror borders':
      return 'Mirror what is beyond the edge';
    case 'less room':
      return 'Leave no room around the hole';
    case 'between':
      return 'Make the pictures between by motion';
    case 'bring together':
      return 'Bring both points together';
  }
}
