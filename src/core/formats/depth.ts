/**
 * Whether JSON is nested deeper than anything of ours, told without reading it: readers and checks go down by calling
 * themselves.
 */
const MOST = 120;

export function tooDeep(json: Uint8Array, most = MOST): boolean {
  let depth = 0;
  let inText = false;
  for (let i = 0; i < json.length; i++) {
    const c = json[i];
    if (inText) {
      if (c === 0x5c) i++;
      else if (c === 0x22) inText = false;
    } else if (c === 0x22) inText = true;
    else if (c === 0x5b || c === 0x7b) {
      if (++depth > most) return true;
    } else if (c === 0x5d || c === 0x7d) depth--;
  }
  return false;
}
