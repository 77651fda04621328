import { rmSync, statSync } from 'node:fs';
import { chmod, mkdir, mkdtemp, readdir, rename, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import { partialsOf } from '../server/exports/partials';
import { UsageError } from './usage';

/** A path as the caller means it, who may stand in another folder. */
export const fromCaller = (path: string): string => resolve(process.env.IRIMI_CALLER ?? '.', path);

/** What goes when the program ends, however it ends short of being killed. */
const leftovers = new Set<string>();
process.once('exit', () => leftovers.forEach((path) => rmSync(path, { recursive: true, force: true })));

const kindOf = (path: string): 'file' | 'folder' | null => {
  const found = statSync(path, { throwIfNoEntry: false });
  return found === undefined ? null : found.isDirectory() ? 'folder' : 'file';
};

/**
 * The path of a file to be written, which is written as `<path>.part` first.
 * @throws UsageError when it is a folder, lies in none, or is one of the files that are read
 */
export function outputFile(given: string, ...inputs: readonly (string | undefined)[]): string {
  const path = fromCaller(given);
  if (kindOf(path) === 'folder') throw new UsageError(`${given} is a folder; give the name of a file`);
  if (kindOf(dirname(path)) !== 'folder') throw new UsageError(`${given}: there is no folder ${dirname(path)}`);
  if (inputs.some((input) => input !== undefined && fromCaller(input) === path))
    throw new UsageError(`${given} is what is read from; give another name to write to`);
  for (const partial of partialsOf(path)) leftovers.add(partial);
  return path;
}

/** Writes text under a temporary name first. */
export async function writeText(path: string, text: string): Promise<void> {
  const partial = `${path}.part`;
  try {
    await writeFile(partial, text);
    await rename(partial, path);
  } finally {
    await rm(partial, { force: true });
  }
}

/** A folder that takes a tool's numbered pictures and one file that tells of them. */
export class OutputFolder {
  private readonly path: string;
  private readonly given: string;
  private readonly report: string;
  private isNew = false;

  /** `report` is the name of the file that tells of the pictures, by which an earlier result is known. */
  constructor(given: string, report: string) {
    this.path = fromCaller(given);
    this.given = given;
    this.report = report;
  }

  /**
   * Makes a folder beside it to write to. @throws UsageError when there is something in the folder that no earlier run of the same tool
   * has written: nothing of anyone else's is ever touched
   */
  async begin(): Promise<string> {
    if (kindOf(this.path) === 'file') throw new UsageError(`${this.given} is a file; give a folder`);
    this.isNew = kindOf(this.path) === null;
    const names = this.isNew ? [] : await readdir(this.path);
    const foreign = names.find((name) => !this.isOwn(name));
    if (foreign !== undefined || (names.length > 0 && !names.includes(this.report)))
      throw new UsageError(
        `${this.given} holds ${foreign ?? names[0]}, which is no earlier result of this; give an empty folder, or a name that is free`,
      );
    await mkdir(dirname(this.path), { recursive: true });
    const partial = await mkdtemp(join(dirname(this.path), `.${basename(this.path)}-part-`));
    leftovers.add(partial);
    await chmod(partial, 0o777 & ~process.umask()); // made for its owner alone, it may become the folder itself
    return partial;
  }

  /** Puts what was written to the folder that `begin` gave in the place of an earlier result. */
  async finish(partial: string): Promise<void> {
    if (this.isNew) {
      await rename(partial, this.path);
      return;
    }
    for (const name of await readdir(this.path)) if (this.isOwn(name)) await rm(join(this.path, name));
    // the report last: with it the result is whole
    const written = (await readdir(partial)).sort((a, b) => Number(a === this.report) - Number(b === this.report));
    for (const name of written) await rename(join(partial, name), join(this.path, name));
    await rm(partial, { recursive: true, force: true });
  }

  private isOwn(name: string): boolean {
    return name === this.report || /^\d{5,}\.png$/.test(name);
  }
}
