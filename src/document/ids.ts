let counter = 0;
/** A short id, unique within any document. */
export function newId(): string {
  const random = globalThis.crypto.getRandomValues(new Uint32Array(2));
  return random[0].toString(36) + (random[1] & 0xfff).toString(36) + (counter++ & 0x3ff).toString(36);
}
