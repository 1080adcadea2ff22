/**
 * The pilot skiff: three plan drawings, scanned a little askew, trued up, with stations and the sections that belong
 * there. Metres.
 */
import {
  fitCircle,
  fitEllipse,
  levelBy,
  newBlueprint,
  scaleBy,
  sideTurn,
  toPlane,
  type Blueprint,
  type Side,
} from '../core/blueprint';
import * as changes from '../document/changes';
import { newProject } from '../document/changes';
import { Maker } from './maker';
import { Sheet } from './drawing';

export const SKIFF_ID = '5a17e2e0-0002-4000-8000-000000000002';
export const LONG = 4.2;
export const BEAM = 1.56;
export const deg = Math.PI / 180;
type P = readonly [number, number];

/** The hull: half its breadth, its sheer and its keel at a distance x from the middle, bow at +x. */
export const hull = {
  half: (x: number) =>
    (BEAM / 2) *
    Math.sqrt(Math.max(0, 1 - ((x + 0.25) / (LONG / 2 + 0.25)) ** 2)) *
    (x < -0.25
      ? Math.sqrt(Math.max(0, 1 - 0.34 * ((x + 0.25) / (LONG / 2 - 0.25)) ** 2)) /
        Math.sqrt(Math.max(0.02, 1 - ((x + 0.25) / (LONG / 2 + 0.25)) ** 2))
      : 1),
  sheer: (x: number) => 0.52 + 0.045 * x + 0.036 * x * x,
  keel: (x: number) => 0.055 * Math.max(0, x) ** 2.2 * 0.9 + (x < -1.2 ? 0.05 * (x + 1.2) ** 2 : 0),
};
const steps = (a: number, b: number, n: number): number[] =>
  Array.from({ length: n + 1 }, (_, i) => a + ((b - a) * i) / n);
const BOW = 2.06;
const STERN = -2.1;
export const STATIONS: readonly number[] = [-1.8, -1.2, -0.6, 0, 0.6, 1.2, 1.75];
const NAMES = 'ABCDEFG';
/** The mast step on the plan, and the ring of the sculling notch on the body plan. */
export const MAST = { x: 0.9, radius: 0.07 };

function profile(): Sheet {
  const s = new Sheet(1500, 620, 0.0031, [760, 470], 0.3 * deg);
  const sheer = steps(STERN, BOW, 60).map((x): P => [x, hull.sheer(x)]);
  const keel = steps(STERN, BOW, 60).map((x): P => [x, hull.keel(x)]);
  s.line(
    [
      [STERN - 0.1, 0],
      [BOW + 0.1, 0],
    ],
    1.2,
    '#6d6558',
  );
  for (const v of [0.15, 0.3, 0.45])
    s.line(
      [
        [STERN, v],
        [BOW, v],
      ],
      1,
      '#6d6558',
      0.5,
    );
  STATIONS.forEach((x, i) => {
    s.line(
      [
        [x, -0.06],
        [x, hull.sheer(x) + 0.08],
      ],
      1,
      '#3f6c9a',
    );
    s.word(NAMES[i], [x - 0.03, hull.sheer(x) + 0.12], 0.08);
  });
  s.line([...sheer, ...keel.reverse(), sheer[0]], 2.6);
  s.line(
    [
      [MAST.x - 0.04, hull.sheer(MAST.x)],
      [MAST.x - 0.02, 1.3],
    ],
    2,
    '#6d6558',
  );
  s.line(
    [
      [MAST.x + 0.04, hull.sheer(MAST.x)],
      [MAST.x + 0.02, 1.3],
    ],
    2,
    '#6d6558',
  );
  s.cross([0, 0], 0.08);
  return s;
}

function plan(): Sheet {
  const s = new Sheet(1500, 700, 0.0029, [740, 355], -0.3 * deg);
  const edge = steps(STERN, BOW, 80).map((x): P => [x, hull.half(x)]);
  s.line(
    [
      [STERN - 0.1, 0],
      [BOW + 0.1, 0],
    ],
    1.2,
    '#6d6558',
  );
  STATIONS.forEach((x, i) => {
    s.line(
      [
        [x, -hull.half(x) - 0.06],
        [x, hull.half(x) + 0.06],
      ],
      1,
      '#3f6c9a',
    );
    s.word(NAMES[i], [x - 0.03, hull.half(x) + 0.1], 0.07);
  });
  s.line([...edge, ...edge.map(([x, y]): P => [x, -y]).reverse(), edge[0]], 2.6);
  s.line(
    steps(STERN + 0.12, BOW - 0.14, 80).map((x): P => [x, hull.half(x) * 0.86]),
    1.4,
    '#6d6558',
  );
  s.line(
    steps(STERN + 0.12, BOW - 0.14, 80).map((x): P => [x, -hull.half(x) * 0.86]),
    1.4,
    '#6d6558',
  );
  s.ellipse([MAST.x, 0], MAST.radius, MAST.radius, 2);
  s.cross([0, 0], 0.08);
  return s;
}

function body(): Sheet {
  const s = new Sheet(900, 640, 0.0024, [450, 500], 0.25 * deg);
  s.line(
    [
      [-0.9, 0],
      [0.9, 0],
    ],
    1.2,
    '#6d6558',
  );
  s.line(
    [
      [0, -0.08],
      [0, 1.02],
    ],
    1,
    '#6d6558',
  );
  STATIONS.forEach((x, i) => {
    const a = hull.half(x);
    const b = hull.sheer(x) - hull.keel(x);
    const side = x <= 0 ? -1 : 1;
    const around = steps(0, Math.PI / 2, 32).map((t): P => [side * a * Math.sin(t), hull.sheer(x) - b * Math.cos(t)]);
    s.line(around, 2);
    s.word(NAMES[i], [side * (a + 0.03) - (side < 0 ? 0.06 : 0), hull.sheer(x) + 0.02 + 0.05 * (i % 2)], 0.05, 1.6);
  });
  s.cross([0, 0], 0.06);
  return s;
}

/** Trues a drawing up as one does by hand: a line that is level, a distance that is known, the cross. */
export function calibrate(
  m: Maker,
  piece: string,
  s: Sheet,
  level: readonly [P, P],
  known: readonly [P, P],
  metres: number,
): void {
  m.edit('level a blueprint', (d) => {
    const b = changes.pieceOf(d, piece).blueprint!;
    b.level = levelBy(s.pixel(level[0]), s.pixel(level[1])) ?? 0;
  });
  m.edit('scale a blueprint', (d) => {
    const b = changes.pieceOf(d, piece).blueprint!;
    b.scale = scaleBy(s.pixel(known[0]), s.pixel(known[1]), metres) ?? b.scale;
  });
  m.edit('set the origin of a blueprint', (d) => {
    changes.pieceOf(d, piece).blueprint!.origin = s.pixel([0, 0]);
  });
}

export async function pilotSkiff(): Promise<Maker> {
  const m = new Maker(newProject('Pilot skiff', 'render', 'cm'));
  m.edit('set up the project', (d) => changes.setSettings(d, { grid: 0.5, precision: 1 }));
  const drawings = m.group('drawings');
  const lines = m.group('sections');
  const bring = (
    name: string,
    s: Sheet,
    side: Side,
    at: readonly [number, number, number],
    part: Partial<Blueprint> = {},
  ): string => {
    const id = m.blueprint(
      name,
      m.picture(`${name}.png`, s.image),
      { ...newBlueprint('', s.width, s.height), side, ...part },
      sideTurn(side),
      drawings,
    );
    m.edit('place a blueprint', (d) => changes.setPlace(d, id, { at }));
    return id;
  };
  const looks = { depth: 'in place' as const, opacity: 0.92 };
  const side = bring('side view', profile(), 'front', [0, 0, -1.1], looks);
  const top = bring('plan view', plan(), 'top', [0, 0, 0], looks);
  const ends = bring('body plan', body(), 'right', [-2.6, 0, 0], looks);
  const level = (from: number, to: number): [P, P] => [
    [from, 0],
    [to, 0],
  ];
  const ofLength: [P, P] = level(STATIONS[0], STATIONS[6]);
  calibrate(m, side, profile(), level(STERN, BOW), ofLength, STATIONS[6] - STATIONS[0]);
  calibrate(m, top, plan(), level(STERN, BOW), ofLength, STATIONS[6] - STATIONS[0]);
  const upright: [P, P] = [
    [0, 0],
    [0, 1],
  ];
  calibrate(m, ends, body(), level(-0.9, 0.9), upright, 1);
  // Stations where the drawing has them, on both long views.
  for (const [piece, s] of [
    [side, profile()],
    [top, plan()],
  ] as const) {
    m.edit('mark the stations', (d) => {
      const b = changes.pieceOf(d, piece).blueprint!;
      b.stations = STATIONS.map((x, i) => ({
        id: m.id('station'),
        name: NAMES[i],
        along: 'u' as const,
        at: toPlane(b, s.pixel([x, 0]))[0],
      }));
    });
  }
  // The mast step is fitted through three clicks on its rim; the fullest section through five on the body plan.
  m.edit('fit a circle', (d) => {
    const b = changes.pieceOf(d, top).blueprint!;
    const s = plan();
    const c = fitCircle(
      [0.3, 2.2, 4.4].map((t): P =>
        toPlane(b, s.pixel([MAST.x + MAST.radius * Math.cos(t), MAST.radius * Math.sin(t)])),
      ),
    );
    if (c) b.rounds.push({ id: 'mast', u: c.u, v: c.v, a: c.radius, b: c.radius, turn: 0 });
  });
  m.edit('fit an ellipse', (d) => {
    const b = changes.pieceOf(d, ends).blueprint!;
    const s = body();
    const x = STATIONS[3];
    const e = fitEllipse(
      [0.2, 0.6, 1, 1.35]
        .flatMap((t): P[] => [
          [-hull.half(x) * Math.sin(t), hull.sheer(x) - (hull.sheer(x) - hull.keel(x)) * Math.cos(t)],
        ])
        .concat([[0, hull.keel(x)]])
        .map((p) => toPlane(b, s.pixel(p))),
    );
    if (e) b.rounds.push({ id: 'midship', u: e.u, v: e.v, a: e.a, b: e.b, turn: e.turn });
  });
  // A section for each station, put there in one move; a circle for the mast.
  STATIONS.forEach((x, i) => {
    const p = m.piece(`section ${NAMES[i]}`, lines);
    p.step('section', { wide: 2 * hull.half(x), high: 2 * (hull.sheer(x) - hull.keel(x)), facing: 'x' });
    m.edit('place a section', (d) => {
      changes.setPlace(d, p.id, { at: [0, hull.sheer(x), 0] });
      changes.placeAtStation(d, side, changes.pieceOf(d, side).blueprint!.stations[i].id, [p.id]);
    });
  });
  const mast = m.piece('mast step', lines);
  mast.step('section', { wide: 2 * MAST.radius, high: 2 * MAST.radius, facing: 'y' });
  m.edit('place the mast step', (d) => changes.setPlace(d, mast.id, { at: [MAST.x, hull.sheer(MAST.x), 0] }));
  return m;
}
