/** What a view shows, as a picture, without the page having to wait for the graphics card. */

/** How often it is asked whether the drawing is done, ms. */
const ASK = 30;

/**
 * The pixels of what was drawn last in this task, 4 numbers each, rows from below, colours by their alpha; null where
 * the context was lost before they came.
 */
async function pixelsOf(gl: WebGL2RenderingContext, width: number, height: number): Promise<Uint8Array | null> {
  const buffer = gl.createBuffer();
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, buffer);
  gl.bufferData(gl.PIXEL_PACK_BUFFER, 4 * width * height, gl.STREAM_READ);
  gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, 0);
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
  const sync = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
  gl.flush();
  if (!sync) return null;
  while (!gl.isContextLost() && gl.clientWaitSync(sync, 0, 0) === gl.TIMEOUT_EXPIRED)
    await new Promise((later) => setTimeout(later, ASK));
  gl.deleteSync(sync);
  if (gl.isContextLost()) return null;
  const out = new Uint8Array(4 * width * height);
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, buffer);
  gl.getBufferSubData(gl.PIXEL_PACK_BUFFER, 0, out);
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null);
  gl.deleteBuffer(buffer);
  return out;
}

/** `size`: the drawing's width and height; `wide`: the picture's. To be asked in the task that drew it. */
export async function pictureOf(
  gl: WebGL2RenderingContext,
  size: readonly [number, number],
  wide: number,
): Promise<string | null> {
  const [width, height] = size;
  const read = await pixelsOf(gl, width, height);
  if (!read) return null;
  const rows = new ImageData(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const from = 4 * ((height - 1 - y) * width + x);
      const to = 4 * (y * width + x);
      const alpha = read[from + 3];
      for (let k = 0; k < 3; k++) rows.data[to + k] = alpha > 0 ? (255 * read[from + k]) / alpha : 0;
      rows.data[to + 3] = alpha;
    }
  const canvas = (w: number, h: number): [HTMLCanvasElement, CanvasRenderingContext2D | null] => {
    const made = document.createElement('canvas');
    made.width = w;
    made.height = h;
    // Kept where it can be read: what is with the graphics card would have to be waited for once more.
    return [made, made.getContext('2d', { willReadFrequently: true })];
  };
  const [whole, onWhole] = canvas(width, height);
  const [small, onSmall] = canvas(wide, Math.max(1, Math.round((wide * height) / width)));
  if (!onWhole || !onSmall) return null;
  onWhole.putImageData(rows, 0, 0);
  onSmall.drawImage(whole, 0, 0, small.width, small.height);
  return small.toDataURL('image/webp', 0.7);
}
