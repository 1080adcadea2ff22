import { basename } from 'node:path';
import { intakeOf, reportOf, type Report } from '../core/formats';
import { readInput, readModel } from './files';
import { parseArgs, Usage } from './usage';

/** `inspect FILE [--json]` */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, [], ['json']);
  if (o.positional.length !== 1) throw new Usage('inspect needs one FILE.');
  const path = o.positional[0];
  const json = o.flags.has('json');
  const picture = await pictureOf(path);
  if (picture) {
    console.log(
      json
        ? JSON.stringify(picture, null, 2)
        : Object.entries(picture)
            .map(([k, v]) => `${k.padEnd(22)}${String(v)}`)
            .join('\n'),
    );
    return 0;
  }
  const scene = await readModel(path);
  const r = reportOf(scene);
  const intake = intakeOf(scene, basename(path));
  const all = {
    ...r,
    pieces: scene.pieces.filter((p) => p.mesh).length,
    curves: intake.pieces.reduce((n, p) => n + p.curves, 0),
    doubledFaces: intake.pieces.reduce((n, p) => n + p.doubledFaces, 0),
    unit: intake.unit,
    unitKnown: intake.unitKnown,
    lengthUnit: intake.unitKnown ? nameOfUnit(intake.unit) : null,
    up: intake.up,
    upKnown: intake.upKnown,
    missing: intake.missing,
  };
  console.log(
    json
      ? JSON.stringify(all, null, 2)
      : `${plain(r, nameOfUnit(intake.unit))}\n${'One unit is'.padEnd(22)}${intake.unit} ` +
          `m${intake.unitKnown ? '' : ', by guess'}\n${'Up'.padEnd(22)}${intake.up}${intake.upKnown ? '' : ', by guess'}`,
  );
  return 0;
}

/** Pictures have no shape to report: their size, and their heights where they hold some. */
async function pictureOf(path: string): Promise<Record<string, unknown> | undefined> {
  if (!/\.(png|jpe?g|webp|tiff?|pdf|raw|r16)$/i.test(path)) return undefined;
  const { bytes, name } = readInput(path);
  const { pictureInfo, looksLikeHeights } = await import('../core/formats/pictures');
  const info = pictureInfo(bytes, name);
  if (info && !looksLikeHeights(info) && info.kind !== 'tiff') return { ...info };
  const { readHeights } = await import('../core/formats/heights');
  const h = readHeights(bytes, name);
  const { min, max } = Math;
  return {
    kind: info?.kind ?? 'raw',
    width: h.width,
    height: h.height,
    bits: h.bits,
    lowest: h.data.reduce((a, b) => min(a, b), Infinity),
    highest: h.data.reduce((a, b) => max(a, b), -Infinity),
  };
}

const UNIT_NAMES: readonly (readonly [string, number])[] = [
  ['m', 1],
  ['mm', 0.001],
  ['cm', 0.01],
  ['in', 0.0254],
  ['ft', 0.3048],
  ['µm', 1e-6],
];
const nameOfUnit = (metres: number): string =>
  UNIT_NAMES.find((u) => Math.abs(u[1] - metres) < 1e-9 * metres)?.[0] ?? `× ${metres} m`;

/** In the file's own unit, `u`, as it says or as is guessed. */
function plain(r: Report, u: string): string {
  const n = (x: number) => Number(x.toPrecision(6)).toString();
  const lines: [string, string][] = [
    ['Vertices', String(r.vertices)],
    ['Edges', String(r.edges)],
    ['Faces', `${r.faces}, ${r.triangles} triangles`],
    ['Components', String(r.components)],
    ['Euler characteristic', String(r.eulerCharacteristic)],
    ['Open edges', String(r.openEdges)],
    ['Edges on 3+ faces', String(r.nonManifoldEdges)],
    ['Closed', r.closed ? 'yes' : 'no'],
    ['Oriented', r.oriented ? 'yes' : 'no'],
    ['Area', `${n(r.area)} ${u}²`],
    [
      'Volume',
      r.volume === null ? `none: it is open; closed it would be ${n(r.volumeIfClosed)} ${u}³` : `${n(r.volume)} ${u}³`,
    ],
    ...(r.centreOfMass ? ([['Centre of mass', `${r.centreOfMass.map(n).join(', ')} ${u}`]] as [string, string][]) : []),
    ...(r.inertia ? ([['Inertia', `${r.inertia.map(n).join(', ')} ${u}⁵`]] as [string, string][]) : []),
    ['Pinched vertices', String(r.pinchedVertices)],
    ['Self-crossings', String(r.selfCrossings)],
    ['From', `${r.bounds.min.map(n).join(', ')} ${u}`],
    ['To', `${r.bounds.max.map(n).join(', ')} ${u}`],
    ['Groups', r.groups.join(', ') || 'none'],
    ['Materials', r.materials.join(', ') || 'none'],
    ['UV sets', String(r.uv.sets)],
  ];
  if (r.uv.sets)
    lines.push(
      ['Islands', String(r.uv.islands)],
      ['Coverage', `${n(100 * r.uv.coverage)} %`],
      ['Overlap', `${n(100 * r.uv.overlap)} %`],
      ['Face down', `${r.flippedUvs} triangles`],
      ['Outside', `${n(100 * r.uv.outside)} %`],
      ['Stretch', `${n(r.uv.stretchMean)} mean, ${n(r.uv.stretchMax)} most`],
      ['Density', `${n(r.uv.texelDensityMin)} to ${n(r.uv.texelDensityMax)} per ${u}`],
    );
  return [...lines.map(([a, b]) => `${a.padEnd(22)}${b}`), ...r.warnings].join('\n');
}
