/** The view: what the worker sent, drawn on demand with three.js. Knows nothing of React; told everything by calls. */
import * as THREE from 'three';
import type { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import { edgeKeys, mask, resolve, type Pick, type PickKind } from '../../../core/mesh/picks';
import type { Mesh } from '../../../core/mesh/mesh';
import { topologyOf, edgeValence } from '../../../core/mesh/topology';
import { triangulate, type Triangles } from '../../../core/mesh/triangulate';
import type { Material, Piece } from '../../../document/types';
import type { Edited, PieceShown } from '../../../workers/protocol';
import type { Handle, PickMode, Shading } from '../store';
import { Camera } from './camera';
import { Handles } from './handles';
import { checker, clay, color, ofMaterial, ofTexture, studio } from './looks';
import { dispose, edgeLines, faceWash, ground, points, stitches, wide } from './marks';
import { castRay, inBox, nearEdges, nearVertices, project, type ScreenBox } from './picking';

/** Edges on clay are dark in both themes: clay is light in both. */
const EDGE = new THREE.Color('#2a2620');

interface Shown { hash: string; group: THREE.Group; surface: THREE.Mesh; lines: THREE.LineSegments; look: string; sent: PieceShown }

export interface Under { kind: PickMode; index: number; piece?: string; point: THREE.Vector3 }

export class Viewer {
  readonly camera = new Camera();
  readonly handles = new Handles();
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private readonly pieces = new Map<string, Shown>();
  private floor = new THREE.Group();
  private marks = new THREE.Group();
  private hoverMark = new THREE.Group();
  private cage = new THREE.Group();
  private readonly size = new THREE.Vector2(1, 1);
  private asked = false;
  private mesh: Mesh | null = null;
  private triangles: Triangles | null = null;
  private screen: Float32Array | null = null;
  private shading: Shading = 'clay';
  private focus: string | null = null;
  private materials: readonly Material[] = [];
  private gridStep = 0.05;
  private studio: THREE.Texture | null = null;
  private readonly sky = new THREE.HemisphereLight('#fffaf0', '#9c9484', 1.6);
  onDraw: () => void = () => undefined;

  constructor(private readonly canvas: HTMLCanvasElement) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: true, powerPreference: 'high-performance' });
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setClearColor(0, 0);
    this.renderer.toneMapping = THREE.NoToneMapping;
    const key = new THREE.DirectionalLight('#fff7ea', 1.5), fill = new THREE.DirectionalLight('#dfe6f2', 0.45);
    key.position.set(0.5, 0.9, 0.55);
    fill.position.set(-0.7, 0.2, 0.4);
    this.scene.add(this.sky, key, fill, this.cage, this.marks, this.hoverMark, this.handles.group);
    this.retheme();
    canvas.addEventListener('webglcontextrestored', () => this.invalidate());
  }

  dispose(): void {
    for (const p of this.pieces.values()) dispose(p.group);
    dispose(this.scene);
    this.renderer.dispose();
  }

  resize(width: number, height: number): void {
    this.size.set(width, height);
    this.renderer.setSize(width, height, false);
    this.camera.resize(width, height);
    this.scene.traverse((o) => { const m = (o as THREE.Mesh).material as LineMaterial | undefined; if (m && 'resolution' in m) m.resolution.copy(this.size); });
    this.invalidate();
  }

  /** Draws once, at the next frame. */
  invalidate(): void {
    this.screen = null;
    if (this.asked) return;
    this.asked = true;
    requestAnimationFrame(() => {
      this.asked = false;
      this.handles.draw(this.camera);
      this.renderer.render(this.scene, this.camera.now);
      this.onDraw();
    });
  }

  retheme(): void {
    this.scene.remove(this.floor);
    dispose(this.floor);
    this.floor = ground(this.gridStep);
    this.scene.add(this.floor);
    for (const p of this.pieces.values()) p.look = '';
    this.dress();
  }

  setGrid(step: number): void { if (step !== this.gridStep) { this.gridStep = step; this.retheme(); } }

  /** Takes over what the worker sent. */
  show(shown: ReadonlyMap<string, PieceShown>, pieces: readonly Piece[], materials: readonly Material[], shading: Shading, focus: string | null, edited: Edited | null): void {
    this.shading = shading;
    this.focus = focus;
    // Reflections are made when materials are first looked at: clay needs none, and without a graphics card they take seconds.
    if (shading === 'materials') this.studio ??= studio(this.renderer);
    this.scene.environment = shading === 'materials' ? this.studio : null;
    this.scene.environmentIntensity = 0.75;
    this.sky.intensity = shading === 'materials' ? 0.15 : 1.6;
    if (materials !== this.materials) { this.materials = materials; for (const p of this.pieces.values()) p.look = ''; }
    const visible = (id: string | null): boolean => id === null || pieces.some((p) => p.id === id && p.visible && visible(p.parent));
    for (const [id, p] of this.pieces) if (!shown.has(id)) { this.scene.remove(p.group); dispose(p.group); this.pieces.delete(id); }
    for (const [id, s] of shown) {
      const had = this.pieces.get(id);
      if (had) had.group.visible = visible(id);
      if (!s.buffers || had?.hash === s.hash) continue;
      if (had) { this.scene.remove(had.group); dispose(had.group); }
      const b = s.buffers, g = new THREE.BufferGeometry();
      g.setAttribute('position', new THREE.BufferAttribute(b.position, 3));
      g.setAttribute('normal', new THREE.BufferAttribute(b.normal, 3));
      if (b.uv) g.setAttribute('uv', new THREE.BufferAttribute(b.uv, 2));
      g.setIndex(new THREE.BufferAttribute(b.index, 1));
      const lg = new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(b.edgePosition, 3)).setAttribute('ink', new THREE.BufferAttribute(b.edgeInk, 1));
      const surface = new THREE.Mesh(g, clay()), lines = new THREE.LineSegments(lg, inkMaterial());
      lines.renderOrder = 2;
      const group = new THREE.Group().add(surface, lines);
      group.visible = visible(id);
      this.scene.add(group);
      this.pieces.set(id, { hash: s.hash, group, surface, lines, look: '', sent: s });
    }
    this.dress(edited);
    this.invalidate();
  }

  /** Gives every piece the materials of the shading; only where they changed. */
  private dress(edited?: Edited | null): void {
    for (const [id, p] of this.pieces) {
      const b = p.sent.buffers!, focused = id === this.focus;
      const checkered = this.shading === 'checker' && focused && b.uv;
      const look = this.shading === 'materials' ? 'materials' : checkered ? 'checker' : this.shading === 'checker' ? 'clay' : this.shading;
      if (p.look !== look) {
        p.look = look;
        for (const m of Array.isArray(p.surface.material) ? p.surface.material : [p.surface.material]) { (m as THREE.MeshStandardMaterial).map?.dispose?.(); m.dispose(); }
        p.surface.geometry.clearGroups();
        if (look === 'materials' && p.sent.texture && b.uv) p.surface.material = ofTexture(p.sent.texture);
        else if (look === 'materials' && b.slot) this.bySlot(p);
        else p.surface.material = look === 'checker' ? checker() : clay();
        const m = p.surface.material as THREE.MeshStandardMaterial;
        if (look === 'xray') { m.transparent = true; m.opacity = 0.28; m.depthWrite = false; }
        p.surface.visible = look !== 'lines';
      }
      // With a cage over a smoothed result, the cage's lines are the ones that matter.
      const caged = focused && edited && edited.piece === id && !edited.same;
      p.lines.visible = (!caged || this.shading === 'lines') && (this.shading !== 'materials' || focused);
      (p.lines.material as THREE.ShaderMaterial).uniforms.strength.value = this.shading === 'lines' ? 1.5 : this.shading === 'materials' ? 0.35 : focused ? 1 : 0.6;
      (p.lines.material as THREE.ShaderMaterial).uniforms.paint.value.copy(this.shading === 'lines' ? color('ink') : EDGE);
    }
  }

  /** Triangles sorted by slot, one draw group for each material. */
  private bySlot(p: Shown): void {
    const b = p.sent.buffers!, slot = b.slot!, n = b.slots.length + 1;
    const of = (i: number) => { const s = slot[b.triangleFace[i]]; return s >= 0 && s < n - 1 ? s : n - 1; };
    const start = new Uint32Array(n + 1), total = b.triangleFace.length, index = new Uint32Array(b.index.length);
    for (let i = 0; i < total; i++) start[of(i) + 1]++;
    for (let s = 0; s < n; s++) start[s + 1] += start[s];
    const fill = start.slice();
    for (let i = 0; i < total; i++) { const at = fill[of(i)]++; for (let k = 0; k < 3; k++) index[3 * at + k] = b.index[3 * i + k]; }
    const g = p.surface.geometry;
    g.setIndex(new THREE.BufferAttribute(index, 1));
    for (let s = 0; s < n; s++) if (start[s + 1] > start[s]) g.addGroup(3 * start[s], 3 * (start[s + 1] - start[s]), s);
    p.surface.material = Array.from({ length: n }, (_, s) => ofMaterial(this.materials.find((m) => m.id === b.slots[s])));
  }

  setEdited(mesh: Mesh | null, edited: Edited | null): void {
    this.hover(null); // it marked the mesh that was
    this.mesh = mesh;
    this.triangles = mesh ? triangulate(mesh) : null;
    this.screen = null;
    this.scene.remove(this.cage);
    dispose(this.cage);
    this.cage = new THREE.Group();
    if (mesh && edited && !edited.same) {
      this.cage.add(wide(edited.lines, this.shading === 'lines' ? color('ink') : EDGE, 1, this.size));
      (this.cage.children[0] as THREE.Mesh<THREE.BufferGeometry, LineMaterial>).material.opacity = 0.38;
    }
    this.scene.add(this.cage);
    this.dress(edited);
    this.invalidate();
  }

  /** Marks what is picked, and the seams and open borders where those matter. */
  mark(pick: Pick, last: number | null, mode: PickMode, seams: { cut: Pick; hold: Pick } | null): void {
    this.scene.remove(this.marks);
    dispose(this.marks);
    this.marks = new THREE.Group();
    const mesh = this.mesh;
    if (mesh && this.triangles) {
      const through = this.shading === 'lines' || this.shading === 'xray';
      if (seams) {
        this.marks.add(stitches(mesh, resolve(mesh, seams.cut).indices, color('seam'), this.size, this.camera.pixel(this.camera.target)));
        this.marks.add(edgeLines(mesh, resolve(mesh, seams.hold).indices, color('value'), 3, this.size));
      }
      const t = topologyOf(mesh);
      if (mode !== 'piece' && t.edgeCount < 200000) {
        const open: number[] = [];
        for (let e = 0; e < t.edgeCount; e++) if (edgeValence(t, e) === 1) open.push(e);
        const dashes = edgeLines(mesh, open, color('wrong'), 1.6, this.size);
        const m = dashes.material as LineMaterial, k = this.camera.pixel(this.camera.target);
        m.dashed = true; m.dashSize = 6 * k; m.gapSize = 4 * k;
        dashes.computeLineDistances();
        this.marks.add(dashes);
      }
      const { indices } = resolve(mesh, pick), jade = color('picked');
      const lastAt = last === null ? [] : Array.from(resolve(mesh, { kind: pick.kind, keys: [last] }).indices);
      if (pick.kind === 'face') {
        this.marks.add(faceWash(mesh, this.triangles, mask(mesh.faceCount, indices), jade, 0.4), edgeLines(mesh, edgesOf(mesh, indices), jade, 1.8, this.size, through));
        if (indices.length > 1) this.marks.add(edgeLines(mesh, edgesOf(mesh, lastAt), color('last'), 2.2, this.size, through));
      } else if (pick.kind === 'edge') {
        this.marks.add(edgeLines(mesh, indices, jade, 3.4, this.size, through));
        if (indices.length > 1) this.marks.add(edgeLines(mesh, lastAt, color('last'), 3.4, this.size, through));
      } else {
        if (mode === 'vertex' && mesh.vertexCount < 20000) this.marks.add(points(mesh, Array.from({ length: mesh.vertexCount }, (_, v) => v), color('ink'), 4.5 * Math.min(2, window.devicePixelRatio)));
        this.marks.add(points(mesh, indices, jade, 9 * Math.min(2, window.devicePixelRatio), through), points(mesh, lastAt, color('last'), 9 * Math.min(2, window.devicePixelRatio), through));
      }
    }
    this.scene.add(this.marks);
    this.invalidate();
  }

  hover(under: Under | null): void {
    if (!under && this.hoverMark.children.length === 0) return;
    this.scene.remove(this.hoverMark);
    dispose(this.hoverMark);
    this.hoverMark = new THREE.Group();
    const mesh = this.mesh;
    if (under && mesh && under.kind !== 'piece') {
      const ink = color('ink');
      if (under.kind === 'face') this.hoverMark.add(edgeLines(mesh, edgesOf(mesh, [under.index]), ink, 2, this.size));
      else if (under.kind === 'edge') this.hoverMark.add(edgeLines(mesh, [under.index], ink, 3, this.size));
      else this.hoverMark.add(points(mesh, [under.index], ink, 9 * Math.min(2, window.devicePixelRatio)));
    } else if (under?.piece) {
      const p = this.pieces.get(under.piece);
      if (p) { const outline = new THREE.LineSegments(p.lines.geometry.clone(), new THREE.LineBasicMaterial({ color: color('ink') })); this.hoverMark.add(outline); }
    }
    this.scene.add(this.hoverMark);
    this.invalidate();
  }

  setHandles(kind: Handle | 'along' | null, at: readonly [number, number, number] | null, along?: readonly [number, number, number]): void {
    this.handles.kind = at ? kind : null;
    if (at) this.handles.at.fromArray(at);
    if (along) this.handles.along.fromArray(along).normalize();
    this.invalidate();
  }

  rayAt(x: number, y: number): THREE.Ray { return this.camera.ray((x / this.size.x) * 2 - 1, 1 - (y / this.size.y) * 2); }

  private onScreen(): Float32Array | null {
    if (this.mesh && !this.screen) this.screen = project(this.mesh, this.camera.now, this.size.x, this.size.y);
    return this.screen;
  }

  /** What lies under the pointer, of the kind that is picked. */
  under(x: number, y: number, mode: PickMode): Under | null {
    const ray = this.rayAt(x, y), through = this.shading === 'lines' || this.shading === 'xray';
    if (mode === 'piece') {
      let best: Under | null = null, near = Infinity;
      for (const [id, p] of this.pieces) {
        if (!p.group.visible || !p.sent.buffers) continue;
        const h = castRay(ray, p.sent.buffers.position, p.sent.buffers.index, p.sent.buffers.triangleFace);
        if (h && h.distance < near) { near = h.distance; best = { kind: 'piece', index: -1, piece: id, point: h.point }; }
      }
      return best;
    }
    const mesh = this.mesh, t = this.triangles, screen = this.onScreen();
    if (!mesh || !t || !screen) return null;
    const cornerIndex = this.vertexIndex(mesh, t);
    if (mode === 'face') {
      const h = castRay(ray, mesh.positions, cornerIndex, t.face);
      return h ? { kind: 'face', index: h.face, point: h.point } : null;
    }
    const p = mesh.positions, at = new THREE.Vector3(), to = new THREE.Vector3();
    const seen = (q: THREE.Vector3) => {
      if (through) return true;
      const s = q.clone().project(this.camera.now), r = this.camera.ray(s.x, s.y);
      const d = q.clone().sub(r.origin).dot(r.direction), h = castRay(r, mesh.positions, cornerIndex, t.face);
      return !h || h.distance > d - Math.max(1e-6, d * 2e-3);
    };
    if (mode === 'vertex') {
      for (const v of nearVertices(mesh, screen, x, y, 12).slice(0, 8)) { at.fromArray(p, 3 * v); if (seen(at)) return { kind: 'vertex', index: v, point: at }; }
      return null;
    }
    const { edgeVertex } = topologyOf(mesh);
    for (const { edge, at: s } of nearEdges(mesh, screen, x, y, 9).slice(0, 8)) {
      at.fromArray(p, 3 * edgeVertex[2 * edge]).lerp(to.fromArray(p, 3 * edgeVertex[2 * edge + 1]), Math.min(0.9, Math.max(0.1, s)));
      if (seen(at)) return { kind: 'edge', index: edge, point: at };
    }
    return null;
  }

  private indexFor: Triangles | null = null;
  private indexed = new Uint32Array(0);
  private vertexIndex(mesh: Mesh, t: Triangles): Uint32Array {
    if (this.indexFor !== t) { this.indexFor = t; this.indexed = t.corners.map((c) => mesh.cornerVertex[c]); }
    return this.indexed;
  }

  inBox(box: ScreenBox, kind: PickKind): number[] {
    const screen = this.onScreen();
    return this.mesh && screen ? inBox(this.mesh, kind, screen, box, this.shading === 'lines' || this.shading === 'xray') : [];
  }

  /** A picked element's key. */
  keyOf(under: Under): number {
    const mesh = this.mesh!;
    return under.kind === 'face' ? mesh.faceKey[under.index] : under.kind === 'edge' ? edgeKeys(mesh)[under.index] : mesh.vertexKey[under.index];
  }

  /** Where an element's middle is on the screen: for tests and for the menu. */
  screenOf(kind: PickKind, index: number): [number, number] | null {
    const mesh = this.mesh, s = this.onScreen();
    if (!mesh || !s) return null;
    const list = kind === 'vertex' ? [index] : kind === 'edge' ? [...topologyOf(mesh).edgeVertex.subarray(2 * index, 2 * index + 2)] : [...mesh.cornerVertex.subarray(mesh.faceStart[index], mesh.faceStart[index + 1])];
    return [list.reduce((n, v) => n + s[3 * v], 0) / list.length, list.reduce((n, v) => n + s[3 * v + 1], 0) / list.length];
  }

  see(bounds: { min: readonly number[]; max: readonly number[] } | null): void {
    const box = new THREE.Box3();
    if (bounds) box.set(new THREE.Vector3(...(bounds.min as [number, number, number])), new THREE.Vector3(...(bounds.max as [number, number, number])));
    else for (const p of this.pieces.values()) if (p.group.visible && p.sent.bounds) box.union(new THREE.Box3(new THREE.Vector3(...p.sent.bounds.min), new THREE.Vector3(...p.sent.bounds.max)));
    this.camera.see(box);
    this.invalidate();
  }
}

function edgesOf(mesh: Mesh, faces: ArrayLike<number>): number[] {
  const { cornerEdge } = topologyOf(mesh), out = new Set<number>();
  for (let i = 0; i < faces.length; i++) for (let c = mesh.faceStart[faces[i]]; c < mesh.faceStart[faces[i] + 1]; c++) out.add(cornerEdge[c]);
  return [...out];
}

/** Ink lines whose strength comes with each edge. */
const inkMaterial = (): THREE.ShaderMaterial => new THREE.ShaderMaterial({
  transparent: true, depthWrite: false, uniforms: { paint: { value: color('ink') }, strength: { value: 1 } },
  vertexShader: 'attribute float ink; varying float a; void main(){a=ink;gl_Position=projectionMatrix*modelViewMatrix*vec4(position,1.);gl_Position.z-=0.00008*gl_Position.w;}',
  fragmentShader: 'uniform vec3 paint; uniform float strength; varying float a; void main(){gl_FragColor=vec4(paint,min(1.,a*strength));\n#include <colorspace_fragment>\n}',
});
