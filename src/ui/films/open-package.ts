import { messageOf, ownHeaders } from '../store/api';

/** Sends a package to the server, which makes a film of it. @returns the film's id @throws Error with what is wrong with it */
export function openPackageFile(file: File, onProgress: (share: number) => void): Promise<string> {
  return new Promise((resolve, reject) => {
    // unlike fetch it tells how far it is
    const request = new XMLHttpRequest();
    request.open('POST', '/api/packages');
    for (const [name, value] of Object.entries(ownHeaders())) request.setRequestHeader(name, value);
    request.setRequestHeader('content-type', 'application/zip');
    request.upload.onprogress = ({ loaded, total }) => onProgress(total === 0 ? 0 : loaded / total);
    request.onload = () => {
      if (request.status === 201) resolve((JSON.parse(request.responseText) as { id: string }).id);
      else reject(new Error(messageOf(request.responseText)));
    };
    request.onerror = () => reject(new Error('The package did not reach the server. Try again.'));
    request.send(file);
  });
}
