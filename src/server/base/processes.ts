import { existsSync } from 'node:fs';
import type { Readable, Writable } from 'node:stream';
import { execa } from 'execa';
import { AppError } from './errors';

/** Starts a program so that it ends with this one, even with one that is killed (util-linux; nothing where that is missing). */
const TIED = existsSync('/usr/bin/setpriv') ? ['/usr/bin/setpriv', '--pdeathsig', 'KILL'] : [];

/** Seconds after which a program that only looks at a file is ended. */
export const LOOK_LIMIT = 120;

/** The same for one that goes at the pace of whoever reads from it or writes to it. */
export const STREAM_LIMIT = 12 * 3600;

/** Seconds any program gets, bytes a second that are read however slow the disk, and pixels a second that are worked on however slow the machine. */
const LEAST_SECONDS = 900;
const SLOWEST_READ = 1e6;
const SLOWEST_WORK = 3e6;

/** Seconds after which a program that goes through so many bytes, and works on so many pixels, is ended. */
export const runLimit = (bytes: number, pixels = 0): number => Math.ceil(LEAST_SECONDS + bytes / SLOWEST_READ + pixels / SLOWEST_WORK);

/** A program ended with an error of its own. What it complained of is for the log; whoever knows what it was asked says what that means. */
export class ToolFailure extends Error {
  constructor(program: string, complaint: string) {
    super(`${program}: ${complaint}`);
    this.name = 'ToolFailure';
  }
}

/** What of a program's complaints is kept. */
const MOST_COMPLAINTS = 4000;

export interface ChildOptions {
  readonly stdin?: 'pipe' | 'ignore';
  readonly stdout?: 'pipe' | 'ignore';
  /** After so long it is ended. */
  readonly seconds: number;
  readonly signal?: AbortSignal;
}

/** A program at work. Its standard streams are there where they were asked for. */
export interface Child {
  readonly stdin: Writable;
  readonly stdout: Readable;
  /** Resolves once it has ended and its streams are closed. @throws Error when it could not be started or took too long */
  readonly ended: Promise<number | null>;
  /** The end of what it wrote to stderr, on one line. */
  complaint(): string;
  readonly hasEnded: boolean;
  kill(): void;
}

/** Starts a program without a shell. */
export function start(
  program: string,
  args: readonly string[],
  { stdin = 'ignore', stdout = 'ignore', seconds, signal }: ChildOptions,
): Child {
  const [file, ...rest] = [...TIED, program, ...args] as [string, ...string[]];
  const running = execa(file, rest, {
    stdin,
    stdout,
    stderr: 'pipe',
    buffer: false,
    encoding: 'buffer',
    reject: false,
    timeout: 1000 * seconds,
    killSignal: 'SIGKILL',
    ...(signal === undefined ? {} : { cancelSignal: signal }),
  });
  let tail = '';
  running.stderr.setEncoding('utf8').on('data', (text: string) => (tail = (tail + text).slice(-MOST_COMPLAINTS)));
  const complaint = (): string => tail.trim().split('\n').slice(-3).join(' ');
  let hasEnded = false;
  const ended = running.then((result) => {
    hasEnded = true;
    if (result.timedOut)
      throw new AppError('unusable-file', `This did not come to an end within ${Math.round(seconds / 60)} minutes and was stopped.`);
    const isMissing = result.code === 'ENOENT' || (TIED.length > 0 && result.exitCode === 127);
    if (isMissing) throw new Error(`${program} is not installed; ./irimi installs it`);
    return result.exitCode ?? null;
  });
  ended.catch(() => undefined); // whoever awaits it gets the error
  return {
    stdin: running.stdin as unknown as Writable,
    stdout: running.stdout as unknown as Readable,
    ended,
    complaint,
    get hasEnded() {
      return hasEnded;
    },
    kill: () => void running.kill('SIGKILL'),
  };
}

export interface RunOptions {
  readonly signal?: AbortSignal;
  readonly seconds: number;
  /** Hears every line as it comes; nothing is kept then. */
  readonly onLine?: (line: string) => void;
}

/** Runs a program to its end and gives what it wrote. @throws ToolFailure with the end of what it complained of, or the abort's reason. */
export async function run(program: string, args: readonly string[], { signal, seconds, onLine }: RunOptions): Promise<string> {
  signal?.throwIfAborted();
  const child = start(program, args, { stdout: 'pipe', seconds, signal });
  let out = '';
  let line = '';
  child.stdout.setEncoding('utf8').on('data', (text: string) => {
    if (onLine === undefined) {
      out += text;
      return;
    }
    const lines = (line + text).split('\n');
    line = lines.pop()!;
    lines.forEach(onLine);
  });
  try {
    const code = await child.ended;
    signal?.throwIfAborted();
    if (code !== 0) throw new ToolFailure(program, child.complaint() || `ended with ${code}`);
    return out;
  } finally {
    child.kill();
  }
}
