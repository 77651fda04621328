export type ErrorCode = 'bad-request' | 'not-found' | 'conflict' | 'too-large' | 'unusable-file';

const STATUS: Record<ErrorCode, number> = { 'bad-request': 400, 'not-found': 404, conflict: 409, 'too-large': 413, 'unusable-file': 422 };

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
