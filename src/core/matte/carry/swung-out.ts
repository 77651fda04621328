import { grown } from '../../image/grown';
import { notBackground, type BackgroundEvidence, type SubjectEvidence } from './evidence';
import type { SideColours } from '../cut/side-colours';

/** A part that swings out lies this far from where the edge should be, in pixels. */
const FROM_PX = 4;
const TO_PX = 60;
/** How much its colours must speak for the subject, as a log ratio. */
const LIKE_THE_SUBJECT = 2;

/** 1 where outside the edge that is expected a pixel has the subject's colours. `signed` is the distance to that edge, positive inside. */
export function subjectColoured(colours: SideColours, features: Float32Array, signed: Float32Array): Uint8Array {
  const out = new Uint8Array(signed.length);
  for (let i = 0; i < out.length; i++) if (-signed[i]! >= FROM_PX && -signed[i]! < TO_PX) out[i] = 1;
  const ratios = colours.ratios(features, out, LIKE_THE_SUBJECT + 1);
  for (let i = 0; i < out.length; i++) out[i] = ratios[i]! > LIKE_THE_SUBJECT ? 1 : 0;
  return out;
}

/**
 * Adds to `band` what hangs together with it, has the subject's colours (`coloured`) and is not what the background
 * showed there: a part of the subject that moved further than any of its motions tell. These say nothing of it any more.
 */
export function addSwungOut(
  { width, noise, entering, subjectMiss }: Pick<SubjectEvidence, 'width' | 'noise' | 'entering' | 'subjectMiss'>,
  background: Pick<BackgroundEvidence, 'miss' | 'seen'>,
  coloured: Uint8Array,
  band: Uint8Array,
): void {
  const open = notBackground(background, noise, coloured);
  const reached = grown(band, open, width);
  for (let i = 0; i < band.length; i++) {
    if (open[i] === 0 || reached[i] === 0) continue;
    band[i] = entering[i] = 1;
    subjectMiss.data[i] = undecided(noise);
  }
}

/** Squared colour difference of an explanation that speaks neither for nor against. */
export const undecided = (noise: number): number => 60 + 2 * noise;
