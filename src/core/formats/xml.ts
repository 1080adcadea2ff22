/** XML as it streams by, through saxes. Documents that declare entities of their own are refused: none of our formats needs them. */
import { SaxesParser } from 'saxes';
import { FileError } from './scene';

export interface XmlEvents {
  open(tag: string, attributes: Readonly<Record<string, string>>): void;
  close?(tag: string): void;
  text?(text: string): void;
}

export function readXml(bytes: Uint8Array, name: string, on: XmlEvents): void {
  const parser = new SaxesParser({ xmlns: false, position: false });
  const decoder = new TextDecoder();
  const local = (tag: string) => tag.slice(tag.indexOf(':') + 1);
  parser.on('doctype', (d) => {
    if (/<!ENTITY/i.test(d)) throw new FileError(`${name} declares entities of its own, which are not followed.`);
  });
  parser.on('opentag', (t) => on.open(local(t.name), t.attributes as Record<string, string>));
  if (on.close) parser.on('closetag', (t) => on.close!(local(t.name)));
  if (on.text) parser.on('text', on.text);
  parser.on('error', (e) => {
    throw new FileError(`${name} cannot be read: ${e.message.replace(/^\d+:\d+:\s*/, '').replace(/\.$/, '')}.`);
  });
  for (let at = 0; at < bytes.length; at += 1 << 18)
    parser.write(decoder.decode(bytes.subarray(at, at + (1 << 18)), { stream: true }));
  parser.write(decoder.decode());
  parser.close();
}

export const escapeXml = (s: string): string =>
  s.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`).replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '');
