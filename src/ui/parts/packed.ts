import { Zip, ZipPassThrough } from 'fflate';

/** The files in one zip, as they are. @throws when one cannot be read. */
export async function packed(files: readonly File[]): Promise<Blob> {
  const parts: BlobPart[] = [];
  const zip = new Zip((error, chunk) => {
    if (error !== null) throw error;
    parts.push(chunk);
  });
  for (const file of files) {
    const entry = new ZipPassThrough(file.name);
    zip.add(entry);
    entry.push(new Uint8Array(await file.arrayBuffer()), true);
  }
  zip.end();
  return new Blob(parts);
}
