import type { Effect, Layer, MatteUse, ShotSide } from '../../film/composition';
import type { CutOutSettings } from '../../film/recipe-settings';
import type { Making } from '../kind';
import type { HoleShape } from '../hole-shape';
import { idOf, madeLayer, madeUse } from '../made-layers';

/** How soft the edge of a cut-out is unless said, pixels of its medium. */
export const FEATHER_PX = 1.5;

export const otherOf = (side: ShotSide): ShotSide => (side === 'entering' ? 'leaving' : 'entering');

/** What a held cut-out is made of. */
export interface Parts {
  readonly making: Making<CutOutSettings>;
  readonly frame: number;
  /** The cut-out in the film's frame, of the frozen picture. */
  readonly shape: HoleShape | null;
}

export const held = ({ making: { join, settings }, frame }: Parts, role: string, name: string, side: MatteUse['side']): Layer => ({
  ...madeLayer(join, role, name, { kind: 'held', side: settings.side, frame }),
  blur: settings.motionBlur,
  mattes: settings.matteId === null ? [] : [madeUse(join, role, { matteId: settings.matteId, side, growPx: 0, featherPx: FEATHER_PX })],
});

/** What is laid around a cut-out, in the order it is drawn. */
export function trimmings({ making: { join, settings } }: Parts): readonly Effect[] {
  const { roughPx, driftEvery, outlinePx, shadowPx, way } = settings;
  const effect = (kind: Effect['kind'], params: Effect['params']): Effect => ({
    id: idOf(join, kind.replace(' ', '-')),
    kind,
    visible: true,
    params,
  });
  return [
    // the frame's own border is not torn
    ...(roughPx > 0 && way === 'lands' ? [effect('rough edge', { depthPx: roughPx, sizePx: 2 * roughPx, everyFrames: driftEvery })] : []),
    ...(outlinePx > 0 ? [effect('outline', { widthPx: outlinePx })] : []),
    ...(shadowPx > 0 ? [effect('drop shadow', { distancePx: shadowPx, softPx: shadowPx })] : []),
  ];
}
