import type { Carrier, Combining, Layer } from '../../../core/film/composition';
import type { Join } from '../../../core/film/film';
import { CAMERA_CHANNELS, MOTION_CHANNELS } from '../../../core/motion/motion';

const SIGN: Record<Combining, string> = { intersect: 'and ', add: 'plus ', subtract: 'minus ' };

/** 'leaving · outside · rides on Zoom' */
export function layerText(join: Join, layer: Layer): string {
  const { source } = layer;
  const uses = layer.mattes.map((u, i) => `${i === 0 ? '' : SIGN[u.combine ?? 'intersect']}${u.side}`);
  const what = source.kind === 'held' ? `held ${source.side}, ${source.frame}` : source.kind;
  return [
    what,
    ...(source.kind === 'colour' || source.kind === 'all beneath' ? [] : [uses.length === 0 ? 'whole' : uses.join(' ')]),
    ...(layer.edges === 'none' ? [] : [`${layer.edges} edge`]),
    ...ridesText(join, layer.ridesOn),
  ].join(' · ');
}

export const ridesText = (join: Join, ridesOn: string | undefined): string[] => {
  const carrier = join.carriers.find((c) => c.id === ridesOn);
  return carrier === undefined ? [] : [`rides on ${carrier.name}`];
};

/** 'moves 2 · 2 keys' */
export function carrierText(join: Join, carrier: Carrier): string {
  const riders = [...join.layers, ...join.carriers, ...(join.camera === undefined ? [] : [join.camera])].filter(
    (r) => r.ridesOn === carrier.id,
  );
  const keys = new Set(
    MOTION_CHANNELS.flatMap((c) => (typeof carrier.motion[c] === 'number' ? [] : carrier.motion[c].map((k) => k.frame))),
  );
  const moves = riders.length === 0 ? 'moves nothing yet' : `moves ${riders.length}`;
  return [
    moves,
    keys.size === 0 ? 'still' : `${keys.size} ${keys.size === 1 ? 'keyframe' : 'keyframes'}`,
    ...ridesText(join, carrier.ridesOn),
  ].join(' · ');
}

export function cameraText(join: Join): string {
  const { camera } = join;
  if (camera === undefined) return '';
  const moves = CAMERA_CHANNELS.some((c) => typeof camera[c] !== 'number' || camera[c] !== 0);
  return [`${camera.focalMm} mm`, moves ? 'moves' : 'still', ...ridesText(join, camera.ridesOn)].join(' · ');
}
