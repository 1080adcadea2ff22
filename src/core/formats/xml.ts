/**
 * XML as it streams by, through saxes. Documents that declare entities of their own are refused: none of our formats
 * needs them.
 */
import { SaxesParser } from 'saxes';
import { FileError } from './scene';

const DEEPEST = 500;

export interface XmlEvents {
  open(tag: string, attributes: Readonly<Record<string, string>>): void;
  close?(tag: string): void;
  text?(text: string): void;
}

/** `bytes` may come in pieces. */
export function readXml(bytes: Uint8Array | readonly Uint8Array[], name: string, on: XmlEvents): void {
  const parser = new SaxesParser({ xmlns: false, position: false });
  const decoder = new TextDecoder();
  const local = (tag: string) => tag.slice(tag.indexOf(':') + 1);
  parser.on('doctype', (d) => {
    if (/<!ENTITY/i.test(d)) throw new FileError(`${name} declares entities of its own, which are not followed.`);
  });
  let depth = 0;
  parser.on('opentag', (t) => {
    last = t.name;
    if (++depth > DEEPEST) throw new FileError(`${name} is nested deeper than can be followed.`);
    on.open(local(t.name), t.attributes as Record<string, string>);
  });
  parser.on('closetag', (t) => {
    depth--;
    on.close?.(local(t.name));
  });
  if (on.text) parser.on('text', on.text);
  let last = '';
  parser.on('error', () => {
    const after = last ? `, after <${last.slice(0, 40)}>` : '';
    throw new FileError(`${name} cannot be read: its text is broken or cut short${after}.`);
  });
  for (const part of bytes instanceof Uint8Array ? [bytes] : bytes)
    for (let at = 0; at < part.length; at += 1 << 18)
      parser.write(decoder.decode(part.subarray(at, at + (1 << 18)), { stream: true }));
  parser.write(decoder.decode());
  parser.close();
}

export const escapeXml = (s: string): string =>
  s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`).replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '');
