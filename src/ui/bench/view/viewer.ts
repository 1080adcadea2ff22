/** The view: what the worker sent, drawn on demand with three.js in one pane or four. Knows nothing of React; told everything by calls. */
import * as THREE from 'three';
import type { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import { applyPoint, IDENTITY, toMatrix4, type Affine } from '../../../core/math/affine';
import { keyAt, resolve, verticesOf, type ElementPick, type PickKind } from '../../../core/mesh/picks';
import type { Mesh } from '../../../core/mesh/mesh';
import { topologyOf, edgeValence } from '../../../core/mesh/topology';
import { triangulate } from '../../../core/mesh/triangulate';
import type { ProjectDocument } from '../../../document/types';
import type { Edited, PieceShown, TreeNote } from '../../../workers/protocol';
import type { Handle, PickMode, Shading, SnapKinds, ViewName } from '../store';
import { Camera, type CameraState } from './camera';
import { Handles, type Arrow } from './handles';
import { EDGE, Layer } from './layer';
import { color, studio } from './looks';
import { dispose, edgeLines, faceLines, faceWash, ground, points, stitches, wide } from './marks';
import { Notes, type MeasureLine } from './notes';
import { Picker } from './picker';
import { nearEdges, nearVertices, project, seenOnly, type Hit, type ScreenBox } from './picking';
import { insideOf, type Outline as ScreenOutline, withinOutline } from '../../../core/pick/outline';
import { marksOf } from '../../../core/mesh/marks';
import { elementPoint } from '../../../core/mesh/elements';
import { Outline, type Outlined } from './outline';
import { Planes, type Label } from './planes';
import { snap, type Snapped } from './snap';

/** Which of the three grids a view shows: on the ground, or upright behind what is seen from the front or the side. */
const FLOORS: Readonly<Partial<Record<ViewName, number>>> = { Front: 1, Back: 1, Side: 2, Left: 2 };
/** Of more faces than this not all vertices and edges are gone through for one pick: what is under the pointer tells which are near. */
const LARGE = 60_000;
/** Of more picked faces than this the sides are not drawn. */
const MOST_LINED = 30_000;
/** Levels of creases, over and up to, and how thick they are drawn, pixels. */
const CREASES = [
  [0, 1, 1.8],
  [1, 3, 2.6],
  [3, Infinity, 3.6],
] as const;
/** Of more pieces than this the outlines are not drawn: the pick is told in the tree. */
const MOST_OUTLINED = 2000;

/** As many triangles may be asked whether they hide something before only the way faces look is. */
const MOST_EFFORT = 2e7;

/** Edges that are marked whatever is picked: seams where one unwraps, creases where one shapes, the heavier the sharper. */
export interface MarkedEdges {
  cut?: ElementPick;
  hold?: ElementPick;
  creases?: ElementPick;
  sharpness?: number;
}

export interface Under {
  kind: PickMode;
  index: number;
  piece?: string;
  point: THREE.Vector3;
  triangle?: number;
}

export interface Pane {
  camera: Camera;
  shading: Shading;
  x: number;
  y: number;
  width: number;
  height: number;
  past: CameraState[];
  future: CameraState[];
}

export interface DrawnLabel {
  id: string;
  text: string;
  kind: Label['kind'];
  x: number;
  y: number;
}

const pane = (view: ViewName): Pane => {
  const camera = new Camera();
  camera.view = view;
  return { camera, shading: 'clay', x: 0, y: 0, width: 1, height: 1, past: [], future: [] };
};

export class Viewer {
  readonly handles = new Handles();
  readonly layer = new Layer();
  readonly planes = new Planes();
  panes: Pane[] = [pane('Persp')];
  active = 0;
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private floors: THREE.Group[] = [];
  private marks = new THREE.Group();
  private hoverMark = new THREE.Group();
  private readonly outline = new Outline();
  private cage = new THREE.Group();
  private readonly notes = new Notes();
  /** What lies in the worked-on piece's own space. */
  private readonly own = new THREE.Group();
  private readonly size = new THREE.Vector2(1, 1);
  private asked = false;
  private mesh: Mesh | null = null;
  private edited: Edited | null = null;
  private madePicker: Picker | null = null;
  private screen: Float32Array | null = null;
  private focus: string | null = null;
  private source: string | null = null;
  private gridStep = 0.05;
  private groundShown = true;
  private studio: THREE.Texture | null = null;
  private pivots: { piece: string; at: THREE.Vector3 }[] = [];
  private readonly sky = new THREE.HemisphereLight('#fffaf0', '#9c9484', 1.6);
  private remember: ReturnType<typeof setTimeout> | undefined;
  private settled: CameraState | undefined;
  onDraw: (labels: DrawnLabel[]) => void = () => undefined;

  constructor(private readonly canvas: HTMLCanvasElement) {
    this.renderer = new THREE.WebGLRenderer({
      canvas,
      antialias: true,
      alpha: true,
      powerPreference: 'high-performance',
    });
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setClearColor(0, 0);
    this.renderer.toneMapping = THREE.NoToneMapping;
    this.renderer.setScissorTest(true);
    this.renderer.debug.checkShaderErrors = false; // asking after each shader makes the page wait for the graphics card
    const key = new THREE.DirectionalLight('#fff7ea', 1.5);
    const fill = new THREE.DirectionalLight('#dfe6f2', 0.45);
    key.position.set(0.5, 0.9, 0.55);
    fill.position.set(-0.7, 0.2, 0.4);
    this.own.matrixAutoUpdate = false;
    this.own.add(this.cage, this.marks, this.hoverMark);
    this.scene.add(
      this.sky,
      key,
      fill,
      this.planes.group,
      this.layer.group,
      this.own,
      this.notes.group,
      this.handles.group,
    );
    this.layer.loaded = this.planes.loaded = () => this.invalidate();
    this.retheme();
    canvas.addEventListener('webglcontextrestored', () => this.invalidate());
  }

  dispose(): void {
    this.layer.dispose();
    this.outline.dispose();
    dispose(this.scene);
    this.renderer.dispose();
  }

  // Panes

  get pane(): Pane {
    return this.panes[this.active];
  }
  get camera(): Camera {
    return this.pane.camera;
  }
  private get shading(): Shading {
    return this.pane.shading;
  }

  /** One pane, or four: perspective, front, side and top. */
  setPanes(four: boolean): void {
    if (four === (this.panes.length === 4)) return;
    const from = this.pane.camera;
    if (four) {
      const first = this.panes[0];
      this.panes = [first, pane('Top'), pane('Front'), pane('Side')];
      for (const p of this.panes.slice(1)) {
        p.camera.target.copy(from.target);
        p.camera.distance = from.distance;
        p.shading = first.shading;
      }
      this.active = 0;
    } else {
      this.panes = [this.pane];
      this.active = 0;
    }
    this.layout();
  }

  private layout(): void {
    const w = this.size.x;
    const h = this.size.y;
    const four = this.panes.length === 4;
    const halfW = Math.floor(w / 2);
    const halfH = Math.floor(h / 2);
    this.panes.forEach((p, i) => {
      Object.assign(
        p,
        four
          ? {
              x: i % 2 ? halfW + 1 : 0,
              y: i > 1 ? halfH + 1 : 0,
              width: i % 2 ? w - halfW - 1 : halfW,
              height: i > 1 ? h - halfH - 1 : halfH,
            }
          : { x: 0, y: 0, width: w, height: h },
      );
      p.camera.resize(p.width, p.height);
    });
    this.invalidate();
  }

  resize(width: number, height: number): void {
    this.size.set(width, height);
    this.renderer.setSize(width, height, false);
    this.layout();
  }

  /** Makes the pane under a point of the frame the active one; answers the point in it, and whether it changed. */
  enter(x: number, y: number): { at: [number, number]; changed: boolean } {
    const i = this.panes.findIndex((p) => x >= p.x && x < p.x + p.width && y >= p.y && y < p.y + p.height);
    const changed = i >= 0 && i !== this.active;
    if (changed) {
      this.active = i;
      this.screen = null;
    }
    return { at: this.inPane(x, y), changed };
  }
  inPane(x: number, y: number): [number, number] {
    return [x - this.pane.x, y - this.pane.y];
  }

  /** What is seen now as a small picture; null where nothing was drawn yet. */
  picture(width = 160): string | null {
    if (this.size.x < 2) return null;
    this.draw(); // the drawing buffer is only sure to be there right after
    const sheet = document.createElement('canvas');
    sheet.width = width;
    sheet.height = Math.round((width * this.size.y) / this.size.x);
    const at = sheet.getContext('2d');
    at?.drawImage(this.canvas, 0, 0, sheet.width, sheet.height);
    return at ? sheet.toDataURL('image/webp', 0.7) : null;
  }

  /** Draws once, at the next frame. */
  invalidate(): void {
    this.screen = null;
    if (this.asked) return;
    this.asked = true;
    requestAnimationFrame(() => {
      this.asked = false;
      this.draw();
    });
  }

  private draw(): void {
    const r = this.renderer;
    const caged = !!this.edited && !this.edited.same;
    r.setScissor(0, 0, this.size.x, this.size.y);
    r.setViewport(0, 0, this.size.x, this.size.y);
    r.clear();
    for (const p of this.panes) {
      const materials = p.shading === 'materials';
      // Reflections are made when materials are first looked at: clay needs none, and without a graphics card they take seconds.
      if (materials) this.studio ??= studio(r);
      this.scene.environment = materials ? this.studio : null;
      this.scene.environmentIntensity = 0.75;
      this.sky.intensity = materials ? 0.15 : 1.6;
      this.layer.dress(p.shading, this.source, caged, p.camera.pixel(p.camera.target));
      this.planes.dress(p.camera.view);
      const floor = FLOORS[p.camera.view] ?? 0;
      this.floors.forEach((f, i) => {
        f.visible = this.groundShown && i === floor;
      });
      this.handles.draw(p.camera);
      const y = this.size.y - p.y - p.height;
      r.setViewport(p.x, y, p.width, p.height);
      r.setScissor(p.x, y, p.width, p.height);
      r.render(this.scene, p.camera.now);
      if (this.outline.any) this.outline.draw(r, p.camera.now, p.width, p.height);
    }
    this.onDraw(this.labels());
  }

  private labels(): DrawnLabel[] {
    const out: DrawnLabel[] = [];
    this.panes.forEach((p, i) => {
      this.planes.dress(p.camera.view);
      for (const l of [...this.planes.labels(p.camera.forward()), ...this.notes.labels]) {
        const q = l.at.clone().project(p.camera.now);
        if (q.z > 1 || Math.abs(q.x) > 1 || Math.abs(q.y) > 1) continue;
        out.push({
          id: `${i}/${l.id}`,
          text: l.text,
          kind: l.kind,
          x: p.x + (q.x * 0.5 + 0.5) * p.width,
          y: p.y + (0.5 - q.y * 0.5) * p.height,
        });
      }
    });
    return out;
  }

  retheme(): void {
    for (const f of this.floors) {
      this.scene.remove(f);
      dispose(f);
    }
    this.floors = [ground(this.gridStep, 'x', 'z'), ground(this.gridStep, 'x', 'y'), ground(this.gridStep, 'z', 'y')];
    this.scene.add(...this.floors);
    this.layer.forgetLooks();
    this.invalidate();
  }

  setGround(step: number, shown: boolean): void {
    this.groundShown = shown;
    if (step !== this.gridStep) {
      this.gridStep = step;
      this.retheme();
    } else this.invalidate();
  }

  setShading(shading: Shading): void {
    if (this.pane.shading !== shading) {
      this.pane.shading = shading;
      this.invalidate();
    }
  }

  // View history

  /** Called as the camera moves: once it rests, where it was before becomes the last entry of the pane's history. */
  moved(held = false): void {
    const p = this.pane;
    this.settled ??= this.before ?? p.camera.state;
    clearTimeout(this.remember);
    if (held) return;
    this.remember = setTimeout(() => this.rest(p), 350);
  }
  /** The camera came to rest: where it stood before is a view to go back to. */
  private rest(p: Pane): void {
    clearTimeout(this.remember);
    // Events that moved nothing leave no view behind.
    if (this.settled && JSON.stringify(this.settled) !== JSON.stringify(p.camera.state)) {
      p.past.push(this.settled);
      if (p.past.length > 100) p.past.shift();
      p.future = [];
    }
    this.settled = undefined;
    this.before = p.camera.state;
  }
  private before: CameraState | undefined;
  /** Says where the camera stands before it is moved. */
  begin(): void {
    if (!this.settled) this.before = this.camera.state;
  }

  back(way: -1 | 1): boolean {
    const p = this.pane;
    if (this.settled) this.rest(p); // asked for before the camera had rested
    const from = way < 0 ? p.past : p.future;
    const to = way < 0 ? p.future : p.past;
    const s = from.pop();
    if (!s) return false;
    to.push(p.camera.state);
    p.camera.state = s;
    this.before = s;
    this.invalidate();
    return true;
  }

  // What is shown

  /** Takes over what the worker sent. */
  show(
    shown: ReadonlyMap<string, PieceShown>,
    doc: ProjectDocument,
    world: ReadonlyMap<string, Affine>,
    seen: ReadonlySet<string>,
    focus: string | null,
    edited: Edited | null,
  ): void {
    this.focus = focus;
    this.edited = edited;
    this.source = doc.pieces.find((p) => p.id === focus)?.link ?? focus;
    this.layer.show(shown, doc.pieces, world, seen, doc.materials, doc.images);
    this.planes.show(
      doc.pieces,
      new Map(
        doc.pieces.flatMap((p) =>
          p.kind === 'blueprint'
            ? [[p.id, new THREE.Matrix4().fromArray(toMatrix4(world.get(p.id) ?? IDENTITY))] as const]
            : [],
        ),
      ),
      seen,
      doc.images,
    );
    this.pivots = doc.pieces
      .filter((p) => seen.has(p.id) && p.kind !== 'blueprint')
      .map((p) => ({ piece: p.id, at: new THREE.Vector3(...applyPoint(world.get(p.id) ?? IDENTITY, p.place.pivot)) }));
    this.own.matrix.fromArray(toMatrix4((focus !== null && world.get(focus)) || IDENTITY));
    this.own.matrixWorldNeedsUpdate = true;
    this.own.visible = focus === null || seen.has(focus);
    this.invalidate();
  }

  keepTree(tree: TreeNote): void {
    this.layer.keepTree(tree);
  }

  /** The map from the worked-on piece's own space to the world. */
  get ownWorld(): THREE.Matrix4 {
    return this.own.matrix;
  }

  setEdited(mesh: Mesh | null, edited: Edited | null): void {
    this.hover(null); // it marked the mesh that was
    this.mesh = mesh;
    this.edited = edited;
    this.madePicker = null;
    this.screen = null;
    this.own.remove(this.cage);
    dispose(this.cage);
    this.cage = new THREE.Group();
    if (mesh && edited && !edited.same) {
      this.cage.add(wide(edited.lines, this.shading === 'lines' ? color('ink') : EDGE, 1, this.size));
      (this.cage.children[0] as THREE.Mesh<THREE.BufferGeometry, LineMaterial>).material.opacity = 0.38;
    }
    this.own.add(this.cage);
    this.invalidate();
  }

  /** For picking elements: made when one is first looked for, since a mesh that is dragged changes at every frame. */
  private get picker(): Picker | null {
    const { mesh } = this;
    if (!mesh) return null;
    // What is shown is what is worked on: its triangles, and their tree once the worker has made it, are there.
    if (this.edited?.same && mesh.faceCount > LARGE) {
      const shown = this.layer.pickerOf(this.edited.piece);
      if (shown) return shown;
    }
    if (!this.madePicker) {
      const { corners, face } = triangulate(mesh);
      const vertices = corners.map((c) => mesh.cornerVertex[c]);
      this.madePicker = new Picker(mesh.positions, vertices, face, this.edited?.bounds);
    }
    return this.madePicker;
  }

  /** Marks what is picked, and the seams and open borders where those matter; whole pieces by their lines. */
  mark(
    pick: ElementPick,
    last: number | null,
    mode: PickMode,
    seams: MarkedEdges | null,
    pieces: readonly string[],
  ): void {
    this.marked = [pick, last, mode, seams, pieces];
    this.own.remove(this.marks);
    dispose(this.marks);
    this.marks = new THREE.Group();
    const mesh = this.mesh;
    this.outline.set(mode === 'piece' ? this.outlined(pieces) : []);
    if (mode !== 'piece' && mesh) {
      const through = this.shading === 'lines' || this.shading === 'xray';
      const k = this.camera.pixel(this.camera.target) / this.ownScale();
      if (seams?.cut) this.marks.add(stitches(mesh, resolve(mesh, seams.cut).indices, color('seam'), this.size, k));
      if (seams?.hold) this.marks.add(edgeLines(mesh, resolve(mesh, seams.hold).indices, color('value'), 3, this.size));
      if (seams?.creases) {
        const weight = 1.5 + Math.min(3, (seams.sharpness ?? 10) / 3);
        this.marks.add(edgeLines(mesh, resolve(mesh, seams.creases).indices, color('ink'), weight, this.size));
      }
      const own = marksOf(mesh, 'crease');
      if (own) {
        // As heavy as they are sharp.
        for (const [from, to, weight] of CREASES) {
          const list = Array.from(own.keys()).filter((e) => own[e] > from && own[e] <= to);
          this.marks.add(edgeLines(mesh, list, color('ink'), weight, this.size));
        }
      }
      if (mesh.faceCount < LARGE) {
        const t = topologyOf(mesh);
        const open: number[] = [];
        for (let e = 0; e < t.edgeCount; e++) if (edgeValence(t, e) === 1) open.push(e);
        const dashes = edgeLines(mesh, open, color('wrong'), 1.6, this.size);
        const m = dashes.material as LineMaterial;
        m.dashed = true;
        m.dashSize = 6 * k;
        m.gapSize = 4 * k;
        dashes.computeLineDistances();
        this.marks.add(dashes);
      }
      const { indices } = resolve(mesh, pick);
      const jade = color('picked');
      const lastAt = last === null ? [] : Array.from(resolve(mesh, { kind: pick.kind, keys: [last] }).indices);
      if (pick.kind === 'face') {
        this.marks.add(faceWash(mesh, indices, jade, 0.4));
        if (indices.length < MOST_LINED) this.marks.add(faceLines(mesh, indices, jade, 1.8, this.size, through));
        if (indices.length > 1) this.marks.add(faceLines(mesh, lastAt, color('last'), 2.2, this.size, through));
      } else if (pick.kind === 'edge') {
        this.marks.add(edgeLines(mesh, indices, jade, 3.4, this.size, through));
        if (indices.length > 1) this.marks.add(edgeLines(mesh, lastAt, color('last'), 3.4, this.size, through));
      } else {
        if (mode === 'vertex' && mesh.vertexCount < 20000)
          this.marks.add(
            points(
              mesh,
              Array.from({ length: mesh.vertexCount }, (_, v) => v),
              color('ink'),
              4.5 * Math.min(2, window.devicePixelRatio),
            ),
          );
        this.marks.add(
          points(mesh, indices, jade, 9 * Math.min(2, window.devicePixelRatio), through),
          points(mesh, lastAt, color('last'), 9 * Math.min(2, window.devicePixelRatio), through),
        );
      }
    }
    this.own.add(this.marks);
    this.invalidate();
  }

  private overPiece: string | null = null;

  private outlined(pieces: readonly string[], as: 'picked' | 'under' = 'picked'): Outlined[] {
    return pieces.slice(0, MOST_OUTLINED).flatMap((id, i): Outlined[] => {
      const geometry = this.layer.geometryOf(id);
      const world = this.layer.worldOf(id);
      const last = i === pieces.length - 1 && pieces.length > 1;
      return geometry && world ? [{ geometry, world, how: last ? 'last' : as }] : [];
    });
  }

  /** Marks whose size on the screen depends on where the camera stands are made anew when it rests. */
  markAgain(): void {
    if (this.marked) this.mark(...this.marked);
  }
  private marked: Parameters<Viewer['mark']> | undefined;

  private ownScale(): number {
    return Math.cbrt(Math.abs(this.own.matrix.determinant())) || 1;
  }

  hover(under: Under | null): void {
    const over = under?.piece && under.kind === 'piece' ? under.piece : null;
    if (!under && this.hoverMark.children.length === 0 && this.overPiece === null) return;
    if (over !== this.overPiece) this.outline.hover(over === null ? null : (this.outlined([over], 'under')[0] ?? null));
    this.overPiece = over;
    this.hoverMark.removeFromParent();
    dispose(this.hoverMark);
    this.hoverMark = new THREE.Group();
    const mesh = this.mesh;
    if (under && mesh && under.kind !== 'piece') {
      const ink = color('ink');
      if (under.kind === 'face') this.hoverMark.add(faceLines(mesh, [under.index], ink, 2, this.size));
      else if (under.kind === 'edge') this.hoverMark.add(edgeLines(mesh, [under.index], ink, 3, this.size));
      else this.hoverMark.add(points(mesh, [under.index], ink, 9 * Math.min(2, window.devicePixelRatio)));
      this.own.add(this.hoverMark);
    }
    this.invalidate();
  }

  setHandles(kind: Handle | null, at: readonly number[] | null, axes: THREE.Matrix4 | null = null): void {
    this.handles.kind = at ? kind : null;
    this.handles.arrow = null;
    this.handles.setAxes(axes);
    if (at) this.handles.at.fromArray(at);
    this.invalidate();
  }

  /** One arrow that drives a value of the tool in hand. */
  setArrow(at: readonly number[], way: THREE.Vector3, arrow: Arrow): void {
    this.handles.kind = 'along';
    this.handles.arrow = arrow;
    this.handles.at.fromArray(at);
    this.handles.along.copy(way).normalize();
    this.invalidate();
  }

  // Measures and snapping

  setMeasures(list: readonly MeasureLine[]): void {
    this.notes.setMeasures(list, this.size);
    this.invalidate();
  }

  /** Where things were that a step has lost, in the world. */
  setLost(places: readonly (readonly number[])[]): void {
    this.notes.setLost(places);
    this.invalidate();
  }

  /** A small mark where something would land, with a word for what it is. */
  showSnap(s: Snapped | null): void {
    if (this.notes.showSnap(s, this.camera, this.size)) this.invalidate();
  }

  /** Where the pointer would land. `without`: pieces that are being moved. */
  snapAt(x: number, y: number, kinds: SnapKinds, without?: ReadonlySet<string>): Snapped | null {
    const ray = this.rayAt(x, y);
    const p = this.pane;
    const view = p.camera.view;
    const normal = new THREE.Vector3().setComponent([1, 2, 0][FLOORS[view] ?? 0], 1);
    return snap(
      ray,
      (q) => {
        const s = q.clone().project(p.camera.now);
        return [(s.x * 0.5 + 0.5) * p.width, (0.5 - s.y * 0.5) * p.height];
      },
      x,
      y,
      kinds,
      {
        ray: (a, b) => this.rayAt(a, b),
        cast: (r) => this.layer.cast(r, without && ((id) => !without.has(id))),
        polygon: (id, t) => this.layer.polygon(id, t),
        texel: (h) => this.texel(h),
        pivots: without ? this.pivots.filter((q) => !without.has(q.piece)) : this.pivots,
        plane: (r) => this.planes.cast(r),
      },
      this.gridStep,
      new THREE.Plane(normal, 0),
    );
  }

  /** The middle of the texel a hit lies in, on the surface, where a texture is shown. */
  private texel(h: Hit & { piece: string }): THREE.Vector3 | null {
    const sent = this.layer.sourceOf(h.piece);
    const b = sent?.buffers;
    const size = sent?.texture?.size;
    const world = this.layer.worldOf(h.piece);
    if (!b?.uv || !size || !world) return null;
    const [i, j, k] = [0, 1, 2].map((q) => b.index[3 * h.triangle + q]);
    const p = [i, j, k].map((c) => new THREE.Vector3().fromArray(b.position, 3 * c).applyMatrix4(world));
    const weights = new THREE.Triangle(p[0], p[1], p[2]).getBarycoord(h.point, new THREE.Vector3());
    if (!weights) return null;
    const uv = [i, j, k].map((c) => new THREE.Vector2(b.uv![2 * c], b.uv![2 * c + 1]));
    const at = new THREE.Vector2()
      .addScaledVector(uv[0], weights.x)
      .addScaledVector(uv[1], weights.y)
      .addScaledVector(uv[2], weights.z);
    at.set((Math.floor(at.x * size) + 0.5) / size, (Math.floor(at.y * size) + 0.5) / size);
    const e = uv[1].clone().sub(uv[0]);
    const f = uv[2].clone().sub(uv[0]);
    const d = at.sub(uv[0]);
    const det = e.x * f.y - e.y * f.x;
    if (Math.abs(det) < 1e-20) return null;
    const s = (d.x * f.y - d.y * f.x) / det;
    const t = (e.x * d.y - e.y * d.x) / det;
    return p[0]
      .clone()
      .multiplyScalar(1 - s - t)
      .addScaledVector(p[1], s)
      .addScaledVector(p[2], t);
  }

  // Pointing

  rayAt(x: number, y: number): THREE.Ray {
    return this.camera.ray((x / this.pane.width) * 2 - 1, 1 - (y / this.pane.height) * 2);
  }

  private onScreen(): Float32Array | null {
    if (this.mesh && !this.screen)
      this.screen = project(this.mesh, this.camera.now, this.pane.width, this.pane.height, this.own.matrix);
    return this.screen;
  }

  /** What lies under the pointer (in the active pane), of the kind that is picked. */
  under(x: number, y: number, mode: PickMode): Under | null {
    const ray = this.rayAt(x, y);
    const through = this.picksThrough;
    if (mode === 'piece') {
      const h = this.layer.cast(ray);
      const plane = this.planes.cast(ray);
      if (plane && (!h || plane.distance < h.distance))
        return { kind: 'piece', index: -1, piece: plane.piece, point: plane.point };
      return h ? { kind: 'piece', index: -1, piece: h.piece, point: h.point, triangle: h.triangle } : null;
    }
    const mesh = this.mesh;
    const picker = this.picker;
    if (!mesh || !picker || !this.own.visible) return null;
    const back = this.own.matrix.clone().invert();
    const cast = (r: THREE.Ray) => picker.cast(r.clone().applyMatrix4(back), this.own.matrix.determinant() > 0);
    if (mode === 'face') {
      const h = cast(ray);
      return h ? { kind: 'face', index: h.face, point: h.point.applyMatrix4(this.own.matrix) } : null;
    }
    if (mesh.faceCount > LARGE && !through) {
      const h = cast(ray);
      return h && this.nearIn(mesh, h.face, mode, x, y);
    }
    const screen = this.onScreen();
    if (!screen) return null;
    const p = mesh.positions;
    const at = new THREE.Vector3();
    const to = new THREE.Vector3();
    const seen = (q: THREE.Vector3) => through || this.reached(q, cast);
    if (mode === 'vertex') {
      for (const v of nearVertices(mesh, screen, x, y, 12).slice(0, 8)) {
        at.fromArray(p, 3 * v).applyMatrix4(this.own.matrix);
        if (seen(at)) return { kind: 'vertex', index: v, point: at };
      }
      return null;
    }
    const { edgeVertex } = topologyOf(mesh);
    for (const { edge, at: s } of nearEdges(mesh, screen, x, y, 9).slice(0, 8)) {
      at.fromArray(p, 3 * edgeVertex[2 * edge])
        .lerp(to.fromArray(p, 3 * edgeVertex[2 * edge + 1]), Math.min(0.9, Math.max(0.1, s)))
        .applyMatrix4(this.own.matrix);
      if (seen(at)) return { kind: 'edge', index: edge, point: at };
    }
    return null;
  }

  /** The corner or side of a face that is nearest to the pointer: in a mesh of very many, all others are hidden or farther. */
  private nearIn(mesh: Mesh, face: number, kind: 'vertex' | 'edge', x: number, y: number): Under | null {
    const { width, height } = this.pane;
    const ring = Array.from(mesh.cornerVertex.subarray(mesh.faceStart[face], mesh.faceStart[face + 1]));
    const places = ring.map((v) => new THREE.Vector3().fromArray(mesh.positions, 3 * v).applyMatrix4(this.own.matrix));
    const flat = places.map((p) => {
      const q = p.clone().project(this.camera.now);
      return new THREE.Vector3((q.x * 0.5 + 0.5) * width, (0.5 - q.y * 0.5) * height, 0);
    });
    const pointer = new THREE.Vector3(x, y, 0);
    let best = kind === 'vertex' ? 12 : 9;
    let found: Under | null = null;
    ring.forEach((v, i) => {
      const j = (i + 1) % ring.length;
      const side = new THREE.Line3(flat[i], flat[j]);
      const t = kind === 'edge' ? side.closestPointToPointParameter(pointer, true) : 0;
      const d = side.at(t, new THREE.Vector3()).distanceTo(pointer);
      if (d > best) return;
      best = d;
      const index = kind === 'vertex' ? v : topologyOf(mesh).cornerEdge[mesh.faceStart[face] + i];
      found = { kind, index, point: places[i].clone().lerp(places[j], t) };
    });
    return found;
  }

  /** A place of the world in the space of the piece that is worked on. */
  toOwn(world: THREE.Vector3): THREE.Vector3 {
    return world.clone().applyMatrix4(this.own.matrix.clone().invert());
  }

  /** Where the pointer meets the mesh that is worked on: in the world, in its own space, and the way it looks there in that. */
  surfaceAt(x: number, y: number): { world: THREE.Vector3; own: THREE.Vector3; normal: THREE.Vector3 } | null {
    const { mesh, picker } = this;
    if (!mesh || !picker || !this.own.visible) return null;
    const back = this.own.matrix.clone().invert();
    const h = picker.cast(this.rayAt(x, y).clone().applyMatrix4(back));
    if (!h) return null;
    const [a, b, c] = picker.corners(h.triangle);
    const normal = b.sub(a).cross(c.sub(a)).normalize();
    return { world: h.point.clone().applyMatrix4(this.own.matrix), own: h.point, normal };
  }

  /** How many pixels a length of the piece's own space takes where the pointer is. */
  pixelsOf(length: number, x: number, y: number): number {
    const at = this.surfaceAt(x, y)?.world ?? this.camera.target;
    const scale = Math.cbrt(Math.abs(this.own.matrix.determinant()));
    const up = new THREE.Vector3().setFromMatrixColumn(this.camera.now.matrixWorld, 1).multiplyScalar(length * scale);
    const [p, q] = [at, at.clone().add(up)].map((v) => v.clone().project(this.camera.now));
    return (Math.abs(q.y - p.y) / 2) * this.pane.height;
  }

  /** The wall under the pointer: from its surface straight in, to where it ends. */
  wallAt(x: number, y: number): { thickness: number; point: THREE.Vector3 } | null {
    const ray = this.rayAt(x, y);
    const h = this.layer.cast(ray);
    const t = h && this.layer.thickness(h, ray);
    return h && t !== null ? { thickness: t, point: h.point } : null;
  }

  /** What is hidden is picked too. */
  through = false;

  /** Elements within an outline drawn in the active pane; only what is seen, unless one picks through. */
  within(outline: ScreenOutline, kind: PickKind): number[] {
    const { mesh, picker } = this;
    const screen = this.onScreen();
    if (!mesh || !picker || !screen || !this.own.visible) return [];
    const found = withinOutline(mesh, kind, screen, outline);
    if (this.picksThrough) return Array.from(found);
    const back = this.own.matrix.clone().invert();
    const seen = seenOnly(mesh, kind, found, screen, this.own.matrix.determinant() < 0);
    if (seen.length * picker.effort > MOST_EFFORT) return seen;
    const at = new THREE.Vector3();
    return seen.filter((i) => {
      at.fromArray(elementPoint(mesh, kind, i));
      return this.reached(at.applyMatrix4(this.own.matrix), (r) => picker.cast(r.applyMatrix4(back)));
    });
  }

  private get picksThrough(): boolean {
    return this.shading === 'lines' || this.shading === 'xray' || this.through;
  }

  /** Whether nothing stands between the eye and a point of the world. `cast` takes a ray of its own. */
  private reached(q: THREE.Vector3, cast: (ray: THREE.Ray) => Hit | null): boolean {
    const s = q.clone().project(this.camera.now);
    const r = this.camera.ray(s.x, s.y);
    const d = q.clone().sub(r.origin).dot(r.direction);
    const h = cast(r.clone());
    return !h || h.point.applyMatrix4(this.own.matrix).sub(r.origin).dot(r.direction) > d - Math.max(1e-6, d * 2e-3);
  }

  /** Pieces whose middles lie in an outline. */
  piecesIn(outline: ScreenOutline): string[] {
    const xs = outline.map((p) => p[0]);
    const ys = outline.map((p) => p[1]);
    const inside = insideOf(outline);
    const box = { x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) };
    return this.piecesInBox(box, inside);
  }

  /** Pieces whose pivots or middles lie in a box. */
  piecesInBox(box: ScreenBox, inside: (x: number, y: number) => boolean = () => true): string[] {
    const p = this.pane;
    return this.pivots
      .map((q) => q.piece)
      .filter((id) => {
        const b = this.layer.bounds(new Set([id]));
        if (b.isEmpty()) return false;
        const s = b.getCenter(new THREE.Vector3()).project(p.camera.now);
        const x = (s.x * 0.5 + 0.5) * p.width;
        const y = (0.5 - s.y * 0.5) * p.height;
        return s.z <= 1 && x >= box.x0 && x <= box.x1 && y >= box.y0 && y <= box.y1 && inside(x, y);
      });
  }

  /** A picked element's key. */
  keyOf(under: Under): number {
    const mesh = this.mesh!;
    return keyAt(mesh, under.kind === 'piece' ? 'face' : under.kind, under.index);
  }

  /** Where an element's middle is in the frame: for tests and for the menu. */
  screenOf(kind: PickKind, index: number): [number, number] | null {
    const mesh = this.mesh;
    const s = this.onScreen();
    if (!mesh || !s) return null;
    const list = [...verticesOf(mesh, kind, [index])];
    return [
      this.pane.x + list.reduce((n, v) => n + s[3 * v], 0) / list.length,
      this.pane.y + list.reduce((n, v) => n + s[3 * v + 1], 0) / list.length,
    ];
  }

  /** Where a point of the world is in the frame, in the active pane. */
  screenAt(at: readonly [number, number, number]): [number, number] {
    const p = this.pane;
    const s = new THREE.Vector3(...at).project(p.camera.now);
    return [p.x + (s.x * 0.5 + 0.5) * p.width, p.y + (0.5 - s.y * 0.5) * p.height];
  }

  /** Sees all pieces, some of them, or a box of the worked-on piece's own space. */
  see(what: { min: readonly number[]; max: readonly number[] } | ReadonlySet<string> | null): void {
    this.begin();
    const box = what instanceof Set ? this.layer.bounds(what as ReadonlySet<string>) : new THREE.Box3();
    if (what instanceof Set) for (const id of what as ReadonlySet<string>) box.union(this.planes.bounds(id));
    else if (what && 'min' in what)
      box
        .set(
          new THREE.Vector3(...(what.min as [number, number, number])),
          new THREE.Vector3(...(what.max as [number, number, number])),
        )
        .applyMatrix4(this.own.matrix);
    else box.copy(this.layer.bounds()).union(this.planes.bounds());
    const all = what === null || !this.fitted ? this.panes : [this.pane];
    for (const p of all) p.camera.see(box);
    this.fitted = true;
    this.moved();
    this.invalidate();
  }
  private fitted = false;
}
