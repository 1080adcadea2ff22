import { reportOf, type Report } from '../core/formats/report';
import { readModel } from './files';
import { parseArgs, Usage } from './usage';

/** `inspect FILE [--json]` */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(args, [], ['json']);
  if (o.positional.length !== 1) throw new Usage('inspect needs one FILE.');
  const r = reportOf(await readModel(o.positional[0]));
  console.log(o.flags.has('json') ? JSON.stringify(r, null, 2) : plain(r));
  return 0;
}

export function plain(r: Report): string {
  const n = (x: number) => Number(x.toPrecision(6)).toString();
  const lines: [string, string][] = [
    ['Vertices', String(r.vertices)], ['Edges', String(r.edges)], ['Faces', `${r.faces}, ${r.triangles} triangles`], ['Components', String(r.components)],
    ['Euler characteristic', String(r.eulerCharacteristic)], ['Open edges', String(r.openEdges)], ['Edges on 3+ faces', String(r.nonManifoldEdges)],
    ['Closed', r.closed ? 'yes' : 'no'], ['Oriented', r.oriented ? 'yes' : 'no'], ['Area', `${n(r.area)} m²`], ['Volume', `${n(r.volume)} m³`],
    ['From', r.bounds.min.map(n).join(', ')], ['To', r.bounds.max.map(n).join(', ')], ['Groups', r.groups.join(', ') || 'none'], ['Materials', r.materials.join(', ') || 'none'],
    ['UV sets', String(r.uv.sets)],
  ];
  if (r.uv.sets) lines.push(['Islands', String(r.uv.islands)], ['Coverage', `${n(100 * r.uv.coverage)} %`], ['Overlap', `${n(100 * r.uv.overlap)} %`], ['Outside', `${n(100 * r.uv.outside)} %`],
    ['Stretch', `${n(r.uv.stretchMean)} mean, ${n(r.uv.stretchMax)} most`], ['Density', `${n(r.uv.texelDensityMin)} to ${n(r.uv.texelDensityMax)} per metre`]);
  return [...lines.map(([a, b]) => `${a.padEnd(22)}${b}`), ...r.warnings].join('\n');
}
