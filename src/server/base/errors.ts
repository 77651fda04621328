export type ErrorCode = 'bad-request' | 'foreign' | 'not-found' | 'conflict' | 'too-large' | 'unusable-file' | 'unavailable';

const STATUS: Record<ErrorCode, number> = {
  'bad-request': 400,
  foreign: 403,
  'not-found': 404,
  conflict: 409,
  'too-large': 413,
  'unusable-file': 422,
  unavailable: 503,
};

/** Something the user can understand and act on; the message is shown as it is. */
export class AppError extends Error {
  readonly code: ErrorCode;

  constructor(code: ErrorCode, message: string) {
    super(message);
    this.name = 'AppError';
    this.code = code;
  }

  get status(): number {
    return STATUS[this.code];
  }
}

/** What the disk and the database complain of, by the start of the code: what is wrong, and what to do. */
const TROUBLES: readonly (readonly [codes: readonly string[], sentence: (folder: string) => string])[] = [
  [['SQLITE_FULL', 'ENOSPC'], () => 'The disk is full, so this could not be stored. Make room on it and try again.'],
  [
    ['SQLITE_READONLY', 'EROFS', 'EACCES', 'EPERM', 'SQLITE_PERM'],
    (folder) => `The data folder ${folder} cannot be written to. Allow writing there, or choose another folder with IRIMI_DATA.`,
  ],
  [['SQLITE_BUSY', 'SQLITE_LOCKED'], (folder) => `The database in ${folder} is held by another program. Close that, then try again.`],
  [
    ['SQLITE_CORRUPT', 'SQLITE_NOTADB'],
    (folder) =>
      `The database in ${folder} is damaged (irimi.sqlite). Put a copy from a backup in its place, or delete it: media and exported files beside it stay, and are listed.`,
  ],
  [
    ['SQLITE_CANTOPEN', 'SQLITE_IOERR', 'ENOTDIR', 'EIO'],
    (folder) => `The data folder ${folder} cannot be read. Look whether its disk is there.`,
  ],
];

/** The sentence for trouble with the disk or the database; null for anything else. */
export function troubleOf(error: unknown, folder: string): AppError | null {
  const { code, message } = error as { code?: unknown; message?: unknown };
  if (typeof message === 'string' && message.startsWith('The migration directory is corrupt'))
    return new AppError(
      'unavailable',
      `The data folder ${folder} was made by a newer Irimi. Start that one, or choose another folder with IRIMI_DATA.`,
    );
  if (typeof code !== 'string') return null;
  const found = TROUBLES.find(([codes]) => codes.some((c) => code === c || code.startsWith(`${c}_`)));
  return found === undefined ? null : new AppError('unavailable', found[1](folder));
}
