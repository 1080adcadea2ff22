/**
 * The drawing of a heavy layout is kept between renders. It is made a slice at a time, so that nothing else waits for
 * it; until it is there, what there was is shown, stretched to where it would be.
 */

/** Where the first sheet stands, in pixels of the frame. */
export interface SheetSquare {
  x: number;
  y: number;
  side: number;
}

interface Frame {
  size: { w: number; h: number };
  square: SheetSquare;
  dpr: number;
}

interface Made extends Frame {
  key: readonly unknown[];
  canvas: HTMLCanvasElement;
}

/** So long it is drawn on before the page has its turn, ms. */
const SLICE = 8;
/** So long nothing moves before it is drawn sharply again, ms. */
const REST = 90;

export class KeptDrawing {
  private made: Made | undefined;
  private making: Made | undefined;
  private waiting: ReturnType<typeof setTimeout> | undefined;

  /** `done` is called when there is something new to be shown. */
  constructor(
    private readonly done: () => void,
    private readonly blank = blankCanvas,
  ) {}

  /** `key`: all that the drawing depends on but for where it is seen. */
  show(
    g: CanvasRenderingContext2D,
    key: readonly unknown[],
    frame: Frame,
    paint: (on: CanvasRenderingContext2D) => Iterator<void>,
  ): void {
    const { made } = this;
    if (made) {
      const { x, y, w, h } = stretched(made, frame.square);
      g.drawImage(made.canvas, x, y, w, h);
    }
    const sameKey = made !== undefined && key.every((k, i) => k === made.key[i]);
    // What is being made is finished first: something new that comes again and again would never be seen.
    if ((made && sameKey && alike(made, frame)) || this.making) return;
    clearTimeout(this.waiting);
    // What is zoomed or moved goes on to be, as a rule.
    this.waiting = setTimeout(() => this.begin(key, frame, paint), sameKey ? REST : 0);
  }

  end(): void {
    clearTimeout(this.waiting);
    this.making = undefined;
  }

  private begin(key: readonly unknown[], frame: Frame, paint: (on: CanvasRenderingContext2D) => Iterator<void>): void {
    const canvas = this.blank(frame.size.w * frame.dpr, frame.size.h * frame.dpr);
    const on = canvas.getContext('2d');
    if (!on) return;
    on.setTransform(frame.dpr, 0, 0, frame.dpr, 0, 0);
    const own: Made = { ...frame, key, canvas };
    this.making = own;
    const steps = paint(on);
    const go = (): void => {
      if (this.making !== own) return;
      for (const end = performance.now() + SLICE; performance.now() < end;)
        if (steps.next().done) {
          this.made = own;
          this.making = undefined;
          this.done();
          return;
        }
      setTimeout(go, 0);
    };
    go();
  }
}

function blankCanvas(width: number, height: number): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  canvas.width = width;
  canvas.height = height;
  return canvas;
}

const alike = (a: Frame, b: Frame): boolean =>
  a.dpr === b.dpr &&
  a.size.w === b.size.w &&
  a.size.h === b.size.h &&
  a.square.x === b.square.x &&
  a.square.y === b.square.y &&
  a.square.side === b.square.side;

/** Where a drawing of one square is to be put to be one of another. */
export function stretched(made: Frame, to: SheetSquare): { x: number; y: number; w: number; h: number } {
  const by = to.side / made.square.side;
  return {
    x: to.x - by * made.square.x,
    y: to.y - by * made.square.y,
    w: by * made.size.w,
    h: by * made.size.h,
  };
}
