import { SCHEMA_VERSION } from '../../core/film/film';
import type { Edit } from '../../core/film/history';
import { migrateEdit } from '../../core/film/migrate';

/** An edit that the server has yet to acknowledge. */
export interface WaitingEdit {
  readonly id: string;
  readonly edit: Edit;
  /** How often the server, which was there just before, was gone or failed when it was sent. */
  readonly failures?: number;
}

/** An edit that could not be stored, and why; it is kept in this browser until someone says what becomes of it. */
export interface AsideEdit {
  readonly id: string;
  readonly edit: Edit;
  readonly why: string;
}

/** What waits to be sent, and the revision of the film that it was made on. */
export interface Unsent {
  readonly base: number;
  readonly edits: readonly WaitingEdit[];
}

/** As it is written. `version` is that of the film the edits were made on; what says none is of version 2. */
interface Written<E> {
  readonly version?: number;
  readonly base?: number;
  readonly edits: readonly E[];
}

/** The edits of one film that are kept in this browser, so that they outlive a reload; read as ones for today's films. */
export class KeptEdits {
  private readonly filmId: string;
  /** Tells the user what could not be kept or read. */
  private readonly say: (text: string) => void;

  constructor(filmId: string, say: (text: string) => void) {
    this.filmId = filmId;
    this.say = say;
  }

  keepUnsent({ base, edits }: Unsent): void {
    // the edits are still in the window, and go as soon as they can
    const full = 'There are more unsent changes than this browser can keep. Leave this window open until they are saved.';
    this.keep('unsent', { version: SCHEMA_VERSION, base, edits }, full);
  }

  unsent(): Unsent | null {
    const read = this.read<WaitingEdit>('unsent');
    return read === null ? null : { base: read.base ?? 0, edits: read.edits };
  }

  keepAside(edits: readonly AsideEdit[]): void {
    const full = 'There are more changes set aside than this browser can keep. Save them as a file before you leave this window.';
    this.keep('aside', { version: SCHEMA_VERSION, edits }, full);
  }

  aside(): readonly AsideEdit[] {
    return this.read<AsideEdit>('aside')?.edits ?? [];
  }

  private key(what: 'unsent' | 'aside'): string {
    return `irimi:${what}:${this.filmId}`;
  }

  private keep<E>(what: 'unsent' | 'aside', written: Written<E>, full: string): void {
    if (written.edits.length === 0) localStorage.removeItem(this.key(what));
    else
      try {
        localStorage.setItem(this.key(what), JSON.stringify(written));
      } catch {
        this.say(full); // a page gets little room
      }
  }

  private read<E extends { readonly edit: Edit }>(what: 'unsent' | 'aside'): Written<E> | null {
    const text = localStorage.getItem(this.key(what));
    if (text === null) return null;
    const written = JSON.parse(text) as Written<E>;
    if (written.version === SCHEMA_VERSION) return written;
    const edits: E[] = [];
    for (const one of written.edits) {
      const edit = migrateEdit(one.edit, written.version ?? 2);
      // what builds on one that cannot be told is lost with it
      if (edit === null) break;
      edits.push({ ...one, edit });
    }
    const lost = written.edits.slice(edits.length).map((w) => w.edit.name);
    if (lost.length > 0) this.say(`Made with an earlier version of the program and not applied: ${lost.join(', ')}.`);
    return { ...written, edits };
  }
}
