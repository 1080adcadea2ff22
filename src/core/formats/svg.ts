/**
 * SVG drawings as curves: paths, lines, rectangles, circles, ellipses and polygons, with the transforms above them, as
 * cubic Béziers in the plane of x and y. Scripts, outside links and pictures in it are left aside, and said.
 */
import { SVGPathData } from 'svg-pathdata';
import { curvesFrom, UNIT_CIRCLE } from '../curve/curves';
import { applyPoint, compose, IDENTITY, rotation, scaling, translation, type Affine } from '../math/affine';
import { keyOf } from '../math/hash';
import { emptyScene, FileError, flatten, safeName, type Scene } from './scene';
import { escapeXml, readXml } from './xml';

type P3 = [number, number, number];
interface Chain {
  points: P3[];
  closed: boolean;
}

/** CSS pixels, 96 to the inch, in metres. */
const PX = 0.0254 / 96;
const UNITS: Readonly<Record<string, number>> = {
  '': PX,
  px: PX,
  mm: 0.001,
  cm: 0.01,
  m: 1,
  in: 0.0254,
  pt: 0.0254 / 72,
  pc: 0.0254 / 6,
};
const MOST_POINTS = 5_000_000;

const lengthOf = (text: string | undefined): number | undefined => {
  const m = /^([-+]?[\d.]+(?:e[-+]?\d+)?)\s*(px|mm|cm|m|in|pt|pc)?$/i.exec((text ?? '').slice(0, 100).trim());
  return m ? Number(m[1]) * UNITS[(m[2] ?? '').toLowerCase()] : undefined;
};

const radians = (degrees: number | undefined): number => ((degrees ?? 0) * Math.PI) / 180;

/** The transform functions of SVG, by name. */
const TRANSFORMS: Readonly<Record<string, (n: readonly number[]) => Affine>> = {
  matrix: (n) => [n[0], n[2], 0, n[4], n[1], n[3], 0, n[5], 0, 0, 1, 0],
  translate: (n) => translation(n[0], n[1] ?? 0, 0),
  scale: (n) => scaling(n[0], n[1] ?? n[0], 1),
  rotate: ([degrees, x = 0, y = 0]) =>
    compose(translation(x, y, 0), compose(rotation('z', radians(degrees)), translation(-x, -y, 0))),
  skewX: (n) => [1, Math.tan(radians(n[0])), 0, 0, 0, 1, 0, 0, 0, 0, 1, 0],
  skewY: (n) => [1, 0, 0, 0, Math.tan(radians(n[0])), 1, 0, 0, 0, 0, 1, 0],
};

function transformOf(text: string | undefined): Affine {
  let out = IDENTITY;
  for (const [, what, list] of (text ?? '').matchAll(
    /(matrix|translate|scale|rotate|skewX|skewY)\s{0,20}\(([^()]*)\)/g,
  )) {
    const n = list
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    if (n.some((x) => !Number.isFinite(x))) continue;
    out = compose(out, TRANSFORMS[what](n));
  }
  return out;
}

const third = (a: P3, b: P3, t: number): P3 => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, 0];
const lineTo = (points: P3[], to: P3): void => {
  const from = points[points.length - 1];
  points.push(third(from, to, 1 / 3), third(from, to, 2 / 3), to);
};

function polygon(list: readonly number[], closed: boolean): Chain[] {
  if (list.length < 4) return [];
  const points: P3[] = [[list[0], list[1], 0]];
  for (let i = 2; i + 1 < list.length; i += 2) lineTo(points, [list[i], list[i + 1], 0]);
  if (closed) lineTo(points, [list[0], list[1], 0]);
  return [{ points, closed }];
}

function pathChains(d: string): Chain[] {
  const out: Chain[] = [];
  let points: P3[] = [];
  let start: P3 = [0, 0, 0];
  const end = (closed: boolean) => {
    if (points.length > 3) out.push({ points, closed });
    points = [];
  };
  for (const c of new SVGPathData(d).toAbs().normalizeHVZ(false).normalizeST().qtToC().aToC().commands) {
    if (c.type === SVGPathData.MOVE_TO) {
      end(false);
      start = [c.x, c.y, 0];
      points = [start];
      continue;
    }
    if (points.length === 0) points = [start];
    if (c.type === SVGPathData.LINE_TO) lineTo(points, [c.x, c.y, 0]);
    else if (c.type === SVGPathData.CURVE_TO) points.push([c.x1, c.y1, 0], [c.x2, c.y2, 0], [c.x, c.y, 0]);
    else if (c.type === SVGPathData.CLOSE_PATH) {
      const last = points[points.length - 1];
      if (Math.hypot(last[0] - start[0], last[1] - start[1]) > 1e-9) lineTo(points, start);
      else points[points.length - 1] = start;
      end(true);
    }
  }
  end(false);
  return out;
}

function shape(tag: string, a: Readonly<Record<string, string>>): Chain[] {
  const n = (k: string) => {
    const x = parseFloat(a[k] ?? '0');
    return Number.isFinite(x) ? x : 0;
  };
  const list = () =>
    (a.points ?? '')
      .trim()
      .split(/[\s,]+/)
      .map(Number)
      .filter(Number.isFinite);
  switch (tag) {
    case 'path':
      return pathChains(a.d ?? '');
    case 'line':
      return polygon([n('x1'), n('y1'), n('x2'), n('y2')], false);
    case 'polyline':
      return polygon(list(), false);
    case 'polygon':
      return polygon(list(), true);
    case 'rect':
      return n('width') > 0 && n('height') > 0
        ? polygon(
            [
              n('x'),
              n('y'),
              n('x') + n('width'),
              n('y'),
              n('x') + n('width'),
              n('y') + n('height'),
              n('x'),
              n('y') + n('height'),
            ],
            true,
          )
        : [];
    case 'circle':
    case 'ellipse': {
      const rx = tag === 'circle' ? n('r') : n('rx');
      const ry = tag === 'circle' ? n('r') : n('ry');
      if (!(rx > 0 && ry > 0)) return [];
      const at = UNIT_CIRCLE.map(([u, v]): P3 => [n('cx') + u * rx, n('cy') + v * ry, 0]);
      return [{ points: at, closed: true }];
    }
    default:
      return [];
  }
}

export function readSvg(bytes: Uint8Array, fileName = 'file.svg'): Scene {
  const name = safeName(fileName);
  const scene = emptyScene();
  const chains: Chain[] = [];
  if (bytes.length === 0) throw new FileError(`${name} is empty.`);
  let root = false;
  let base: Affine = scaling(PX, -PX, 1);
  let hidden = 0;
  let points = 0;
  const stack: Affine[] = [];
  const outside = new Set<string>();
  const broken: string[] = [];
  readXml(bytes, name, {
    open(tag, a) {
      if (!root) {
        if (tag !== 'svg') throw new FileError(`${name} is not an SVG.`);
        root = true;
        const box = (a.viewBox ?? '')
          .trim()
          .split(/[\s,]+/)
          .map(Number);
        const w = lengthOf(a.width);
        const h = lengthOf(a.height);
        if (box.length === 4 && box.every(Number.isFinite) && box[2] > 0 && box[3] > 0) {
          const byHeight = h !== undefined && h > 0 ? h / box[3] : undefined;
          const sx = w !== undefined && w > 0 ? w / box[2] : (byHeight ?? PX);
          const sy = byHeight ?? sx;
          base = compose(scaling(sx, -sy, 1), translation(-box[0], -box[1] - box[3], 0));
        } else if (h !== undefined) base = compose(translation(0, h, 0), base);
      }
      for (const [k, v] of Object.entries(a))
        if ((/href$/.test(k) && !v.startsWith('#') && !v.startsWith('data:')) || /^on/i.test(k))
          outside.add(/^on/i.test(k) ? 'scripts' : 'outside links');
      if (tag === 'script' || tag === 'foreignObject') outside.add('scripts');
      if (tag === 'image') outside.add('pictures');
      if (
        hidden ||
        ['defs', 'clipPath', 'mask', 'symbol', 'marker', 'pattern', 'script', 'style', 'foreignObject'].includes(tag)
      ) {
        hidden++;
        stack.push(IDENTITY);
        return;
      }
      const m = compose(stack[stack.length - 1] ?? base, transformOf(a.transform));
      stack.push(m);
      try {
        for (const c of shape(tag, a)) {
          points += c.points.length;
          if (points > MOST_POINTS)
            throw new FileError(`${name} has more than ${MOST_POINTS.toLocaleString('en')} points.`);
          if (c.points.every((p) => Number.isFinite(p[0]) && Number.isFinite(p[1])))
            chains.push({ points: c.points.map((p) => applyPoint(m, p)), closed: c.closed });
        }
      } catch (e) {
        if (e instanceof FileError) throw e;
        broken.push(a.id ?? tag);
      }
    },
    close() {
      stack.pop();
      if (hidden) hidden--;
    },
  });
  if (!root) throw new FileError(`${name} is not an SVG.`);
  if (outside.size) scene.warnings.push(`${name} holds ${[...outside].join(' and ')}; they were left aside.`);
  if (broken.length)
    scene.warnings.push(
      `${name}: ${broken.length} ${broken.length === 1 ? 'path' : 'paths'} could not be read ` +
        `(${broken.slice(0, 3).join(', ')}). Skipped.`,
    );
  if (chains.length === 0) throw new FileError(`${name} holds no paths.`);
  scene.pieces.push({
    name: name.replace(/\.svg$/i, '') || 'drawing',
    parent: -1,
    curves: curvesFrom(chains, keyOf(name)),
  });
  scene.scale = { unit: 1, up: 'y' };
  return scene;
}

/** Writes the curves of a scene, seen along z, as SVG in millimetres. Outlines of faces are not drawn. */
export function writeSvg(input: Scene): Uint8Array {
  const curves = flatten(input).pieces.flatMap((p) => (p.curves ? [{ name: p.name, c: p.curves }] : []));
  if (curves.length === 0) throw new FileError('There are no curves to write into an SVG.');
  let x0 = Infinity;
  let y0 = Infinity;
  let x1 = -Infinity;
  let y1 = -Infinity;
  for (const { c } of curves)
    for (let i = 0; i < c.points.length; i += 3) {
      x0 = Math.min(x0, c.points[i]);
      x1 = Math.max(x1, c.points[i]);
      y0 = Math.min(y0, c.points[i + 1]);
      y1 = Math.max(y1, c.points[i + 1]);
    }
  const n = (x: number) => String(Math.round(x * 1e9) / 1e6);
  const w = Math.max(x1 - x0, 1e-6);
  const h = Math.max(y1 - y0, 1e-6);
  const out = [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${n(w)}mm" height="${n(h)}mm" viewBox="${n(x0)} ${n(-y1)} ` +
      `${n(w)} ${n(h)}" fill="none" stroke="black" stroke-width="0.2">`,
  ];
  for (const { name, c } of curves)
    for (let i = 0; i < c.closed.length; i++) {
      const at = (k: number) => `${n(c.points[3 * k])} ${n(-c.points[3 * k + 1])}`;
      let d = `M${at(c.start[i])}`;
      for (let k = c.start[i]; k + 3 < c.start[i + 1]; k += 3) d += `C${at(k + 1)} ${at(k + 2)} ${at(k + 3)}`;
      out.push(`<path id="${escapeXml(name)}-${i + 1}" d="${d}${c.closed[i] ? 'Z' : ''}"/>`);
    }
  out.push('</svg>');
  return new TextEncoder().encode(out.join('\n'));
}
