/** A file that cannot be read at all. Its message is one sentence for the person. */
export class FileError extends Error {}
