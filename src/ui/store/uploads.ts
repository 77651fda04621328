import { receiveFile, type FileOnItsWay } from './send-file';

/** A file on its way to the shelf. */
export interface Upload {
  readonly id: string;
  readonly name: string;
  readonly fraction: number;
  readonly error: string | null;
}

/** The files on their way to a film's shelf, in the order in which they were chosen. */
export class Uploads {
  private readonly filmId: string;
  private readonly onChange: (uploads: readonly Upload[]) => void;
  /** A file has arrived, and is a medium of the shelf. */
  private readonly onArrived: () => void;
  private list: readonly Upload[] = [];
  private readonly files = new Map<string, FileOnItsWay>();
  /** When the newest file was chosen, ms; the shelf keeps this order, whichever arrives first. */
  private chosenAt = 0;

  constructor(filmId: string, onChange: (uploads: readonly Upload[]) => void, onArrived: () => void) {
    this.filmId = filmId;
    this.onChange = onChange;
    this.onArrived = onArrived;
  }

  /** Sends a file and tells how far it is. What is interrupted goes on where it was, also when the same file is imported again later. */
  send(file: File): void {
    const id = crypto.randomUUID();
    const change = (part: Partial<Upload>): void => this.set(this.list.map((u) => (u.id === id ? { ...u, ...part } : u)));
    this.set([...this.list, { id, name: file.name, fraction: 0, error: null }]);
    this.chosenAt = Math.max(Date.now(), this.chosenAt + 1);
    const facts = { chosenAt: String(this.chosenAt) };
    const sending = receiveFile(this.filmId, file, file.name, facts, (fraction) => change({ fraction }));
    this.files.set(id, sending);
    sending.done.then(
      () => {
        this.files.delete(id);
        this.forget(id);
        this.onArrived();
      },
      (error: Error) => change({ error: error.message }),
    );
  }

  /** Stops a file on its way, or puts its error away. What of it has arrived is thrown away. */
  forget(id: string): void {
    this.files.get(id)?.stop();
    this.files.delete(id);
    this.set(this.list.filter((u) => u.id !== id));
  }

  private set(uploads: readonly Upload[]): void {
    this.list = uploads;
    this.onChange(uploads);
  }
}
