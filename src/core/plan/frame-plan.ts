import type { BlendMode, Borders, Colour, Combining, EdgeFill, MeltQuality, Side } from '../film/composition';
import type { Matrix } from '../geometry/matrix';
import type { Tidying } from '../matte/coverage/tidy';
import type { KeyNow } from '../matte/key/key';
import type { OutlinePoint } from '../matte/outline/outline';
import type { MatchedPlaces } from '../morph/curve-pairs';

/** What makes one frame: resolved numbers, and keys of pictures and coverage. Nothing in it needs the film any more. */

/** Which picture a layer shows. Width and height are the medium's own, whatever size it is decoded at. */
export interface PictureRef {
  readonly mediumId: string;
  readonly frame: number;
  readonly width: number;
  readonly height: number;
}

interface MattePlacement {
  readonly side: Side;
  /** How it joins the layer's mattes before it. */
  readonly combine: Combining;
  /** Pixels of the medium the matte belongs to. */
  readonly growPx: number;
  readonly featherPx: number;
  /** Medium pixels to film pixels, both from the centre. */
  readonly matrix: Matrix;
  /** It moves with the layer through the open shutter; else it stands. */
  readonly rides: boolean;
}

/** The outline of a matte at one frame, ready to draw. Medium pixels from the centre. */
export interface PlannedOutline extends MattePlacement {
  readonly kind: 'outline';
  readonly points: readonly OutlinePoint[];
}

/** Stored coverage of a matte at one medium frame. Width and height are the medium's own, whatever size it is stored at. */
export interface PlannedCoverage extends MattePlacement {
  readonly kind: 'coverage';
  readonly tidying: Tidying;
  readonly matteId: string;
  readonly frame: number;
  readonly width: number;
  readonly height: number;
  /** The frame it was made on, for the detail of its edge. */
  readonly picture: PictureRef;
}

/** A matte drawn from the colours of a picture. */
export interface PlannedKey extends MattePlacement {
  readonly kind: 'key';
  readonly tidying: Tidying;
  readonly key: KeyNow;
  readonly picture: PictureRef;
}

export type PlannedMatte = PlannedOutline | PlannedCoverage | PlannedKey;

/** Two pictures of the film's size, each made of layers, as they meet on one frame of a melt. */
export interface MeltStep {
  readonly from: readonly PlannedLayer[];
  readonly to: readonly PlannedLayer[];
  /** How far shapes have gone, 0..1. */
  readonly warped: number;
  /** Places of both that belong together, for each pair of lines, and what their borders do; null where motion alone says what becomes what. */
  readonly lines: { readonly places: readonly MatchedPlaces[]; readonly borders: Borders } | null;
}

/** What a layer shows: a picture (with the next one by a share, where its time falls between them), a colour, two pictures melted, or what lies under it. */
export type Content =
  | {
      readonly kind: 'picture';
      readonly picture: PictureRef;
      readonly next: { readonly picture: PictureRef; readonly share: number; readonly by: 'fade' | 'flow' } | null;
    }
  | (MeltStep & {
      readonly kind: 'melt';
      readonly mixed: number;
      readonly quality: MeltQuality;
      /** The frames of the melt from which its motion is found, each from that of the one before: see `anchorsOf`. */
      readonly anchors: readonly MeltStep[];
    })
  | { readonly kind: 'colour'; readonly colour: Colour }
  | { readonly kind: 'beneath' };

/** An effect with its numbers as they are on this frame; lengths are film pixels. */
export interface PlannedEffect {
  readonly kind: string;
  readonly params: Readonly<Record<string, number>>;
}

export interface PlannedLayer {
  readonly content: Content;
  /** Size of the layer's plane, pixels of its medium or, without one, of the film. */
  readonly width: number;
  readonly height: number;
  readonly edges: EdgeFill;
  /** Pixels of its plane to film pixels, both from the centre. */
  readonly matrix: Matrix;
  /** The same at moments while the shutter is open; empty when nothing moves. */
  readonly samples: readonly Matrix[];
  /** 0..1 */
  readonly opacity: number;
  readonly blend: BlendMode;
  /** How far the old background's colour is taken out of the mattes' soft edge, 0..1. */
  readonly cleanEdge: number;
  readonly mattes: readonly PlannedMatte[];
  readonly effects: readonly PlannedEffect[];
}

/** A picture the film asks for and its medium does not have. */
export interface MissingPicture {
  readonly shotId: string;
  readonly shotName: string;
  /** 'before' the medium's first frame, 'after' its last one, or the medium is not 'ready'. */
  readonly where: 'before' | 'after' | 'not ready';
}

/** Everything that makes one frame, front to back. Film pixels. */
export interface FramePlan {
  readonly width: number;
  readonly height: number;
  readonly layers: readonly PlannedLayer[];
  /** Effects on the whole, after all layers. */
  readonly finish: readonly PlannedEffect[];
  /** Under all layers; null where nothing is. */
  readonly background: Colour | null;
  readonly missing: readonly MissingPicture[];
}

/** The picture a layer shows now; null for one without. */
export const pictureOf = ({ content }: PlannedLayer): PictureRef | null => (content.kind === 'picture' ? content.picture : null);
