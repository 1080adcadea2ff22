/**
 * The view: what the worker sent, drawn on demand with three.js in one pane or four. Knows nothing of React; told
 * everything by calls.
 */
import * as THREE from 'three';
import type { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import { applyPoint, IDENTITY, toMatrix4, type Affine } from '../../../core/math/affine';
import type { ElementPick, PickKind } from '../../../core/mesh/picks';
import type { Mesh } from '../../../core/mesh/mesh';
import type { ProjectDocument } from '../../../document/types';
import type { Edited, PieceShown, TreeNote } from '../../../workers/protocol';
import type { Handle, PickMode, Shading, SnapKinds, ViewName } from '../store';
import { Camera, type CameraState } from './camera';
import { Handles, type Arrow } from './handles';
import { Layer, type PieceHit } from './layer';
import { EDGE } from './source';
import { studio } from './sky';
import { color } from './looks';
import { Elements, type Under } from './elements';
import { pictureOf } from './readback';
import { dispose, edgeLines, faceLines, ground, points, wide } from './marks';
import { pickMarks, type MarkedEdges } from './pickmarks';
import { Notes, type MeasureLine } from './notes';
import type { ScreenBox } from './picking';
import { insideOf, type Outline as ScreenOutline } from '../../../core/pick/outline';
import { Outline, type Outlined } from './outline';
import { Planes, type Label } from './planes';
import { snap, type Snapped } from './snap';
import { ViewHistory } from './viewhistory';

/** Which of the three grids a view shows: on the ground, or upright behind what is seen from the front or the side. */
const FLOORS: Readonly<Partial<Record<ViewName, number>>> = { Front: 1, Back: 1, Side: 2, Left: 2 };
/** Of more pieces than this the outlines are not drawn: the pick is told in the tree. */
const MOST_OUTLINED = 2000;

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
  private readonly shaders = new Set<{ usedTimes: number; destroy(): void }>();
  private asked = false;
  /** What lies under the pointer, and what in an outline, of the mesh that is worked on. */
  readonly elements = new Elements(this);
  private focus: string | null = null;
  private source: string | null = null;
  private gridStep = 0.05;
  private groundShown = true;
  private studio: THREE.Texture | null = null;
  private pivots: { piece: string; at: THREE.Vector3 }[] = [];
  private readonly sky = new THREE.HemisphereLight('#fffaf0', '#9c9484', 1.6);
  private readonly views = new ViewHistory();
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
    for (const p of this.shaders) p.destroy();
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
      this.elements.look();
    }
    return { at: this.inPane(x, y), changed };
  }
  inPane(x: number, y: number): [number, number] {
    return [x - this.pane.x, y - this.pane.y];
  }

  /** What is seen now as a small picture; null where nothing was drawn yet. */
  async picture(width = 160): Promise<string | null> {
    if (this.size.x < 2) return null;
    this.draw(); // the drawing buffer is only sure to be there right after
    this.renderer.setRenderTarget(null);
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    return pictureOf(gl, [this.canvas.width, this.canvas.height], width);
  }

  /** Draws once, at the next frame. */
  invalidate(): void {
    this.elements.look();
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
      // Reflections are made when materials are first looked at: clay needs none.
      if (materials) this.studio ??= studio();
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
    this.keepShaders();
    this.onDraw(this.labels());
  }

  /**
   * Marks and handles are thrown away as the pointer moves, and with the last material of a kind its shader would go:
   * without a graphics card each frame of a turn with handles then took 120 ms to compile it anew. The kinds are few.
   */
  private keepShaders(): void {
    for (const p of this.renderer.info.programs ?? [])
      if (!this.shaders.has(p)) {
        this.shaders.add(p);
        p.usedTimes++;
      }
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

  /** Called as the camera moves; `held`: it goes on as long as the pointer is held. */
  moved(held = false): void {
    this.views.moved(this.pane, held);
  }
  /** Says where the camera stands before it is moved. */
  begin(): void {
    this.views.begin(this.pane);
  }
  back(way: -1 | 1): boolean {
    const went = this.views.back(this.pane, way);
    if (went) this.invalidate();
    return went;
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
    this.elements.edited = edited;
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
  get ownVisible(): boolean {
    return this.own.visible;
  }
  /** The mesh that is worked on. */
  get mesh(): Mesh | null {
    return this.elements.mesh;
  }
  private get edited(): Edited | null {
    return this.elements.edited;
  }

  get ownWorld(): THREE.Matrix4 {
    return this.own.matrix;
  }

  setEdited(mesh: Mesh | null, edited: Edited | null): void {
    this.hover(null); // it marked the mesh that was
    this.elements.set(mesh, edited);
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
    if (mode !== 'piece' && mesh)
      this.marks.add(
        pickMarks(mesh, pick, last, mode, seams, {
          through: this.shading === 'lines' || this.shading === 'xray',
          pixel: this.camera.pixel(this.camera.target) / this.ownScale(),
          size: this.size,
        }),
      );
    this.own.add(this.marks);
    this.invalidate();
  }

  private overPiece: string | null = null;

  private outlined(pieces: readonly string[], as: 'picked' | 'under' = 'picked'): Outlined[] {
    return pieces.slice(0, MOST_OUTLINED).flatMap((id, i): Outlined[] => {
      const last = i === pieces.length - 1 && pieces.length > 1;
      return this.layer.drawnOf(id).map((drawn) => ({ ...drawn, how: last ? 'last' : as }));
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
    if (over !== this.overPiece) this.outline.hover(over === null ? [] : this.outlined([over], 'under'));
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

  get screen(): THREE.Vector2 {
    return this.size;
  }

  /** The frame of a projection, in the worked-on piece's own space. */
  setFrame(lines: THREE.Group | null): void {
    if (!lines && !this.frame) return;
    if (this.frame) {
      this.own.remove(this.frame);
      dispose(this.frame);
    }
    this.frame = lines;
    if (lines) this.own.add(lines);
    this.invalidate();
  }
  private frame: THREE.Group | null = null;

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
        polygon: (id, t, copy) => this.layer.polygon(id, t, copy),
        texel: (h) => this.texel(h),
        pivots: without ? this.pivots.filter((q) => !without.has(q.piece)) : this.pivots,
        plane: (r) => this.planes.cast(r),
      },
      this.gridStep,
      new THREE.Plane(normal, 0),
    );
  }

  /** The middle of the texel a hit lies in, on the surface, where a texture is shown. */
  private texel(h: PieceHit): THREE.Vector3 | null {
    if (h.copy !== undefined) return null;
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

  // Pointing: of elements by `elements`

  rayAt(x: number, y: number): THREE.Ray {
    return this.camera.ray((x / this.pane.width) * 2 - 1, 1 - (y / this.pane.height) * 2);
  }

  /** What lies under the pointer (in the active pane), of the kind that is picked. */
  under(x: number, y: number, mode: PickMode): Under | null {
    if (mode === 'piece') {
      const ray = this.rayAt(x, y);
      const h = this.layer.cast(ray);
      const plane = this.planes.cast(ray);
      if (plane && (!h || plane.distance < h.distance))
        return { kind: 'piece', index: -1, piece: plane.piece, point: plane.point };
      return h
        ? { kind: 'piece', index: -1, piece: h.piece, point: h.point, triangle: h.triangle, copy: h.copy }
        : null;
    }
    return this.elements.under(x, y, mode);
  }

  /** A place of the world in the space of the piece that is worked on. */
  toOwn(world: THREE.Vector3): THREE.Vector3 {
    return world.clone().applyMatrix4(this.own.matrix.clone().invert());
  }

  /** How many pixels a length of the piece's own space takes where the pointer is. */
  pixelsOf(length: number, x: number, y: number): number {
    const at = this.elements.surfaceAt(x, y)?.world ?? this.camera.target;
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

  /** Where an element's middle is in the frame: for tests and for the menu. */
  screenOf(kind: PickKind, index: number): [number, number] | null {
    return this.elements.screenOf(kind, index);
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
