import type { SolverFault, ZoomSolution } from './cover-solver';
import { MOST_ENLARGED } from './cover-solver';
import type { Note } from '../next-thing';

const times = (scale: number): string => `${scale.toFixed(scale < 10 ? 1 : 0)} ×`;

function faultNote(fault: SolverFault, frameOf: (index: number) => number): Note {
  const note = (text: string, at: number | null): Note => ({ text, isFault: true, frame: at === null ? null : frameOf(at) });
  switch (fault.kind) {
    case 'no hole':
      return note('There is no hole to fly through on any frame of the move.', null);
    case 'lost': {
      const [from, to] = [frameOf(fault.from), frameOf(fault.to)];
      const where = from === to ? `on frame ${from}` : `from ${from} to ${to}`;
      return note(`The hole is lost ${where}; it is taken to lie between where it is before and after.`, fault.from);
    }
    case 'ends early':
      return note(`The hole is gone, or too small, after frame ${frameOf(fault.at)}: the move ends there.`, fault.at);
    case 'too small':
      return note(
        `The hole is so small that the leaving shot is enlarged ${times(fault.scale)}; above ${MOST_ENLARGED} × it falls to pieces. Begin where the hole is larger.`,
        null,
      );
    case 'leaves the frame':
      return note(`The middle of the hole leaves the frame on ${frameOf(fault.at)}.`, fault.at);
  }
}

/** What a solution comes to, in sentences with figures. `frameOf` gives the frame that an index stands for. */
export function zoomNotes(solution: ZoomSolution, frameOf: (index: number) => number, enlarged: number): Note[] {
  const faults = solution.faults.map((f) => faultNote(f, frameOf));
  if (solution.faults.some((f) => f.kind === 'no hole')) return faults;
  const end = frameOf(solution.end);
  const holds = `The hole holds the whole frame from ${end} on, at ${times(solution.endScale)}.`;
  const grown = `The entering shot is enlarged ${enlarged.toFixed(2)} × at most.`;
  return [{ text: `${holds} ${grown}`, isFault: false, frame: end }, ...faults];
}
