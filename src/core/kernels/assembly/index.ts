// The loops that take the most time, compiled to WebAssembly. `kernels.ts` beside this folder calls them.
export { addMotion, chainFields, doubtUnexpected, invertField, sharedMotion } from './field';
export { pullPush } from './fill-field';
export { contrastCosts, cutBand } from './cut-band';
export { coverAlongEdge } from './edge-cover';
export { matchLevel } from './match-level';
export { solveCut } from './min-cut';
export { enlargeCoverage, slopesAlongEdge } from './refine';
export { averagePicture } from './area';
export { boxBlur } from './box-blur';
export { colourRatios, fitColours, judgeColours, logDensity, vote } from './colours';
export { cleanSoftEdge, softPart } from './clean-edge';
export {
  addShed,
  brightOf,
  cropTurned,
  floatsOf,
  insideOf,
  keepSeparable,
  layOverCover,
  linesAround,
  meanAlong,
  movedCover,
  movedMirrored,
  throughTable,
  towardsColour,
} from './effects';
export { brightness, frayed, sketched } from './noisy-effects';
export { dotTable } from './dots';
export { signedDistance, squaredDistances } from './distance';
export { followColour, mixColours } from './fine-edge';
export { geodesicDistances } from './geodesic';
export { bestShift } from './shift';
export { closeBySurface, closeCovered, isOpaque, layAligned, laySampled } from './lay';
export { fade, layOverColour, laySurface, replaceIn } from './lay-surface';
export { coveredPart, invertCoverage, joinCoverage, placeCoverage } from './mattes';
export { fillPolygon, fillRamp, polygonArea } from './polygon';
export { drawLight, premultiply, toLight } from './shutter';
export { carryPlane, explain, markTorn, warp } from './explain';
export { blendBetween, missAt, splatFlow } from './between';
export { rgbToYuv, yuvToRgb } from './yuv';
export { smoothFlow } from './smooth-flow';

/** From here on memory is the caller's. */
export function firstFree(): usize {
  return __heap_base;
}
