/**
 * What formulas may name of the elements of a mesh, by domain. Columns that have to be worked out are made when a
 * formula first names them.
 */
import { table } from '../math/table';
import { UV, type Mesh } from '../mesh/mesh';
import { distancesTo, meanCurvatures, opennessOf } from '../mesh/fields';
import { boundsOfMesh } from '../mesh/moved';
import { components } from '../mesh/measure';
import { cornerNormals, faceNormals } from '../mesh/normals';
import { elementPoint } from '../mesh/elements';
import type { PickKind } from '../mesh/picks';
import { countOf } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { bends, edgeLengths, faceAreas, facesOnEdge, lookOf, sidesOf, valences } from '../rules/measures';
import type { Known, Scope } from './code';
import { everyThird } from './loops';
import { ANGLE, AREA, BENT, COLOUR, LENGTH, PLACE, PLAIN, TRUTH, WAY, type Type } from './types';

/** Where a formula is asked: on each element of a kind; a corner is that of one face. */
export type Domain = PickKind | 'corner';

const sizeOf = (mesh: Mesh, domain: Domain): number => (domain === 'corner' ? mesh.cornerCount : countOf(mesh, domain));

const each = (type: Type, help: string, of: (i: number) => number): Known => ({
  type,
  help,
  fill: (from, count, out) => {
    for (let i = 0; i < count; i++) out[i] = of(from + i);
  },
});
const triples = (type: Type, help: string, write: (i: number, out: Float64Array, o: number) => void): Known => ({
  type,
  help,
  fill: (from, count, out) => {
    for (let i = 0; i < count; i++) write(from + i, out, 3 * i);
  },
});

/** The place of an element: a vertex's own, that of a corner its vertex's, the middle of others. */
function places(mesh: Mesh, domain: Domain): Known {
  const help = domain === 'vertex' || domain === 'corner' ? 'where it is' : 'where its middle is';
  const { positions: p, cornerVertex } = mesh;
  if (domain === 'corner')
    return triples(PLACE, help, (c, out, o) => {
      for (let k = 0; k < 3; k++) out[o + k] = p[3 * cornerVertex[c] + k];
    });
  if (domain === 'vertex')
    return {
      type: PLACE,
      help,
      fill: (from, count, out) => {
        const o = 3 * from;
        for (let i = 0; i < 3 * count; i++) out[i] = p[o + i];
      },
      part: (k, from, count, out) => {
        everyThird(p, 3 * from + k, count, out);
      },
    };
  return triples(PLACE, help, (i, out, o) => out.set(elementPoint(mesh, domain, i), o));
}

function normals(mesh: Mesh, domain: Domain): Known {
  const help = 'the way it looks, 1 long';
  if (domain === 'corner') {
    const n = cornerNormals(mesh, Math.PI / 6);
    return triples(WAY, help, (c, out, o) => {
      for (let k = 0; k < 3; k++) out[o + k] = n[3 * c + k];
    });
  }
  if (domain === 'face') {
    const n = faceNormals(mesh);
    return triples(WAY, help, (i, out, o) => {
      for (let k = 0; k < 3; k++) out[o + k] = n[3 * i + k];
    });
  }
  if (domain === 'vertex') {
    // Of all faces round it, by their angles there.
    const n = cornerNormals(mesh, Math.PI);
    const { vertexCornerStart, vertexCorner } = topologyOf(mesh);
    return triples(WAY, help, (v, out, o) => {
      const c = vertexCornerStart[v] < vertexCornerStart[v + 1] ? vertexCorner[vertexCornerStart[v]] : -1;
      for (let k = 0; k < 3; k++) out[o + k] = c < 0 ? 0 : n[3 * c + k];
    });
  }
  const look = lookOf(mesh, 'edge');
  const one = new Float64Array(3);
  return triples(WAY, help, (i, out, o) => {
    look(i, one);
    out.set(one, o);
  });
}

/** Which loose part an element belongs to, from 0. */
function parts(mesh: Mesh, domain: Domain): Known {
  const { of } = components(mesh);
  const { edgeVertex } = topologyOf(mesh);
  const first = (i: number): number => {
    if (domain === 'vertex') return i;
    if (domain === 'corner') return mesh.cornerVertex[i];
    return domain === 'edge' ? edgeVertex[2 * i] : mesh.cornerVertex[mesh.faceStart[i]];
  };
  return each(PLAIN, 'which of the parts that hang together, from 0', (i) => of[first(i)]);
}

/** Where it lies within the bounds: 0 to 1 along each axis. */
function shares(mesh: Mesh, domain: Domain): Known {
  const b = boundsOfMesh(mesh);
  const at = places(mesh, domain);
  return {
    type: WAY,
    help: 'where it lies within the bounds of the piece, 0 to 1 along x, y, z',
    fill: (from, count, out) => {
      at.fill!(from, count, out);
      for (let i = 0; i < 3 * count; i++) {
        const k = i % 3;
        const span = b.max[k] - b.min[k];
        out[i] = span > 0 ? (out[i] - b.min[k]) / span : 0.5;
      }
    },
  };
}

/** Values of vertices as elements of another kind have them: the mean of their own. */
function ofVertices(mesh: Mesh, domain: Domain, values: Float64Array): (i: number) => number {
  if (domain === 'vertex') return (v) => values[v];
  if (domain === 'corner') return (c) => values[mesh.cornerVertex[c]];
  if (domain === 'edge') {
    const { edgeVertex } = topologyOf(mesh);
    return (e) => (values[edgeVertex[2 * e]] + values[edgeVertex[2 * e + 1]]) / 2;
  }
  return (f) => {
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    let sum = 0;
    for (let c = s; c < e; c++) sum += values[mesh.cornerVertex[c]];
    return sum / Math.max(1, e - s);
  };
}

/** Whether it lies on an open border. */
function borders(mesh: Mesh, domain: Domain): Known {
  const { edgeCount, edgeVertex, edgeCornerStart, cornerEdge } = topologyOf(mesh);
  const open = (e: number) => edgeCornerStart[e + 1] - edgeCornerStart[e] === 1;
  const vertices = new Uint8Array(mesh.vertexCount);
  for (let e = 0; e < edgeCount; e++) if (open(e)) for (let k = 0; k < 2; k++) vertices[edgeVertex[2 * e + k]] = 1;
  const of: Record<Domain, (i: number) => boolean> = {
    vertex: (v) => vertices[v] === 1,
    corner: (c) => vertices[mesh.cornerVertex[c]] === 1,
    edge: open,
    face: (f) => {
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) if (open(cornerEdge[c])) return true;
      return false;
    },
  };
  return each(TRUTH, 'whether it lies on an open border', (i) => (of[domain](i) ? 1 : 0));
}

/** Where it lies on the first sheet: of a face the middle, of a vertex as the first of its corners has it. */
function sheet(mesh: Mesh, domain: Domain): Known {
  const help = 'where it lies on the sheet, as x and y from 0 to 1';
  const uv = mesh.attributes[UV]?.data;
  if (domain === 'corner')
    return triples(WAY, help, (c, out, o) => {
      for (let k = 0; k < 3; k++) out[o + k] = uv && k < 2 ? uv[2 * c + k] : 0;
    });
  const { vertexCornerStart, vertexCorner } = topologyOf(mesh);
  const corners = (i: number): [number, number] =>
    domain === 'face'
      ? [mesh.faceStart[i], mesh.faceStart[i + 1]]
      : [vertexCornerStart[i], Math.min(vertexCornerStart[i] + 1, vertexCornerStart[i + 1])];
  return triples(WAY, help, (i, out, o) => {
    const [from, to] = corners(i);
    out.fill(0, o, o + 3);
    if (!uv) return;
    for (let k = from; k < to; k++) {
      const c = domain === 'face' ? k : vertexCorner[k];
      out[o] += uv[2 * c] / (to - from);
      out[o + 1] += uv[2 * c + 1] / (to - from);
    }
  });
}

/** The angle between the two sides of a face that meet at a corner, as the face sees it: up to a full turn. */
function cornerAngles(mesh: Mesh): (c: number) => number {
  const { faceStart, cornerVertex, positions: p } = mesh;
  const n = faceNormals(mesh);
  const { cornerFace } = topologyOf(mesh);
  return (c) => {
    const f = cornerFace[c];
    const [s, e] = [faceStart[f], faceStart[f + 1]];
    const at = 3 * cornerVertex[c];
    const to = 3 * cornerVertex[c + 1 < e ? c + 1 : s];
    const from = 3 * cornerVertex[c > s ? c - 1 : e - 1];
    const [ux, uy, uz] = [p[to] - p[at], p[to + 1] - p[at + 1], p[to + 2] - p[at + 2]];
    const [vx, vy, vz] = [p[from] - p[at], p[from + 1] - p[at + 1], p[from + 2] - p[at + 2]];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const turned = x * n[3 * f] + y * n[3 * f + 1] + z * n[3 * f + 2] < 0;
    const angle = Math.atan2(Math.hypot(x, y, z), ux * vx + uy * vy + uz * vz);
    return turned ? 2 * Math.PI - angle : angle;
  };
}

const OF_ALL: readonly Domain[] = ['vertex', 'edge', 'face', 'corner'];

/** What each name means and how its column is made, by the domains that have it. */
const NAMES: Readonly<Record<string, readonly [readonly Domain[], (mesh: Mesh, domain: Domain) => Known]>> = table({
  position: [OF_ALL, places],
  normal: [OF_ALL, normals],
  index: [OF_ALL, () => each(PLAIN, 'its number, from 0', (i) => i)],
  count: [OF_ALL, (mesh, domain) => ({ type: PLAIN, help: 'how many there are', constant: [sizeOf(mesh, domain)] })],
  part: [OF_ALL, parts],
  share: [OF_ALL, shares],
  angle: [['corner'], (mesh) => each(ANGLE, 'the angle between the two sides that meet there', cornerAngles(mesh))],
  face: [
    ['corner'],
    (mesh) => {
      const { cornerFace } = topologyOf(mesh);
      return each(PLAIN, 'the number of its face, from 0', (c) => cornerFace[c]);
    },
  ],
  area: [['face'], (mesh) => each(AREA, 'its area', faceAreas(mesh))],
  sides: [['face'], (mesh) => each(PLAIN, 'how many sides it has', sidesOf(mesh))],
  edge_length: [['edge'], (mesh) => each(LENGTH, 'how long it is', edgeLengths(mesh))],
  bend: [
    ['edge'],
    (mesh) => {
      const bend = bends(mesh);
      return each(ANGLE, 'how far the surface bends over it', (e) => Math.max(0, bend(e)));
    },
  ],
  faces: [['edge'], (mesh) => each(PLAIN, 'how many faces meet on it', facesOnEdge(mesh))],
  curvature: [
    OF_ALL,
    (mesh, domain) =>
      each(
        BENT,
        'how much the surface bends there: above 0 on ridges, below in grooves',
        ofVertices(mesh, domain, meanCurvatures(mesh)),
      ),
  ],
  openness: [
    OF_ALL,
    (mesh, domain) => each(PLAIN, 'how much sky it sees, 0 to 1', ofVertices(mesh, domain, opennessOf(mesh))),
  ],
  border: [OF_ALL, borders],
  uv: [['vertex', 'face', 'corner'], sheet],
  valence: [['vertex'], (mesh) => each(PLAIN, 'how many edges meet at it', valences(mesh))],
});

/** An attribute can be asked for where it is, and at corners that of their vertex or their face. */
const hasAttribute = (mesh: Mesh, domain: Domain, name: string): boolean => {
  const a = Object.hasOwn(mesh.attributes, name) ? mesh.attributes[name] : undefined;
  return a !== undefined && (a.domain === domain || domain === 'corner');
};

/** Attributes of one's own and of files, by their names. */
function attribute(mesh: Mesh, domain: Domain, name: string): Known | undefined {
  if (!hasAttribute(mesh, domain, name)) return undefined;
  const { width: w, data, domain: own } = mesh.attributes[name];
  if (w > 4 || w === 2) return undefined;
  const at = (i: number): number => {
    if (own === domain) return i;
    return own === 'vertex' ? mesh.cornerVertex[i] : topologyOf(mesh).cornerFace[i];
  };
  if (w === 1) return each(PLAIN, 'an attribute of the mesh', (i) => data[at(i)]);
  return triples(name === 'color' ? COLOUR : WAY, 'an attribute of the mesh', (i, out, o) => {
    const from = w * at(i);
    for (let k = 0; k < 3; k++) out[o + k] = data[from + k];
  });
}

/** Faces of a set or of a material: yes or no. */
function member(mesh: Mesh, domain: Domain, of: string, name: string): Known | undefined {
  const [data, names] =
    of === 'set' ? [mesh.attributes.group?.data, mesh.groups] : [mesh.attributes.material?.data, mesh.slots];
  if (domain !== 'face' && domain !== 'corner') return undefined;
  const wanted = names.indexOf(name);
  const is = (f: number): number => (wanted >= 0 && data && data[f] === wanted ? 1 : 0);
  if (domain === 'face') return each(TRUTH, `whether it is of the ${of}`, is);
  const { cornerFace } = topologyOf(mesh);
  return each(TRUTH, `whether its face is of the ${of}`, (c) => is(cornerFace[c]));
}

/** How far it is to the faces of a set, straight. */
function away(mesh: Mesh, domain: Domain, name: string): Known {
  const wanted = mesh.groups.indexOf(name);
  const of = mesh.attributes.group?.data;
  const faces = wanted >= 0 && of ? [...of.keys()].filter((f) => of[f] === wanted) : [];
  const far = ofVertices(mesh, domain, distancesTo(mesh, faces));
  return each(LENGTH, 'how far it is to the faces of a set', far);
}

/** Names of the elements of a mesh, besides those of `also` (dials). `unit`: metres of the project's unit. */
export function elementScope(mesh: Mesh, domain: Domain, unit: number, also?: Pick<Scope, 'known' | 'names'>): Scope {
  const made = new Map<string, Known>();
  return {
    unit,
    known: (name) => {
      const had = made.get(name);
      if (had) return had;
      const def = NAMES[name];
      const found = def?.[0].includes(domain)
        ? def[1](mesh, domain)
        : (also?.known(name) ?? attribute(mesh, domain, name));
      if (found) made.set(name, found);
      return found;
    },
    names: () => [
      ...Object.keys(NAMES).filter((n) => NAMES[n][0].includes(domain)),
      ...(also?.names() ?? []),
      ...Object.keys(mesh.attributes).filter((n) => hasAttribute(mesh, domain, n)),
    ],
    asked: (of, text) => {
      if (of === 'away') return away(mesh, domain, text);
      return of === 'set' || of === 'material' ? member(mesh, domain, of, text) : undefined;
    },
  };
}
