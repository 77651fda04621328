import type { FramesRequest } from '../../workers/frames/protocol';

/**
 * How urgent a drawing is. 'now' answers the newest request first and drops older ones that wait; 'ahead' is about to be played;
 * 'thumb' are small pictures; 'ready' is made while nothing else is to be done.
 */
export type Lane = 'now' | 'ahead' | 'thumb' | 'ready';

type MeasureKind = Exclude<Extract<FramesRequest, { readonly job: number }>['kind'], 'draw'>;

/** What waits to be drawn or measured. Bands of one picture are parts of the same thing. */
export type Task =
  | { readonly kind: 'draw'; readonly lane: Lane; readonly near?: number; readonly partOf?: object }
  | { readonly kind: MeasureKind; readonly owner: string };

/** What a hand has asked for goes before small pictures; what is only to be known comes after them. */
const ASKED: ReadonlySet<Task['kind']> = new Set(['align', 'step', 'carry points']);

type Fits = (task: Task) => boolean;
const inLane =
  (lane: Lane): Fits =>
  (task) =>
    task.kind === 'draw' && task.lane === lane;
const isMeasure: Fits = (task) => task.kind !== 'draw' && task.kind !== 'look';

/** What somebody waits for, the most urgent first. */
const URGENT: readonly Fits[] = [inLane('now'), inLane('ahead'), (task) => ASKED.has(task.kind), inLane('thumb')];
/** What is done in the background. */
const BACKGROUND: readonly Fits[] = [isMeasure, inLane('ready'), (task) => task.kind === 'look'];

/** What waits to be drawn or measured, the most urgent first. */
export class Scheduler<T extends Task> {
  private readonly tasks: T[] = [];
  /** Told what is dropped: nobody waits for it any more. */
  private readonly onDropped: (task: T) => void;

  constructor(onDropped: (task: T) => void) {
    this.onDropped = onDropped;
  }

  add(task: T): void {
    // the newest is what is wanted now
    if (task.kind === 'draw' && task.lane === 'now')
      this.drop((other) => inLane('now')(other) && (task.partOf === undefined || other.kind !== 'draw' || other.partOf !== task.partOf));
    this.tasks.push(task);
  }

  dropLane(lane: Lane): void {
    this.drop(inLane(lane));
  }

  dropMeasures(owner: string): void {
    this.drop((task) => task.kind !== 'draw' && task.owner === owner);
  }

  /**
   * Takes the most urgent out; undefined when nothing waits. Of frames to be made ready the one next to `near` comes first: what was
   * decoded and found of its neighbour is still there.
   */
  take(isBackgroundWelcome: boolean, near: number | null = null): T | undefined {
    for (const fits of isBackgroundWelcome ? [...URGENT, ...BACKGROUND] : URGENT) {
      const found = this.tasks.filter(fits);
      if (found.length === 0) continue;
      const next =
        found.find((t) => near !== null && t.kind === 'draw' && t.lane === 'ready' && Math.abs(t.near! - near) === 1) ?? found[0]!;
      this.tasks.splice(this.tasks.indexOf(next), 1);
      return next;
    }
    return undefined;
  }

  private drop(isMeant: Fits): void {
    for (const task of this.tasks.filter(isMeant)) {
      this.tasks.splice(this.tasks.indexOf(task), 1);
      this.onDropped(task);
    }
  }
}
