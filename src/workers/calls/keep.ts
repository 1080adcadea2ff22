import { defineCall } from './define';

/** A file that the page has just stored: it need not be fetched. */
export const keep = defineCall((host, { sha, bytes }: { sha: string; bytes: Uint8Array }): void => {
  host.blobs.keep(sha, bytes);
});
