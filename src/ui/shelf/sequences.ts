import { packed } from '../parts/packed';

/** Pictures that are numbered through, found among files that come in together. */
export interface Sequence {
  /** What they are called without their numbers. */
  readonly name: string;
  readonly files: readonly File[];
}

/** Fewer numbered pictures are taken for stills. */
const LEAST = 4;
const NUMBERED = /^(.*?)(\d+)\.(png|jpe?g|webp|tiff?)$/i;

/** Parts files into sequences, whose numbers follow each other, and the rest. */
export function partSequences(files: readonly File[]): { readonly sequences: readonly Sequence[]; readonly rest: readonly File[] } {
  const groups = new Map<string, { readonly number: number; readonly file: File }[]>();
  for (const file of files) {
    const [, stem, digits, ending] = NUMBERED.exec(file.name) ?? [];
    if (digits === undefined) continue;
    const key = `${stem}\n${ending!.toLowerCase()}`;
    groups.set(key, [...(groups.get(key) ?? []), { number: Number(digits), file }]);
  }
  const sequences: Sequence[] = [];
  for (const [key, group] of groups) {
    group.sort((a, b) => a.number - b.number);
    const follows = group.every(({ number }, i) => i === 0 || number === group[i - 1]!.number + 1);
    if (group.length < LEAST || !follows) continue;
    sequences.push({ name: key.split('\n')[0]!.replace(/[._\s-]+$/, '') || 'Sequence', files: group.map((g) => g.file) });
  }
  const taken = new Set(sequences.flatMap((s) => s.files));
  return { sequences, rest: files.filter((f) => !taken.has(f)) };
}

/** A sequence as one file, its pictures as they are. @throws when one cannot be read. */
export const zipOf = async ({ name, files }: Sequence): Promise<File> => new File([await packed(files)], `${name}.zip`);
