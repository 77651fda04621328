import { CustomSource } from 'mediabunny';

/**
 * A file of the server, read in pieces that each come whole. A browser opens few connections to one server: an answer that is left
 * half read would keep one of them from everything else.
 */
export function rangedFile(url: string): CustomSource {
  const piece = async (start: number, end: number): Promise<Response> => {
    const answer = await fetch(url, { headers: { Range: `bytes=${start}-${end - 1}` } });
    if (answer.status !== 206) throw new Error('its file could not be fetched from the server');
    return answer;
  };
  return new CustomSource({
    getSize: async () => {
      const answer = await piece(0, 1);
      await answer.arrayBuffer();
      return Number(answer.headers.get('content-range')?.split('/')[1]);
    },
    read: async (start, end) => new Uint8Array(await (await piece(start, end)).arrayBuffer()),
    prefetchProfile: 'network',
  });
}
