import PQueue from 'p-queue';
import { formatRational, type Rational } from '../../core/geometry/rational';
import { receiveFile, type ArrivedFile } from './send-file';
import { newId } from './new-id';

/** Files that are sent side by side; more would only make each slower. */
const AT_ONCE = 3;

/** A file on its way to the shelf. */
export interface Upload {
  readonly id: string;
  readonly name: string;
  readonly fraction: number;
  readonly error: string | null;
}

/** How a file is sent. */
export interface SendHow {
  /** What numbered pictures run at; the film's rate unless said. */
  readonly rate?: Rational;
  /** Also where the shelf has the same file already. */
  readonly isAgain?: boolean;
  /** The medium whose own file is gone, and whose place it takes. */
  readonly restores?: string;
  readonly onArrived?: (arrived: ArrivedFile) => void;
}

/** The files on their way to a film's shelf, in the order in which they were chosen. */
export class Uploads {
  private readonly filmId: string;
  private readonly onChange: (uploads: readonly Upload[]) => void;
  /** A file has arrived, and is a medium of the shelf unless that has it already. */
  private readonly onArrived: (arrived: ArrivedFile, file: File, how: SendHow) => void;
  private list: readonly Upload[] = [];
  private readonly stops = new Map<string, () => void>();
  private readonly queue = new PQueue({ concurrency: AT_ONCE });
  /** When the newest file was chosen, ms; the shelf keeps this order, whichever arrives first. */
  private chosenAt = 0;

  constructor(
    filmId: string,
    onChange: (uploads: readonly Upload[]) => void,
    onArrived: (arrived: ArrivedFile, file: File, how: SendHow) => void,
  ) {
    this.filmId = filmId;
    this.onChange = onChange;
    this.onArrived = onArrived;
  }

  /** Sends a file and tells how far it is. What is interrupted goes on where it was, also when the same file is imported again later. */
  send(file: File, how: SendHow = {}): void {
    const { rate, isAgain = false, restores, onArrived } = how;
    const id = newId();
    const change = (part: Partial<Upload>): void => this.set(this.list.map((u) => (u.id === id ? { ...u, ...part } : u)));
    this.set([...this.list, { id, name: file.name, fraction: 0, error: null }]);
    this.chosenAt = Math.max(Date.now(), this.chosenAt + 1);
    const facts = {
      chosenAt: String(this.chosenAt),
      ...(rate === undefined ? {} : { rate: formatRational(rate) }),
      ...(isAgain ? { again: 'yes' } : {}),
      ...(restores === undefined ? {} : { restores }),
    };
    void this.queue.add(async () => {
      // it was stopped while it waited
      if (!this.list.some((u) => u.id === id)) return;
      const sending = receiveFile(this.filmId, file, file.name, facts, (fraction) => change({ fraction }));
      const stopped = new Promise<'stopped'>((resolve) => {
        const stop = (): void => {
          sending.stop();
          resolve('stopped');
        };
        this.stops.set(id, stop);
      });
      const done = sending.done.then(
        (arrived) => {
          this.stops.delete(id);
          this.forget(id);
          this.onArrived(arrived, file, how);
          onArrived?.(arrived);
        },
        (error: Error) => change({ error: error.message }),
      );
      // one that is stopped never ends by itself
      await Promise.race([done, stopped]);
    });
  }

  /** Stops a file on its way, or puts its error away. What of it has arrived is thrown away. */
  forget(id: string): void {
    this.stops.get(id)?.();
    this.stops.delete(id);
    this.set(this.list.filter((u) => u.id !== id));
  }

  private set(uploads: readonly Upload[]): void {
    this.list = uploads;
    this.onChange(uploads);
  }
}
