/**
 * Files taken along: from one screen to the next (dropped on the shelf, brought in on the bench), and out to the
 * person.
 */
let waiting: File[] = [];

export const handOver = (files: File[]): void => {
  waiting = files;
};
export function takeOver(): File[] {
  const files = waiting;
  waiting = [];
  return files;
}

/** Gives the person a file, into their downloads. */
export function saveFile(name: string, content: Uint8Array | string, mime = 'application/octet-stream'): void {
  const url = URL.createObjectURL(new Blob([content as Uint8Array<ArrayBuffer>], { type: mime }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 30000);
}
