import { existsSync } from 'node:fs';
import type { Readable, Writable } from 'node:stream';
import { execa } from 'execa';
import { AppError } from './errors';

/** Starts a program so that it ends with this one, even with one that is killed (util-linux; nothing where that is missing). */
const TIED = existsSync('/usr/bin/setpriv') ? ['/usr/bin/setpriv', '--pdeathsig', 'KILL'] : [];

/** Seconds after which a program is ended: one that only looks at a file, and one that goes through the whole of it. */
export const LIMITS = { look: 120, through: 12 * 3600 } as const;

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
      throw new AppError('unusable-file', `${program} did not come to an end within ${seconds} seconds and was stopped.`);
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

/** Runs a program to its end and gives what it wrote. @throws Error with the end of what it complained of, or the abort's reason. */
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
    if (code !== 0) throw new Error(child.complaint() || `${program} ended with ${code}`);
    return out;
  } finally {
    child.kill();
  }
}
