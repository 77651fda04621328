import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import type { Server } from '../screens/server';

interface Medium {
  readonly id: string;
  readonly name: string;
  readonly status: string;
  readonly error: string | null;
}

const PROTOCOL = { 'tus-resumable': '1.0.0' };

/** A file on its way to a film, part by part, by the plain requests of the protocol. */
export class UploadedPart {
  private readonly server: Server;
  private readonly filmId: string;
  private readonly name: string;
  private readonly bytes: Buffer;
  private place = '';

  constructor(server: Server, filmId: string, path: string) {
    this.server = server;
    this.filmId = filmId;
    this.name = basename(path);
    this.bytes = readFileSync(path);
  }

  private get own(): Record<string, string> {
    return { ...PROTOCOL, origin: this.server.url };
  }

  async begin(): Promise<void> {
    const ask = (): Promise<Response> =>
      fetch(`${this.server.url}/api/films/${this.filmId}/uploads`, {
        method: 'POST',
        headers: {
          ...this.own,
          'upload-length': String(this.bytes.length),
          'upload-metadata': `filename ${Buffer.from(this.name).toString('base64')}`,
        },
      });
    // a connection that was kept open may be closed by the server just then
    const answer = await ask().catch(ask);
    if (answer.status !== 201) throw new Error(`not begun: ${answer.status} ${await answer.text()}`);
    this.place = answer.headers.get('location')!;
  }

  /** Bytes that the server has. */
  async arrived(): Promise<number> {
    const answer = await fetch(`${this.server.url}${this.place}`, { method: 'HEAD', headers: PROTOCOL });
    return Number(answer.headers.get('upload-offset'));
  }

  /** Sends on up to a share of the file. */
  async send(share: number): Promise<void> {
    const offset = await this.arrived();
    const answer = await fetch(`${this.server.url}${this.place}`, {
      method: 'PATCH',
      headers: { ...this.own, 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' },
      body: new Uint8Array(this.bytes.subarray(offset, Math.ceil(share * this.bytes.length))),
    });
    if (answer.status !== 204) throw new Error(`not taken: ${answer.status} ${await answer.text()}`);
  }

  async shelf(): Promise<Medium[]> {
    return (await (await fetch(`${this.server.url}/api/films/${this.filmId}/media`)).json()) as Medium[];
  }
}

/** Sends a whole file. */
export async function sendFile(server: Server, filmId: string, path: string): Promise<void> {
  const part = new UploadedPart(server, filmId, path);
  await part.begin();
  await part.send(1);
}
