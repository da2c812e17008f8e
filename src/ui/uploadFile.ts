import { SaidError } from "./said";

/**
 * Sends a file to be kept. @returns what the server saw in it
 * @throws SaidError with the way out
 */
export function uploadFile<T = { file: { id: number } }>(
  file: File,
  onProgress: (share: number) => void = () => undefined,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", "/api/files");
    request.setRequestHeader("x-file-name", encodeURIComponent(file.name));
    request.setRequestHeader("content-type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (e) => onProgress(e.total ? e.loaded / e.total : 0);
    request.onload = () => {
      // Null where the answer is no JSON.
      const answer = request.response as (T & { error?: string }) | null;
      if (request.status === 200 && answer) resolve(answer);
      else reject(new SaidError(answer?.error ?? `${file.name} was refused (${request.status}). Try again.`));
    };
    request.onerror = () =>
      reject(
        new SaidError(
          `${file.name} did not arrive: the connection broke. Check that Bravel still runs, then drop it again.`,
        ),
      );
    request.send(file);
  });
}
