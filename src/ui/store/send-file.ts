import { DetailedError, Upload } from 'tus-js-client';
import { KNOWN_HEADER, MEDIUM_HEADER } from '../../core/film/arrival';
import { messageOf, ownHeaders } from './api';

/** What has become of a file: a medium of the film, or nothing, since the film has the same file as `knownId`. */
export interface ArrivedFile {
  readonly mediumId: string | null;
  readonly knownId: string | null;
}

/** A file on its way to the server. */
export interface FileOnItsWay {
  /** Rejects with a sentence for the user. */
  readonly done: Promise<ArrivedFile>;
  /** Stops it, and throws away what has arrived. */
  stop(): void;
}

/** A part of a file: small enough to arrive before a request is given up, also over a slow line. */
const PART_BYTES = 32 * 2 ** 20;
/** Waits between tries while the server does not answer; five minutes in all. */
const RETRIES_MS = [500, 1000, 2000, 5000, 10_000, 20_000, ...Array.from({ length: 9 }, () => 30_000)];

/**
 * Sends a file to a film in parts, with what the server has to know of it. An interrupted one goes on where it was, by itself or when
 * the same file is sent again.
 */
export function receiveFile(
  filmId: string,
  file: Blob,
  name: string,
  facts: Readonly<Record<string, string>>,
  onProgress: (fraction: number) => void = () => undefined,
): FileOnItsWay {
  let stop = (): void => undefined;
  const done = new Promise<ArrivedFile>((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: `/api/films/${filmId}/uploads`,
      headers: ownHeaders(),
      metadata: { filename: name, ...facts },
      chunkSize: PART_BYTES,
      retryDelays: RETRIES_MS,
      removeFingerprintOnSuccess: true,
      onProgress: (sent, all) => onProgress(all > 0 ? sent / all : 0),
      onSuccess: ({ lastResponse }) =>
        resolve({ mediumId: lastResponse.getHeader(MEDIUM_HEADER) ?? null, knownId: lastResponse.getHeader(KNOWN_HEADER) ?? null }),
      onError: (error) => reject(new Error(sentenceOf(error))),
      onShouldRetry: (error) => {
        void isReadable(file).then((can) => {
          if (can) return;
          stop();
          reject(new Error('The file cannot be read any more: it was moved, changed or deleted on the way.'));
        });
        return mayPass(error);
      },
    });
    stop = () => {
      upload.abort(true).catch(() => undefined); // a server out of reach throws it away by itself in time
    };
    const begin = async (): Promise<void> => {
      const [earlier] = file instanceof File ? await upload.findPreviousUploads() : [];
      if (earlier !== undefined) upload.resumeFromPreviousUpload(earlier);
      upload.start();
    };
    begin().catch(reject);
  });
  return { done, stop: () => stop() };
}

/** Whether a failed request can succeed later: the server was out of reach, busy with the same file, or in trouble itself. */
function mayPass(error: DetailedError): boolean {
  const status = error.originalResponse?.getStatus() ?? 0;
  return status < 400 || status >= 500 || status === 409 || status === 423;
}

/** A chosen file is only a way to what lies on the disk, which may be gone or another by now. */
const isReadable = (file: Blob): Promise<boolean> =>
  file
    .slice(0, 1)
    .arrayBuffer()
    .then(
      () => true,
      () => false,
    );

function sentenceOf(error: Error | DetailedError): string {
  const answer = error instanceof DetailedError ? error.originalResponse : null;
  return answer === null ? 'The connection was lost on the way. Import it again to go on where it was.' : messageOf(answer.getBody());
}
