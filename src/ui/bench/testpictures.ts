/** Pictures to judge a layout by: which way is up, how large, where on the sheet. Drawn once, upon being asked for. */

const CELLS = 16;
const SIZE = 1024;
const made = new Map<string, HTMLCanvasElement>();

function drawn(name: string, cell: (g: CanvasRenderingContext2D, x: number, y: number, s: number) => void) {
  const had = made.get(name);
  if (had) return had;
  const s = SIZE / CELLS;
  const c = document.createElement('canvas');
  c.width = c.height = SIZE;
  const g = c.getContext('2d')!;
  for (let y = 0; y < CELLS; y++)
    for (let x = 0; x < CELLS; x++) {
      g.fillStyle = (x + y) % 2 === 0 ? '#8fa58d' : '#f3ead6';
      g.fillRect(x * s, y * s, s, s);
      cell(g, x, y, s);
    }
  made.set(name, c);
  return c;
}

/**
 * Paper and moss cells, each with a small wedge that points up, a number at every eighth. 16 × 16 cells to the sheet.
 */
export const checkerCanvas = (): HTMLCanvasElement =>
  drawn('checker', (g, x, y, s) => {
    g.fillStyle = (x + y) % 2 === 0 ? '#a9bba6' : '#ddd2b8';
    g.beginPath();
    g.moveTo(x * s + s / 2, y * s + s * 0.25);
    g.lineTo(x * s + s * 0.68, y * s + s * 0.72);
    g.lineTo(x * s + s * 0.32, y * s + s * 0.72);
    g.fill();
    if (x % 8 !== 0 || y % 8 !== 0) return;
    g.fillStyle = '#3c4a3b';
    g.font = `600 ${s * 0.36}px sans-serif`;
    g.fillText(String(x / 8 + 2 * (1 - y / 8) + 1), x * s + 4, y * s + s * 0.36);
  });

/** The same cells by name: a letter for the row, from the lowest up, and a number for the column. */
export const lettersCanvas = (): HTMLCanvasElement =>
  drawn('letters', (g, x, y, s) => {
    g.fillStyle = '#3c4a3b';
    g.font = `600 ${s * 0.4}px sans-serif`;
    g.textAlign = 'center';
    g.textBaseline = 'middle';
    g.fillText(`${String.fromCharCode(65 + CELLS - 1 - y)}${x + 1}`, (x + 0.5) * s, (y + 0.5) * s);
  });
