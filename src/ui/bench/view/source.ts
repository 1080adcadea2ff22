/**
 * One recipe's result on the graphics card: its faces and lines, drawn in many places by one call each, in the look of
 * a pane.
 */
import * as THREE from 'three';
import type { Material, ProjectImage } from '../../../document/types';
import type { PieceShown } from '../../../workers/protocol';
import type { Shading } from '../store';
import { BARE, checker, clay, color, ofMaterial, ofTexture } from './looks';
import { dispose } from './marks';
import { Picker } from './picker';

/** Edges on clay are dark in both themes: clay is light in both. */
export const EDGE = new THREE.Color('#2a2620');

type Look = 'materials' | 'checker' | 'clay' | 'xray' | 'lines';
type Surface = THREE.Material | THREE.Material[];

interface Part {
  surface: THREE.InstancedMesh;
  lines: THREE.LineSegments;
  curves?: THREE.LineSegments;
}

/** Parts the places of solid ones from those of ghosts; equal to no place. */
const MARK = new THREE.Matrix4().set(NaN, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0);
/** Changed places nearer than this go to the graphics card together. */
const GAP = 256;
const MOST_RANGES = 64;

/** Has the changed items (rising, `per` entries of the attribute each) sent to the graphics card, or all. */
function renew(attribute: THREE.BufferAttribute, items?: Uint32Array, per = 1): void {
  if (items?.length === 0) return;
  attribute.needsUpdate = true;
  if (!items) {
    attribute.clearUpdateRanges();
    attribute.addUpdateRange(0, attribute.array.length);
    return;
  }
  const w = per * attribute.itemSize;
  let start = 0;
  let ranges = 0;
  for (let i = 1; i <= items.length; i++) {
    const last = i === items.length;
    if (!last && (items[i] - items[i - 1] < GAP || ranges >= MOST_RANGES)) continue;
    attribute.addUpdateRange(w * items[start], w * (items[i - 1] - items[start] + 1));
    start = i;
    ranges++;
  }
}

/** One recipe's result, and everywhere it stands. */
export class Source {
  readonly group = new THREE.Group();
  readonly geometry = new THREE.BufferGeometry();
  readonly picker: Picker;
  private readonly looks = new Map<string, Surface>();
  private parts: Part[] = [];
  private ghosts: THREE.LineSegments[] = [];
  /** Place of each triangle in the order of materials, once they are drawn in it. */
  private order: Uint32Array | undefined;
  private standing: readonly THREE.Matrix4[] | undefined;
  private readonly sphere = new THREE.Sphere();
  /** About how long an edge is. */
  private readonly grain: number;

  constructor(public sent: PieceShown) {
    const b = sent.buffers!;
    const g = this.geometry;
    this.measure();
    this.grain = (2 * this.sphere.radius) / Math.sqrt(Math.max(1, b.edgePosition.length / 18));
    // The renderer would else work these out from every vertex at the first frame, only to sort by them.
    g.boundingSphere = this.sphere;
    g.setAttribute('position', new THREE.BufferAttribute(b.position, 3));
    g.setAttribute('normal', new THREE.BufferAttribute(b.normal, 3));
    if (b.uv) g.setAttribute('uv', new THREE.BufferAttribute(b.uv, 2));
    if (b.uv2) g.setAttribute('uv1', new THREE.BufferAttribute(b.uv2, 2));
    if (b.color) g.setAttribute('color', new THREE.BufferAttribute(b.color, 4));
    g.setIndex(new THREE.BufferAttribute(b.index, 1));
    this.picker = new Picker(b.position, b.index, b.triangleFace, sent.bounds);
  }

  private measure(): void {
    const b = this.sent.bounds;
    if (b && b.min[0] <= b.max[0])
      new THREE.Box3(new THREE.Vector3(...b.min), new THREE.Vector3(...b.max)).getBoundingSphere(this.sphere);
  }

  /** Follows a patch that was written to its buffers: only what changed goes to the graphics card. */
  follow(sent: PieceShown): void {
    const { buffers: b, patch } = sent;
    // Where more than one patch was written since the last time, only the last is known: all of it goes.
    const known = patch && patch.base === this.sent.hash ? patch : undefined;
    this.sent = sent;
    this.measure();
    this.picker.moved(sent.bounds);
    const g = this.geometry;
    renew(g.getAttribute('position') as THREE.BufferAttribute, known?.corners);
    renew(g.getAttribute('normal') as THREE.BufferAttribute, known?.corners);
    if (this.order) {
      const index = g.index!.array;
      this.order.forEach((to, t) => index.set(b!.index.subarray(3 * t, 3 * t + 3), 3 * to));
    }
    renew(g.index!, this.order ? undefined : known?.triangles, 3);
    for (const l of [...this.parts.map((p) => p.lines), ...this.ghosts.slice(0, 1)]) {
      renew(l.geometry.getAttribute('position') as THREE.BufferAttribute, known?.edges, 2);
      renew(l.geometry.getAttribute('ink') as THREE.BufferAttribute, known?.edges, 2);
    }
  }

  /** Puts it in its places. */
  stand(at: readonly THREE.Matrix4[], ghosts: readonly THREE.Matrix4[]): void {
    const now = [...at, MARK, ...ghosts];
    const had = this.standing;
    if (had?.length === now.length && now.every((m, i) => m === had[i] || m.equals(had[i]))) return;
    this.standing = now;
    for (const o of [
      ...this.parts.flatMap((p) => [p.surface, p.lines, ...(p.curves ? [p.curves] : [])]),
      ...this.ghosts,
    ]) {
      this.group.remove(o);
      if (!(o instanceof THREE.InstancedMesh)) {
        o.geometry.dispose();
        (o.material as THREE.Material).dispose();
      } else o.dispose();
    }
    this.parts = [at.filter((m) => m.determinant() >= 0), at.filter((m) => m.determinant() < 0)].flatMap(
      (list, mirrored) => (list.length ? [this.part(list, mirrored === 1)] : []),
    );
    this.ghosts = ghosts.length
      ? [
          this.lineSegments(this.sent.buffers!.edgePosition, this.sent.buffers!.edgeInk, ghosts, true),
          ...this.curveLines(ghosts),
        ]
      : [];
    for (const l of this.ghosts) {
      const m = l.material as THREE.ShaderMaterial;
      m.depthTest = false;
      m.uniforms.strength.value = 0.8;
      l.renderOrder = 9;
    }
    for (const p of this.parts) this.group.add(p.surface, p.lines, ...(p.curves ? [p.curves] : []));
    for (const l of this.ghosts) this.group.add(l);
  }

  private part(list: readonly THREE.Matrix4[], mirrored: boolean): Part {
    const surface = new THREE.InstancedMesh(this.geometry, clay(), list.length);
    surface.frustumCulled = false;
    surface.boundingSphere = this.sphere;
    // The object itself carries the mirror, so that the card knows which side is the front.
    const flip = new THREE.Matrix4().makeScale(-1, 1, 1);
    if (mirrored) {
      surface.matrixAutoUpdate = false;
      surface.matrix.copy(flip);
    }
    list.forEach((m, i) => surface.setMatrixAt(i, mirrored ? flip.clone().multiply(m) : m));
    const [curves] = this.curveLines(list);
    return {
      surface,
      lines: this.lineSegments(this.sent.buffers!.edgePosition, this.sent.buffers!.edgeInk, list, false),
      ...(curves ? { curves } : {}),
    };
  }

  private curveLines(list: readonly THREE.Matrix4[]): THREE.LineSegments[] {
    const at = this.sent.buffers!.curvePosition;
    if (!at?.length) return [];
    const lines = this.lineSegments(at, new Float32Array(at.length / 3).fill(1), list, false);
    (lines.material as THREE.ShaderMaterial).uniforms.paint.value = color('value');
    return [lines];
  }

  private lineSegments(
    at: Float32Array,
    ink: Float32Array,
    list: readonly THREE.Matrix4[],
    over: boolean,
  ): THREE.LineSegments {
    const g = new THREE.InstancedBufferGeometry();
    const places = new Float32Array(16 * list.length);
    g.setAttribute('position', new THREE.BufferAttribute(at, 3));
    g.setAttribute('ink', new THREE.BufferAttribute(ink, 1));
    list.forEach((m, i) => m.toArray(places, 16 * i));
    g.setAttribute('place', new THREE.InstancedBufferAttribute(places, 16));
    g.instanceCount = list.length;
    g.boundingSphere = this.sphere;
    const lines = new THREE.LineSegments(g, inkMaterial());
    lines.frustumCulled = false;
    lines.renderOrder = over ? 9 : 2;
    return lines;
  }

  /** The materials of a look, made when first needed. */
  private surfaceOf(
    look: Look,
    materials: readonly Material[],
    images: readonly ProjectImage[],
    loaded: () => void,
  ): Surface {
    const had = this.looks.get(look);
    if (had) return had;
    const b = this.sent.buffers!;
    let out: Surface;
    if (look === 'materials' && this.sent.texture && b.uv) out = ofTexture(this.sent.texture);
    else if (look === 'materials' && b.slot) {
      this.sort();
      out = Array.from({ length: b.slots.length + 1 }, (_, s) =>
        ofMaterial(
          materials.find((m) => m.id === b.slots[s]),
          b.uv ? images : [],
          loaded,
          b.color !== undefined,
        ),
      );
    } else if (look === 'materials' && b.color) {
      out = ofMaterial(BARE, [], loaded, true);
    } else out = look === 'checker' ? checker() : clay();
    if (look === 'xray') {
      const m = out as THREE.MeshLambertMaterial;
      m.transparent = true;
      m.opacity = 0.28;
      m.depthWrite = false;
    }
    this.looks.set(look, out);
    return out;
  }

  /**
   * Triangles in the order of their materials, one draw group for each. Other looks draw them all at once and do not
   * mind.
   */
  private sort(): void {
    if (this.order) return;
    const b = this.sent.buffers!;
    const slot = b.slot!;
    const n = b.slots.length + 1;
    const of = (i: number) => {
      const s = slot[b.triangleFace[i]];
      return s >= 0 && s < n - 1 ? s : n - 1;
    };
    const start = new Uint32Array(n + 1);
    const total = b.triangleFace.length;
    const index = new Uint32Array(b.index.length);
    for (let i = 0; i < total; i++) start[of(i) + 1]++;
    for (let s = 0; s < n; s++) start[s + 1] += start[s];
    const fill = start.slice();
    this.order = new Uint32Array(total);
    for (let i = 0; i < total; i++) {
      const at = fill[of(i)]++;
      this.order[i] = at;
      for (let k = 0; k < 3; k++) index[3 * at + k] = b.index[3 * i + k];
    }
    this.geometry.setIndex(new THREE.BufferAttribute(index, 1));
    for (let s = 0; s < n; s++)
      if (start[s + 1] > start[s]) this.geometry.addGroup(3 * start[s], 3 * (start[s + 1] - start[s]), s);
  }

  dress(
    shading: Shading,
    focused: boolean,
    caged: boolean,
    pixel: number,
    materials: readonly Material[],
    images: readonly ProjectImage[],
    loaded: () => void,
  ): void {
    const checked = focused && this.sent.buffers!.uv ? 'checker' : 'clay';
    const shown: Look = shading === 'checker' ? checked : shading;
    const look: Look = this.sent.heat ? 'materials' : shown;
    const plain = focused ? 1 : 0.6;
    const strength = { lines: 1.5, materials: 0.35 }[shading as string] ?? plain;
    for (const p of this.parts) {
      p.surface.material = this.surfaceOf(look, materials, images, loaded);
      p.surface.visible = look !== 'lines';
      // Edges closer than a pixel or two would only blacken the surface: they fade, and are not drawn at all when they
      // cannot be told apart.
      const fade = shading === 'lines' ? 1 : Math.min(1, Math.max(0, (this.grain / pixel - 1.5) / 4));
      p.lines.visible = fade > 0 && (!caged || shading === 'lines') && (shading !== 'materials' || focused);
      const u = (p.lines.material as THREE.ShaderMaterial).uniforms;
      u.strength.value = fade * strength;
      u.paint.value.copy(shading === 'lines' ? color('ink') : EDGE);
    }
  }

  forgetLooks(): void {
    for (const s of this.looks.values()) for (const m of Array.isArray(s) ? s : [s]) m.dispose();
    this.looks.clear();
    for (const l of this.ghosts) (l.material as THREE.ShaderMaterial).uniforms.paint.value = color('ink');
  }

  dispose(): void {
    this.stand([], []);
    this.forgetLooks();
    this.geometry.dispose();
    dispose(this.group);
  }
}

/** Ink lines whose strength comes with each edge. */
const inkMaterial = (): THREE.ShaderMaterial =>
  new THREE.ShaderMaterial({
    transparent: true,
    depthWrite: false,
    uniforms: { paint: { value: color('ink') }, strength: { value: 1 } },
    vertexShader:
      'attribute float ink; attribute mat4 place; varying float a; void ' +
      'main(){a=ink;gl_Position=projectionMatrix*modelViewMatrix*place*vec4(position,1.);gl_Position.z-=0.00008*gl_Position.w;}',
    fragmentShader:
      'uniform vec3 paint; uniform float strength; varying float a; void ' +
      'main(){gl_FragColor=vec4(paint,min(1.,a*strength));\n#include <colorspace_fragment>\n}',
  });
