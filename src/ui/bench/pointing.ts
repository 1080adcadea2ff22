/**
 * Tools that are worked by clicking points: one small machine each, with a title for the line over the strip, how many
 * points it takes, and what it does with them. The view only collects points; it knows none of the tools.
 */
import {
  crossCheck,
  levelBy,
  nextStation,
  scaleBy,
  sharedAxis,
  toPlane,
  type Blueprint,
  type Point,
} from '../../core/blueprint/blueprint';
import { fitCircle, fitEllipse } from '../../core/blueprint/fit';
import { edgeKeys } from '../../core/mesh/picks';
import { angleAt, circleThrough, distance } from '../../core/mesh/span';
import type { SurfacePlace } from '../../core/mesh/surfaceplace';
import { formatQuantity, parseQuantity } from '../../core/recipe/quantity';
import { toolDef } from '../../core/tools';
import * as changes from '../../document/changes';
import type { Anchor, Tape } from '../../document/types';
import { session } from './session';
import { beginMove, giveHand, keep, lastMove } from './actions/hand';
import { setMode } from './actions/pick';
import { askPick } from './actions/query';
import { addPiece } from './actions/recipe';
import { cutTraced } from './actions/seams';
import { viewer as ways } from './view/ways';
import { bench, handOf, say, type Pointed } from './store';

export interface PointTool {
  id: string;
  title: string;
  /** What the next click should be; `n` points are there already. */
  hint(n: number): string;
  /** Points it needs at least, and takes at most. */
  least: number;
  most: number;
  /** Points lie on a blueprint's picture, or on the model. */
  on: 'model' | 'blueprint';
  /** A drag sets point after point, and its end is the last. */
  drags?: true;
  /** A quantity is asked for after the last point. */
  asks?: { label: string; kind: 'length' };
  done(points: readonly Pointed[], on: string | null, asked?: number): void;
  /** What it would come to with these points, while the pointer moves; with none it was put down. */
  live?(points: readonly Pointed[]): void;
}

const units = () => bench.get().document?.units ?? 'mm';
const show = (metres: number): string => formatQuantity(metres, 'length', units());

const sheet = (id: string | null): Blueprint | undefined =>
  bench.get().document?.pieces.find((p) => p.id === id)?.blueprint;
const editSheet = (label: string, id: string, edit: (b: Blueprint) => void): void =>
  session.change(label, (d) => {
    const b = changes.pieceOf(d, id).blueprint;
    if (b) edit(b);
  });
const pixels = (points: readonly Pointed[]): Point[] => points.map((p) => p.pixel ?? [0, 0]);

const pin =
  (kind: Tape['kind']) =>
  (points: readonly Pointed[]): void => {
    void pinTape(kind, points);
  };

/** Ties the ends to what they were snapped to, so that the measure follows the model. */
async function pinTape(kind: Tape['kind'], points: readonly Pointed[]): Promise<void> {
  const s = bench.get();
  const ends = await Promise.all(
    points.map(async (p): Promise<Anchor> => {
      const piece = s.document?.pieces.find((x) => x.id === p.piece);
      const own = piece ? changes.toOwn(s.document!, piece.id, p.at) : p.at;
      if (!piece || p.kind === 'free' || p.kind === 'pivot' || !session.crew)
        return {
          piece: piece?.id ?? null,
          kind: p.kind === 'pivot' && piece ? 'pivot' : 'free',
          key: 0,
          t: 0,
          at: own,
        };
      try {
        const r = await session.crew.ask('anchor', { piece: piece.link ?? piece.id, kind: p.kind, at: own });
        // A point inside a face is no element: the nearest is only taken where it is the point itself.
        if (distance(r.at, own) < 1e-6 * Math.max(1, Math.hypot(...own)) + 1e-7)
          return { piece: piece.id, kind: p.kind, key: r.key, t: r.t, at: own, spots: r.spots };
      } catch {
        /* then it stays where it is in the piece */
      }
      return { piece: piece.id, kind: 'free', key: 0, t: 0, at: own };
    }),
  );
  session.change('pin a measure', (d) => changes.addTape(d, { id: changes.newId(), kind, ends }));
}

/** The size of the last circle or ellipse laid down, offered for the next click. */
let lastRound: { a: number; b: number; turn: number } | null = null;
export const offeredRound = (): typeof lastRound => lastRound;

type Round = { u: number; v: number; a: number; b: number; turn: number; off: number };

/** Lays what fits the clicked points on their sheet. */
const fitted =
  (what: string, fit: (on: readonly Point[]) => Round | undefined) =>
  (points: readonly Pointed[], id: string | null): void => {
    const b = sheet(id);
    const round = b && fit(pixels(points).map((p) => toPlane(b, p)));
    if (round && id) layRound(id, round);
    else say(`Those points lie on no ${what}.`);
  };

function layRound(id: string, { off, ...r }: Round): void {
  lastRound = { a: r.a, b: r.b, turn: r.turn };
  editSheet(Math.abs(r.a - r.b) < 1e-9 ? 'fit a circle' : 'fit an ellipse', id, (b) => {
    b.rounds.push({ id: changes.newId(), u: r.u, v: r.v, a: r.a, b: r.b, turn: r.turn });
  });
  say(
    `${Math.abs(r.a - r.b) < 1e-9 ? `A circle of ${show(2 * r.a)} diameter` : `An ellipse of ${show(2 * r.a)} × ${show(2 * r.b)}`}${off > 1e-9 ? `; the points are off it by ${show(off)} (root mean square)` : ''}.`,
  );
}

/** Marks sections on a blueprint, one a click, until ended. */
const station = (id: string, title: string, along: 'u' | 'v'): PointTool => ({
  id,
  title,
  hint: () => 'Click where a section belongs; Enter ends.',
  least: 1,
  most: 1,
  on: 'blueprint',
  done: ([p], sheetId) => {
    if (!sheetId || !p.uv) return;
    const at = p.uv[along === 'u' ? 0 : 1];
    editSheet('mark a station', sheetId, (b) => {
      b.stations.push({ id: changes.newId(), name: nextStation(b.stations), along, at });
    });
    begin(id, sheetId);
  },
});

/** What was clicked as places of the piece that is worked on: on its own surface by key, elsewhere where that is. */
async function placesOf(points: readonly Pointed[], free: boolean): Promise<SurfacePlace[]> {
  const { document, piece } = bench.get();
  if (!document || piece === null || !session.crew) return [];
  const own = points.map((p) => changes.toOwn(document, piece, p.at));
  const asked = points.map((p, i) => ({
    at: own[i],
    on: p.piece === piece && (p.kind === 'vertex' || p.kind === 'edge') ? p.kind : ('any' as const),
  }));
  const found = await session.crew.ask('places', { points: asked });
  return points.flatMap((p, i): SurfacePlace[] => {
    if (free && (p.piece !== piece || p.kind !== 'vertex')) return [{ on: 'free', key: 0, at: own[i] }];
    return found[i] ? [found[i]] : [];
  });
}

const samePlace = (a: SurfacePlace, b: SurfacePlace): boolean =>
  a.on === b.on && a.key === b.key && distance([...a.at], [...b.at]) < 1e-9 + 1e-6 * Math.hypot(...a.at);

async function cutAlong(points: readonly Pointed[]): Promise<void> {
  const line = await placesOf(points, false);
  const closed = line.length > 3 && samePlace(line[0], line[line.length - 1]);
  if (beginMove('free-cut', { line: closed ? line.slice(0, -1) : line, closed })) keep();
}

async function drawThrough(points: readonly Pointed[]): Promise<void> {
  const { document, piece } = bench.get();
  if (!document || piece === null) return;
  const eye = changes.toOwn(document, piece, ways.eye());
  const outline = await placesOf(points, true);
  const [nx, ny, nz] = [0, 1, 2].map((k) => eye[k] - outline.reduce((n, x) => n + x.at[k] / outline.length, 0));
  if (beginMove('draw-face', { outline, nx, ny, nz })) keep();
  begin('draw-face');
}

/** A piece of its own: a curve through what was clicked, in the group of what was worked on. */
function layLine(points: readonly Pointed[]): void {
  const { document, piece } = bench.get();
  const beside = document?.pieces.find((p) => p.id === piece);
  const group = beside?.kind === 'group' ? beside.id : beside?.parent;
  const all = points.map((p) => (document && group ? changes.toOwn(document, group, p.at) : ([...p.at] as const)));
  const closed = all.length > 3 && distance([...all[0]], [...all[all.length - 1]]) < 1e-9;
  addPiece('line', { points: closed ? all.slice(0, -1) : all, closed });
}

/** As wide as the last one; to begin with as many pixels. */
const STRIP_WIDE = 36;
let stripWidth = 0;
/** What a stroke passed over beside the pieces is not meant, where it passed over any. */
const onPieces = (points: readonly Pointed[]): readonly Pointed[] => {
  const on = points.filter((p) => p.piece !== null);
  return on.length > 1 ? on : points;
};

async function drawStrip(points: readonly Pointed[]): Promise<void> {
  const { document, piece } = bench.get();
  if (!document || piece === null) return;
  const line = await placesOf(onPieces(points), true);
  const other = points.find((p) => p.piece !== null && p.piece !== piece)?.piece ?? '';
  const source = document.pieces.find((p) => p.id === other);
  const eye = changes.toOwn(document, piece, ways.eye());
  const [nx, ny, nz] = [0, 1, 2].map((k) => eye[k] - line[0].at[k]);
  const last = lastMove();
  if (last?.tool === 'draw-strip') stripWidth = last.values.width as number;
  if (stripWidth === 0) stripWidth = Number((STRIP_WIDE * ways.pixel()).toPrecision(1));
  if (beginMove('draw-strip', { line, other: source?.kind === 'mesh' ? other : '', width: stripWidth, nx, ny, nz }))
    keep();
  begin('draw-strip');
}

/** A seam prefers creases and what looks down by so much, 0 to 1. */
const HIDING = 0.6;

/** Vertices of the piece that is worked on that are nearest to what was clicked. */
function verticesAt(points: readonly Pointed[]): Uint32Array {
  const { document, piece, mesh } = bench.get();
  if (!document || piece === null || !mesh) return new Uint32Array(0);
  const { positions: p } = mesh;
  return Uint32Array.from(points, (point) => {
    const [x, y, z] = changes.toOwn(document, piece, point.at);
    let best = 0;
    let near = Infinity;
    for (let v = 0; v < p.length; v += 3) {
      const d = (p[v] - x) ** 2 + (p[v + 1] - y) ** 2 + (p[v + 2] - z) ** 2;
      if (d < near) [near, best] = [d, v / 3];
    }
    return best;
  });
}

function traced(points: readonly Pointed[], then: (edges: Uint32Array) => void): void {
  askPick({ name: 'trace', kind: 'vertex', from: verticesAt(points), values: { hide: HIDING } }, ({ indices }) => {
    then(Uint32Array.from(indices));
  });
}

function traceLive(points: readonly Pointed[]): void {
  if (points.length < 2) {
    bench.set({ dotted: null });
    return;
  }
  traced(points, (edges) => {
    const { mesh } = bench.get();
    if (!mesh || handOf(bench.get(), 'pointing')?.tool !== 'trace-seam') return;
    bench.set({ dotted: { lists: [Array.from(edges, (e) => edgeKeys(mesh)[e])], hot: null } });
  });
}

function traceDone(points: readonly Pointed[]): void {
  traced(points, (edges) => {
    bench.set({ dotted: null });
    if (edges.length === 0) say('No edges lead from one to the next.');
    else cutTraced(edges);
    begin('trace-seam');
  });
}

/** What is worked out in the worker; what goes wrong there is said. */
const later =
  (work: (points: readonly Pointed[]) => Promise<void>) =>
  (points: readonly Pointed[]): void => {
    work(points).catch((e: Error) => say(e.message));
  };

export const POINT_TOOLS: readonly PointTool[] = [
  {
    id: 'free-cut',
    title: 'Cut',
    hint: (n) =>
      n < 2
        ? `Click ${n ? 'on' : 'where it begins'}: on vertices, edges or faces.`
        : 'Click on, or Enter to cut; the first point again closes it.',
    least: 2,
    most: 500,
    on: 'model',
    done: later(cutAlong),
  },
  {
    id: 'draw-face',
    title: 'Draw a face',
    hint: (n) =>
      n < 3
        ? `Click ${3 - n} more corners: on vertices, the ground, other pieces.`
        : 'Click on, or Enter to lay the face.',
    least: 3,
    most: 200,
    on: 'model',
    done: later(drawThrough),
  },
  {
    id: 'draw-strip',
    title: 'Draw a strip',
    hint: (n) => (n === 0 ? 'Drag over another piece, or click point by point.' : 'Go on, or Enter to lay the strip.'),
    least: 2,
    most: 1000,
    on: 'model',
    drags: true,
    done: later(drawStrip),
  },
  {
    id: 'draw-line',
    title: 'Draw a line',
    hint: (n) =>
      n < 2
        ? `Click ${n ? 'on' : 'where it begins'}: on the ground or on pieces.`
        : 'Click on, or Enter to lay the line.',
    least: 2,
    most: 500,
    on: 'model',
    done: layLine,
  },
  {
    id: 'trace-seam',
    title: 'Trace a seam',
    hint: (n) =>
      n < 2
        ? `Click ${n ? 'where it goes on' : 'where it begins'}: it runs along creases and where it hides.`
        : 'Click on, Backspace takes the last point back, Enter cuts.',
    least: 2,
    most: 500,
    on: 'model',
    live: traceLive,
    done: traceDone,
  },
  {
    id: 'tape',
    title: 'Measure',
    hint: (n) => (n ? 'Click where it ends.' : 'Click where it begins.'),
    least: 2,
    most: 2,
    on: 'model',
    done: pin('length'),
  },
  {
    id: 'angle',
    title: 'Measure an angle',
    hint: (n) => ['Click on the first arm.', 'Click the corner.', 'Click on the second arm.'][n] ?? '',
    least: 3,
    most: 3,
    on: 'model',
    done: pin('angle'),
  },
  {
    id: 'diameter',
    title: 'Measure a diameter',
    hint: (n) => `Click three points on the rim, inner or outer: ${3 - n} to go.`,
    least: 3,
    most: 3,
    on: 'model',
    done: (p) => {
      if (circleThrough(p[0].at, p[1].at, p[2].at)) pin('diameter')(p);
      else say('Three points on one line have no circle.');
    },
  },
  {
    id: 'level',
    title: 'Level',
    hint: (n) =>
      n
        ? 'Click a second point that should be level with it, or above it.'
        : 'Click a point on a line that should be level or upright.',
    least: 2,
    most: 2,
    on: 'blueprint',
    done: ([p, q], id) => {
      const level = levelBy(p.pixel!, q.pixel!);
      if (level === undefined || !id) {
        say('Those two points are one.');
        return;
      }
      editSheet('level a blueprint', id, (b) => {
        b.level = level;
      });
      say(`Turned by ${formatQuantity(level, 'angle')}.`);
    },
  },
  {
    id: 'scale',
    title: 'Scale',
    hint: (n) => (n ? 'Click the other end.' : 'Click one end of a known distance.'),
    least: 2,
    most: 2,
    on: 'blueprint',
    asks: { label: 'In reality this is', kind: 'length' },
    done: ([p, q], id, metres) => {
      const scale = scaleBy(p.pixel!, q.pixel!, metres ?? 0);
      if (scale === undefined || !id) {
        say('A scale needs two different points and a length over zero.');
        return;
      }
      editSheet('scale a blueprint', id, (b) => {
        b.scale = scale;
      });
      say(`One pixel is ${show(scale)}.`);
    },
  },
  {
    id: 'origin',
    title: 'Set the origin',
    hint: () => 'Click the cross that is to lie at the origin.',
    least: 1,
    most: 1,
    on: 'blueprint',
    done: ([p], id) => {
      if (id)
        editSheet('set the origin of a blueprint', id, (b) => {
          b.origin = [p.pixel![0], p.pixel![1]];
        });
    },
  },
  {
    id: 'cut',
    title: 'Cut a view out',
    hint: (n) => (n ? 'Let go, or click, at the opposite corner.' : 'Drag a frame round the view to cut out.'),
    least: 2,
    most: 2,
    on: 'blueprint',
    done: ([p, q], id) => {
      const [a, b] = pixels([p, q]);
      const x0 = Math.min(a[0], b[0]);
      const y0 = Math.min(a[1], b[1]);
      const x1 = Math.max(a[0], b[0]);
      const y1 = Math.max(a[1], b[1]);
      if (!id || x1 - x0 < 4 || y1 - y0 < 4) {
        say('That is too small to be a view.');
        return;
      }
      const made = changes.newId();
      session.change('cut a view out', (d) => changes.cutBlueprint(d, id, made, [x0, y0, x1, y1]));
      bench.set({ piece: made, picked: [made] });
    },
  },
  station('station-u', 'Mark stations across', 'u'),
  station('station-v', 'Mark stations upwards', 'v'),
  {
    id: 'circle',
    title: 'Fit a circle',
    hint: (n) => (n < 3 ? `Click points on the circle: ${3 - n} more.` : 'More points make it surer; Enter fits it.'),
    least: 3,
    most: 5,
    on: 'blueprint',
    done: fitted('circle', (on) => {
      const c = fitCircle(on);
      return c && { ...c, a: c.radius, b: c.radius, turn: 0 };
    }),
  },
  {
    id: 'ellipse',
    title: 'Fit an ellipse',
    hint: (n) =>
      n < 4
        ? `Click points on the ellipse: ${4 - n} more, five for one that leans.`
        : 'A fifth point lets it lean; Enter fits it.',
    least: 4,
    most: 5,
    on: 'blueprint',
    done: fitted('ellipse', fitEllipse),
  },
  {
    id: 'same',
    title: 'The same size again',
    hint: () => 'Click the middle.',
    least: 1,
    most: 1,
    on: 'blueprint',
    done: ([p], id) => {
      if (!lastRound || !id || !p.uv) {
        say('Fit a circle or an ellipse first.');
        return;
      }
      layRound(id, { u: p.uv[0], v: p.uv[1], ...lastRound, off: 0 });
      begin('same', id);
    },
  },
  {
    id: 'pivot',
    title: 'Place the pivot',
    hint: () => 'Click where the pivot should be.',
    least: 1,
    most: 1,
    on: 'model',
    done: ([p]) => {
      const ids = bench.get().picked;
      session.change('move the pivot', (d) => {
        for (const id of ids) changes.setPivot(d, id, p.at);
      });
    },
  },
];

export const pointTool = (id: string): PointTool | undefined => POINT_TOOLS.find((t) => t.id === id);

/** Takes a tool in hand. Those for blueprints need one picked. */
export function begin(tool: string, on: string | null = null): void {
  const t = pointTool(tool);
  const s = bench.get();
  const piece = on ?? s.piece;
  if (!t) return;
  if (t.on === 'blueprint' && !sheet(piece)) {
    say('Pick a blueprint first.');
    return;
  }
  if (toolDef(tool)) {
    keep();
    if (s.mode === 'piece') setMode('face');
  }
  const where = t.on === 'blueprint' ? piece : null;
  bench.set({ hand: { kind: 'pointing', tool, on: where, points: [] }, handle: null, say: '' });
}

export function addPoint(p: Pointed): void {
  const now = handOf(bench.get(), 'pointing');
  const t = now && pointTool(now.tool);
  if (!now || !t) return;
  const points = [...now.points, p];
  if (points.length < t.most) {
    bench.set({ hand: { ...now, points } });
    return;
  }
  bench.set({ hand: { ...now, points } });
  if (!t.asks) finish();
}

/** Takes the last point back; answers whether there was one. */
export function takeBack(): boolean {
  const now = handOf(bench.get(), 'pointing');
  if (!now || now.points.length === 0) return false;
  const points = now.points.slice(0, -1);
  bench.set({ hand: { ...now, points } });
  pointTool(now.tool)?.live?.(points);
  return true;
}

/** Enter: with enough points the tool does its work; with none it is put down. */
export function finish(asked?: number): boolean {
  const now = handOf(bench.get(), 'pointing');
  const t = now && pointTool(now.tool);
  if (!now || !t) return false;
  if (now.points.length < t.least) {
    bench.set({ hand: null });
    return true;
  }
  if (t.asks && asked === undefined) return true;
  bench.set({ hand: null });
  t.done(now.points, now.on, asked);
  return true;
}

/** A typed length for a tool that asks for one; answers what is wrong with it. */
export function answer(text: string): string | null {
  try {
    const n = parseQuantity(text, 'length', units());
    if (!(n > 0)) return 'It must be more than zero.';
    finish(n);
    return null;
  } catch (e) {
    return (e as Error).message;
  }
}

/** What the points so far come to, for the line over the strip. */
export function soFar(): string {
  const now = handOf(bench.get(), 'pointing');
  if (!now) return '';
  const p = now.points.map((x) => x.at);
  if (now.tool === 'tape' && p.length === 2) return show(distance(p[0], p[1]));
  if (now.tool === 'angle' && p.length === 3) return formatQuantity(angleAt(p[0], p[1], p[2]), 'angle');
  return '';
}

/** Two views of one thing: the dimension they share, measured on each, and how far they disagree. */
export function checkViews(
  a: string,
  b: string,
): { axis: string; by: string; inA: number; inB: number; error: number; share: number } | string {
  const doc = bench.get().document;
  const p = doc?.pieces.find((x) => x.id === a);
  const q = doc?.pieces.find((x) => x.id === b);
  if (!p?.blueprint || !q?.blueprint) return 'Pick two blueprints to check against each other.';
  const shared = sharedAxis(p.blueprint.side, q.blueprint.side);
  if (!shared) return 'Those two views share no dimension: tie each to a side of its own.';
  // Stations of one name on both say it best; without them, what the two frames show is compared.
  const common = (x: Blueprint, along: 'u' | 'v', y: Blueprint, other: 'u' | 'v') =>
    x.stations
      .filter((s) => s.along === along && y.stations.some((t) => t.along === other && t.name === s.name))
      .map((s) => s.name);
  const names = common(p.blueprint, shared.inA, q.blueprint, shared.inB);
  const length = (x: Blueprint, along: 'u' | 'v') => {
    const at = x.stations
      .filter((s) => s.along === along && names.includes(s.name))
      .sort((m, n) => (m.name < n.name ? -1 : 1))
      .map((s) => s.at);
    const [x0, y0, x1, y1] = x.frame;
    return names.length >= 2 ? Math.abs(at[at.length - 1] - at[0]) : (along === 'u' ? x1 - x0 : y1 - y0) * x.scale;
  };
  const inA = length(p.blueprint, shared.inA);
  const inB = length(q.blueprint, shared.inB);
  return {
    axis: shared.axis,
    by: names.length >= 2 ? `stations ${names.join(', ')}` : 'what the frames show',
    inA,
    inB,
    ...crossCheck(inA, inB),
  };
}

giveHand('pointing', {
  keep: () => void finish(),
  cancel: () => {
    const now = handOf(bench.get(), 'pointing');
    bench.set({ hand: null });
    if (now) pointTool(now.tool)?.live?.([]);
  },
});
