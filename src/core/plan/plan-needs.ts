import { cornersOf, depthAt, lengthScale, type Matrix } from '../geometry/matrix';
import type { Content, FramePlan, PictureRef, PlannedCoverage, PlannedLayer, PlannedMatte } from './frame-plan';

/** A picture that a plan needs, and how large it shows where it shows largest: 1 is a pixel for a pixel. */
export interface NeededPicture {
  readonly ref: PictureRef;
  readonly scale: number;
}

/** Everything that has to be there before a plan can be drawn, each once. */
export interface PlanNeeds {
  /** By `pictureKey`. */
  readonly pictures: ReadonlyMap<string, NeededPicture>;
  /** By `coverageKey`. */
  readonly coverages: ReadonlyMap<string, PlannedCoverage>;
  /** Whether motion between pictures has to be found, which takes long. */
  readonly followsMotion: boolean;
}

type Planned = Pick<FramePlan, 'layers'>;

export const pictureKey = ({ mediumId, frame }: Pick<PictureRef, 'mediumId' | 'frame'>): string => `${mediumId}:${frame}`;
export const coverageKey = ({ matteId, frame }: Pick<PlannedCoverage, 'matteId' | 'frame'>): string => `${matteId}:${frame}`;

/** What plans need to be drawn: the one walk over a plan, into what is melted, mattes, keys and pictures between pictures. */
export function needsOf(...plans: readonly Planned[]): PlanNeeds {
  const pictures = new Map<string, NeededPicture>();
  const coverages = new Map<string, PlannedCoverage>();
  let followsMotion = false;

  const picture = (ref: PictureRef, matrices: readonly Matrix[]): void => {
    const key = pictureKey(ref);
    const scale = Math.max(pictures.get(key)?.scale ?? 0, ...matrices.map((m) => largestScale(m, ref)));
    pictures.set(key, { ref, scale });
  };
  const matte = (planned: PlannedMatte): void => {
    switch (planned.kind) {
      case 'outline':
        return;
      case 'coverage':
        coverages.set(coverageKey(planned), planned);
        return picture(planned.picture, [planned.matrix]);
      case 'key':
        return picture(planned.picture, [planned.matrix]);
    }
  };
  const content = (shown: Content, matrices: readonly Matrix[]): void => {
    switch (shown.kind) {
      case 'picture':
        picture(shown.picture, matrices);
        if (shown.next === null) return;
        picture(shown.next.picture, matrices);
        followsMotion ||= shown.next.by === 'flow';
        return;
      case 'melt':
        followsMotion = true;
        for (const step of [...shown.anchors, shown]) for (const l of [...step.from, ...step.to]) layer(l);
        return;
      case 'colour':
      case 'beneath':
        return;
    }
  };
  const layer = (planned: PlannedLayer): void => {
    content(planned.content, [planned.matrix, ...planned.samples]);
    planned.mattes.forEach(matte);
  };
  for (const plan of plans) plan.layers.forEach(layer);
  return { pictures, coverages, followsMotion };
}

/** The pictures of a plan's needs. */
export const picturesOf = (...plans: readonly Planned[]): PictureRef[] => [...needsOf(...plans).pictures.values()].map((p) => p.ref);

/** The pictures whose colours decide what of a plan is covered: those that keys look at. */
export function keyedPictures(...plans: readonly Planned[]): PictureRef[] {
  const found: PictureRef[] = [];
  const walk = (layers: readonly PlannedLayer[]): void => {
    for (const { content, mattes } of layers) {
      for (const m of mattes) if (m.kind === 'key') found.push(m.picture);
      if (content.kind === 'melt') walk([...content.from, ...content.to]);
    }
  };
  for (const plan of plans) walk(plan.layers);
  return found;
}

/** How large a picture of this size shows where it shows largest; its own size where part of it lies behind the eye. */
function largestScale(matrix: Matrix, { width, height }: PictureRef): number {
  const corners = cornersOf(width, height);
  return corners.some((c) => depthAt(matrix, c) < 1e-3) ? 1 : Math.max(...corners.map((c) => lengthScale(matrix, c)));
}
