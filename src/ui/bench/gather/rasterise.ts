/**
 * Drawings (SVG, the first page of a PDF) as pictures, made by the browser: scripts do not run and links are not
 * followed in either.
 */
import type { ReadImage, ReadPicture } from '../../../workers/intake';

const LONG = 3000;

/** A picture's true size, once the browser has shown that it can be unpacked at all. */
export async function decoded(p: ReadPicture): Promise<ReadPicture> {
  try {
    const b = await createImageBitmap(new Blob([p.bytes as Uint8Array<ArrayBuffer>], { type: p.mime }));
    const size = { width: b.width, height: b.height };
    b.close();
    return { ...p, ...size };
  } catch {
    throw new Error(`${p.name} is a picture that is broken or cut short.`);
  }
}

export async function rasterise(p: ReadPicture): Promise<ReadImage> {
  const canvas = p.kind === 'pdf' ? await pdfPage(p) : await svgPicture(p);
  const blob = await new Promise<Blob | null>((r) => {
    canvas.toBlob(r, 'image/png');
  });
  if (!blob) throw new Error(`${p.name} could not be drawn.`);
  return {
    name: p.name,
    mime: 'image/png',
    bytes: new Uint8Array(await blob.arrayBuffer()),
    width: canvas.width,
    height: canvas.height,
  };
}

function canvasOf(width: number, height: number): [HTMLCanvasElement, CanvasRenderingContext2D] {
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(width));
  canvas.height = Math.max(1, Math.round(height));
  const g = canvas.getContext('2d')!;
  g.fillStyle = '#ffffff';
  g.fillRect(0, 0, canvas.width, canvas.height);
  return [canvas, g];
}

async function svgPicture(p: ReadPicture): Promise<HTMLCanvasElement> {
  // Read as XML and stripped of all that could act or reach out, then drawn as an image, which does neither.
  const text = new TextDecoder().decode(p.bytes).replace(/\son\w+\s*=\s*("[^"]*"|'[^']*')/gi, '');
  const tree = new DOMParser().parseFromString(text, 'image/svg+xml');
  const svg = tree.documentElement;
  if (tree.querySelector('parsererror') || svg.nodeName.toLowerCase() !== 'svg')
    throw new Error(`${p.name} is not an SVG that can be read.`);
  for (const e of [...tree.querySelectorAll('script, foreignObject')]) e.remove();
  for (const e of [svg, ...svg.querySelectorAll('*')])
    for (const a of [...e.attributes])
      if (
        /^on/i.test(a.name) ||
        (/href$/i.test(a.name) && !/^(#|data:image\/)/i.test(a.value)) ||
        /url\(\s*['"]?(?!#)/i.test(a.value)
      )
        e.removeAttribute(a.name);
  const box = (svg.getAttribute('viewBox') ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const w = parseFloat(svg.getAttribute('width') ?? '') || box[2] || 1000;
  const h = parseFloat(svg.getAttribute('height') ?? '') || box[3] || 1000;
  if (!(w > 0 && h > 0)) throw new Error(`${p.name} says no size.`);
  if (box.length !== 4 || !box.every(Number.isFinite)) svg.setAttribute('viewBox', `0 0 ${w} ${h}`);
  const k = LONG / Math.max(w, h);
  svg.setAttribute('width', String(Math.round(w * k)));
  svg.setAttribute('height', String(Math.round(h * k)));
  const url = URL.createObjectURL(new Blob([new XMLSerializer().serializeToString(tree)], { type: 'image/svg+xml' }));
  const image = new Image();
  try {
    await new Promise<void>((done, failed) => {
      image.onload = () => done();
      image.onerror = () => failed(new Error(`${p.name} could not be drawn.`));
      image.src = url;
    });
    const [canvas, g] = canvasOf(w * k, h * k);
    g.drawImage(image, 0, 0, canvas.width, canvas.height);
    return canvas;
  } finally {
    URL.revokeObjectURL(url);
  }
}

async function pdfPage(p: ReadPicture): Promise<HTMLCanvasElement> {
  const pdf = await import('pdfjs-dist');
  pdf.GlobalWorkerOptions.workerPort = new Worker(new URL('pdfjs-dist/build/pdf.worker.min.mjs', import.meta.url), {
    type: 'module',
  });
  try {
    const doc = await pdf
      .getDocument({ data: p.bytes.slice(), isEvalSupported: false, disableAutoFetch: true, disableStream: true })
      .promise.catch(() => {
        throw new Error(`${p.name} is not a PDF that can be read.`);
      });
    const page = await doc.getPage(1);
    const size = page.getViewport({ scale: 1 });
    const view = page.getViewport({ scale: LONG / Math.max(size.width, size.height) });
    const [canvas, g] = canvasOf(view.width, view.height);
    await page.render({ canvasContext: g, viewport: view }).promise;
    return canvas;
  } finally {
    pdf.GlobalWorkerOptions.workerPort?.terminate();
    pdf.GlobalWorkerOptions.workerPort = null;
  }
}
