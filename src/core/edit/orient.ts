/**
 * Which way faces look. Turned round as picked; or made to agree with their neighbours and look outwards: a part that
 * is closed encloses a volume over 0, of one that is open most of its area looks away from its middle.
 */
import { EVERY, pulse } from '../math/pulse';
import { gatherAttributes } from '../mesh/gather';
import { NORMAL, type Mesh } from '../mesh/mesh';
import { faceNormal } from '../mesh/normals';
import { mask } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';

/** Turns the marked faces inside out; keys and what corners carry stay with them. */
export function turnRound(mesh: Mesh, marked: Uint8Array): Mesh {
  const order = new Uint32Array(mesh.cornerCount);
  let any = false;
  for (let f = 0; f < mesh.faceCount; f++) {
    if ((f & EVERY) === 0) pulse();
    const s = mesh.faceStart[f];
    const e = mesh.faceStart[f + 1];
    order[s] = s;
    for (let c = s + 1; c < e; c++) order[c] = marked[f] ? e - (c - s) : c;
    if (marked[f]) any = true;
  }
  if (!any) return mesh;
  const { [NORMAL]: _, ...carried } = mesh.attributes;
  return mesh.with({
    cornerVertex: mesh.cornerVertex.map((_v, c) => mesh.cornerVertex[order[c]]),
    attributes: gatherAttributes(carried, { corner: order }),
  });
}

export const flip = (mesh: Mesh, faces: ArrayLike<number>): Mesh => turnRound(mesh, mask(mesh.faceCount, faces));

/**
 * Which faces have to be turned round for a part to agree with itself and look outwards. `twisted` counts edges at
 * which that cannot be: a strip with one side only.
 */
export function wrongWay(mesh: Mesh, faces?: ArrayLike<number>): { marked: Uint8Array; twisted: number } {
  const t = topologyOf(mesh);
  const { positions: p, cornerVertex: cv, faceStart } = mesh;
  const picked = faces ? mask(mesh.faceCount, faces) : new Uint8Array(mesh.faceCount).fill(1);
  const marked = new Uint8Array(mesh.faceCount);
  const seen = new Uint8Array(mesh.faceCount);
  const normal = new Float32Array(3);
  let twisted = 0;
  for (let first = 0; first < mesh.faceCount; first++) {
    if ((first & EVERY) === 0) pulse();
    if (!picked[first] || seen[first]) continue;
    const part = [first];
    seen[first] = 1;
    let open = false;
    for (let i = 0; i < part.length; i++) {
      if ((i & EVERY) === 0) pulse();
      const f = part[i];
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        const e = t.cornerEdge[c];
        const s = t.edgeCornerStart[e];
        if (t.edgeCornerStart[e + 1] - s !== 2) {
          if (t.edgeCornerStart[e + 1] - s === 1) open = true;
          continue;
        }
        const o = t.edgeCorner[s] === c ? t.edgeCorner[s + 1] : t.edgeCorner[s];
        const g = t.cornerFace[o];
        if (!picked[g]) continue;
        const same = cv[c] === cv[o] ? 1 : 0;
        if (!seen[g]) {
          seen[g] = 1;
          marked[g] = marked[f] ^ same;
          part.push(g);
        } else if (f < g && (marked[f] ^ marked[g]) !== same) twisted++;
      }
    }
    // In doubles, about the part's own middle: far from the origin too.
    const middle = [0, 0, 0];
    let corners = 0;
    for (const f of part)
      for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
        for (let k = 0; k < 3; k++) middle[k] += p[3 * cv[c] + k];
        corners++;
      }
    for (let k = 0; k < 3; k++) middle[k] /= corners;
    let volume = 0;
    let agree = 0;
    for (const f of part) {
      faceNormal(mesh, f, normal, 0, true);
      const s = faceStart[f];
      const n = faceStart[f + 1] - s;
      let height = 0;
      for (let k = 0; k < 3; k++) {
        let at = 0;
        for (let c = s; c < s + n; c++) at += (p[3 * cv[c] + k] - middle[k]) / n;
        height += at * normal[k];
      }
      const sign = marked[f] ? -1 : 1;
      volume += sign * height;
      agree += sign;
    }
    // What is flat and open has no outside: there most of the faces say which way is right.
    const size = Math.abs(volume);
    const turn = open && size < 1e-9 ? agree < 0 : volume < 0;
    if (turn) for (const f of part) marked[f] ^= 1;
  }
  return { marked, twisted };
}

export function pointOutward(mesh: Mesh, faces: ArrayLike<number>, tell?: (text: string) => void): Mesh {
  const { marked, twisted } = wrongWay(mesh, faces);
  if (twisted > 0)
    tell?.(`At ${twisted} ${twisted === 1 ? 'edge' : 'edges'} faces cannot agree: the strip has one side only.`);
  return turnRound(mesh, marked);
}
