/**
 * The files that a model names. Lines are cut up by hand: patterns with two hungry parts beside each other take the
 * square of a line's length, and lines from outside may be as long as the file.
 */

/** The lines that begin with one of these words, and what stands after it. */
function* after(text: string, word: (w: string) => boolean): Generator<string> {
  for (const line of text.split(/[\r\n]/)) {
    const trimmed = line.trim();
    const at = trimmed.search(/\s/);
    if (at > 0 && word(trimmed.slice(0, at))) yield trimmed.slice(at).trim();
  }
}

/** The material libraries that an OBJ names. */
export const librariesOf = (obj: string): string[] => [...after(obj, (w) => w === 'mtllib')];

/** The pictures that an MTL names. */
export const picturesOf = (mtl: string): string[] =>
  [...after(mtl, (w) => /^(?:map_\w{1,20}|bump|norm|disp)$/i.test(w))].map(withoutOptions);

/** Options like "-bm 0.3" stand before the name; the name itself may hold spaces. */
export function withoutOptions(rest: string): string {
  const parts = rest.split(/\s+/);
  let i = 0;
  while (i < parts.length - 1 && /^-[a-z]\w*$/i.test(parts[i])) {
    i++;
    while (i < parts.length - 1 && /^[-\d.]+$/.test(parts[i])) i++;
  }
  if (i === 0) return rest;
  // Where the name begins in the text as it was, so that spaces in it stay.
  let at = 0;
  for (let k = 0; k < i; k++) {
    at = rest.indexOf(parts[k], at) + parts[k].length;
    while (at < rest.length && /\s/.test(rest[at])) at++;
  }
  return rest.slice(at);
}

/** The addresses in a glTF that are files beside it. */
export function addressesOf(gltf: string): string[] {
  const out: string[] = [];
  for (const m of gltf.matchAll(/"uri"\s{0,100}:\s{0,100}"([^"\\\n]{1,2000})"/g)) {
    if (/^[a-z][a-z0-9+.-]{0,40}:/i.test(m[1])) continue;
    try {
      out.push(decodeURIComponent(m[1]));
    } catch {
      out.push(m[1]);
    }
  }
  return out;
}
