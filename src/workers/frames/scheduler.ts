import type { FramesRequest, Lane } from './protocol';

export type DrawRequest = Extract<FramesRequest, { kind: 'draw' }>;
export type MeasureRequest = Extract<FramesRequest, { readonly owner: string; readonly job: number }>;

/** What a hand has asked for goes before small pictures; what is only to be known comes after them. */
const ASKED: ReadonlySet<MeasureRequest['kind']> = new Set(['align', 'step', 'carry points']);

/** What waits to be drawn or measured, the most urgent first. */
export class Scheduler {
  private readonly drawings: DrawRequest[] = [];
  private readonly measures: MeasureRequest[] = [];
  /** Tells that a job is dropped: nobody waits for it any more. */
  private readonly onDropped: (job: number) => void;

  constructor(onDropped: (job: number) => void) {
    this.onDropped = onDropped;
  }

  add(request: DrawRequest | MeasureRequest): void {
    if (request.kind !== 'draw') {
      this.measures.push(request);
      return;
    }
    // the newest is what is wanted now
    if (request.lane === 'now') this.dropLane('now');
    this.drawings.push(request);
  }

  dropLane(lane: Lane): void {
    this.drop(this.drawings, (r) => r.lane === lane);
  }

  dropMeasures(owner: string): void {
    this.drop(this.measures, (r) => r.owner === owner);
  }

  /** Takes the most urgent out; undefined when nothing waits. */
  take(): DrawRequest | MeasureRequest | undefined {
    const drawing = (lane: Lane): DrawRequest | undefined => taken(this.drawings, (r) => r.lane === lane);
    const measure = (fits: (kind: MeasureRequest['kind']) => boolean): MeasureRequest | undefined =>
      taken(this.measures, (r) => fits(r.kind));
    return (
      drawing('now') ??
      drawing('ahead') ??
      measure((kind) => ASKED.has(kind)) ??
      drawing('thumb') ??
      measure((kind) => kind !== 'look') ??
      this.measures.shift()
    );
  }

  private drop<R extends { readonly job: number }>(list: R[], isMeant: (request: R) => boolean): void {
    for (let gone = taken(list, isMeant); gone !== undefined; gone = taken(list, isMeant)) this.onDropped(gone.job);
  }
}

/** Takes the first that fits out of a list. */
function taken<R>(list: R[], fits: (request: R) => boolean): R | undefined {
  const at = list.findIndex(fits);
  return at < 0 ? undefined : list.splice(at, 1)[0];
}
