/** Texts from outside: made fit to be kept, and what is said of a file that cannot be read. */
import { FileError } from './fileError';

export const MOST_NAME = 200;

/** Control characters but tab and new lines. */
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g;
const HALVES = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** Whether a database and every format take it: no NUL, no other control characters, no halves of surrogate pairs. */
export const isClean = (text: string): boolean => text.search(CONTROL) < 0 && text.search(HALVES) < 0;

export const cleanText = (text: string): string => text.replace(CONTROL, '').replace(HALVES, '\ufffd');

/** A name that can be kept: clean, not empty, of at most 200 letters. */
export function cleanName(name: string, otherwise = 'unnamed'): string {
  // Cut before it is looked through: a name may be as long as the file.
  const clean = cleanText(name.slice(0, 4 * MOST_NAME))
    .replace(/\s+/g, ' ')
    .trim();
  if (clean.length <= MOST_NAME) return clean || otherwise;
  return cleanText(clean.slice(0, MOST_NAME))
    .trim()
    .replace(/\ufffd$/, '');
}

/**
 * One sentence for whatever went wrong while a file was read. What we say ourselves stays; what the engine or a library
 * says is not for people.
 */
export function readingError(e: unknown, name: string): FileError {
  if (e instanceof FileError) return new FileError(cleanText(e.message).slice(0, 400));
  const about = cleanName(name, 'The file');
  const said = e instanceof Error ? e.message : '';
  if (e instanceof RangeError && !/call stack/i.test(said))
    return new FileError(`${about} asks for more memory than there is.`);
  if (e instanceof RangeError) return new FileError(`${about} is nested deeper than can be followed.`);
  return new FileError(`${about} is damaged and cannot be read.`);
}
