/**
 * The outline of picked pieces: drawn as a mask, then as a line where the mask ends and a faint wash within. So the
 * shape stays to be seen, whatever its faces are like, and it shows through what stands before it.
 */
import * as THREE from 'three';
import { color } from './looks';

const VERTEX = 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }';
/** Red: picked. Green: picked last of several. Blue: under the pointer. */
const FRAGMENT = `
uniform sampler2D mask;
uniform vec2 pixel;
uniform vec3 picked;
uniform vec3 last;
uniform vec3 under;
varying vec2 at;
void main() {
  vec3 here = texture2D(mask, at).rgb;
  vec3 sum = vec3(0.0);
  for (int i = 0; i < 8; i++) {
    float a = 0.7853981634 * float(i);
    sum += texture2D(mask, at + pixel * vec2(cos(a), sin(a))).rgb;
  }
  // A line where some neighbours are inside and this is not; the more of them, the stronger: so its edge is soft.
  vec3 line = (1.0 - here) * min(vec3(1.0), sum / 2.0);
  float inside = max(here.r, here.g);
  float outer = (1.0 - inside) * max(line.r, line.g);
  vec3 paint = line.g > line.r || here.g > here.r ? last : picked;
  float alpha = max(outer, 0.1 * inside);
  if (line.b > alpha) {
    paint = under;
    alpha = line.b;
  }
  if (alpha < 0.01) discard;
  gl_FragColor = vec4(paint, alpha);
  #include <colorspace_fragment>
}`;

const WIDTH = 1.8;

export interface Outlined {
  geometry: THREE.BufferGeometry;
  world: THREE.Matrix4;
  how: 'picked' | 'last' | 'under';
}

export class Outline {
  private readonly scene = new THREE.Scene();
  private readonly flat = {
    picked: new THREE.MeshBasicMaterial({ color: '#ff0000', side: THREE.DoubleSide, toneMapped: false }),
    last: new THREE.MeshBasicMaterial({ color: '#00ff00', side: THREE.DoubleSide, toneMapped: false }),
    under: new THREE.MeshBasicMaterial({ color: '#0000ff', side: THREE.DoubleSide, toneMapped: false }),
  };
  private readonly quad: THREE.Mesh<THREE.PlaneGeometry, THREE.ShaderMaterial>;
  private readonly sheet = new THREE.Scene();
  private readonly camera = new THREE.OrthographicCamera();
  private target: THREE.WebGLRenderTarget | undefined;

  constructor() {
    const material = new THREE.ShaderMaterial({
      uniforms: {
        mask: { value: null },
        pixel: { value: new THREE.Vector2() },
        picked: { value: new THREE.Color() },
        last: { value: new THREE.Color() },
        under: { value: new THREE.Color() },
      },
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      transparent: true,
      depthTest: false,
      depthWrite: false,
    });
    this.quad = new THREE.Mesh(new THREE.PlaneGeometry(2, 2), material);
    this.quad.frustumCulled = false;
    this.sheet.add(this.quad);
  }

  /** Those that are picked stay outlined while the pointer goes over others. */
  set(list: readonly Outlined[]): void {
    this.list = list;
    this.fill();
  }
  hover(over: readonly Outlined[]): void {
    this.over = over;
    this.fill();
  }
  private list: readonly Outlined[] = [];
  private over: readonly Outlined[] = [];

  private fill(): void {
    this.scene.clear();
    for (const o of [...this.list, ...this.over]) {
      const m = new THREE.Mesh(o.geometry, this.flat[o.how]);
      m.matrixAutoUpdate = false;
      m.matrix.copy(o.world);
      m.frustumCulled = false;
      // Each kind has a channel of its own: what is picked and under the pointer is both.
      m.material.blending = THREE.AdditiveBlending;
      m.material.depthTest = false;
      this.scene.add(m);
    }
  }

  get any(): boolean {
    return this.scene.children.length > 0;
  }

  /**
   * The part of the pane that what is outlined can touch, as shares of it from the lower left; null where none of it is
   * in sight.
   */
  private reach(camera: THREE.Camera): THREE.Box2 | null {
    const box = new THREE.Box2();
    const corner = new THREE.Vector3();
    for (const o of [...this.list, ...this.over]) {
      const s = o.geometry.boundingSphere;
      if (!s) continue;
      for (let i = 0; i < 8; i++) {
        corner
          .set(i & 1 ? 1 : -1, i & 2 ? 1 : -1, i & 4 ? 1 : -1)
          .multiplyScalar(s.radius)
          .add(s.center);
        corner.applyMatrix4(o.world).project(camera);
        if (corner.z > 1 || corner.z < -1) return new THREE.Box2(new THREE.Vector2(0, 0), new THREE.Vector2(1, 1));
        box.expandByPoint(new THREE.Vector2(corner.x / 2 + 0.5, corner.y / 2 + 0.5));
      }
    }
    box.intersect(new THREE.Box2(new THREE.Vector2(0, 0), new THREE.Vector2(1, 1)));
    return box.isEmpty() ? null : box;
  }

  /**
   * Over what was drawn in a pane. Only the part that it can touch is gone over: without a graphics card the whole of
   * it took 90 ms a frame. The renderer's viewport and scissor are the pane's, and are given back.
   */
  draw(renderer: THREE.WebGLRenderer, camera: THREE.Camera, width: number, height: number): void {
    const reach = this.reach(camera);
    if (!reach) return;
    const ratio = renderer.getPixelRatio();
    const pane = renderer.getScissor(new THREE.Vector4());
    const part = reach.getSize(new THREE.Vector2());
    const x = Math.max(0, Math.floor(reach.min.x * width) - 4);
    const y = Math.max(0, Math.floor(reach.min.y * height) - 4);
    const w0 = Math.min(width - x, Math.ceil(part.x * width) + 8);
    const h0 = Math.min(height - y, Math.ceil(part.y * height) + 8);
    const w = Math.max(1, Math.round(width * ratio));
    const h = Math.max(1, Math.round(height * ratio));
    if (!this.target) this.target = new THREE.WebGLRenderTarget(w, h, { depthBuffer: false });
    else if (this.target.width !== w || this.target.height !== h) this.target.setSize(w, h);
    this.target.scissorTest = true;
    this.target.scissor.set(x * ratio, y * ratio, w0 * ratio, h0 * ratio);
    renderer.setRenderTarget(this.target);
    renderer.clear();
    renderer.render(this.scene, camera);
    renderer.setRenderTarget(null);
    const u = this.quad.material.uniforms;
    u.mask.value = this.target.texture;
    u.pixel.value.set((WIDTH * ratio) / w, (WIDTH * ratio) / h);
    u.picked.value.copy(color('picked'));
    u.last.value.copy(color('last'));
    u.under.value.copy(color('ink'));
    renderer.autoClear = false;
    renderer.setScissor(pane.x + x, pane.y + y, w0, h0);
    renderer.render(this.sheet, this.camera);
    renderer.setScissor(pane);
    renderer.autoClear = true;
  }

  dispose(): void {
    this.target?.dispose();
    this.quad.geometry.dispose();
    this.quad.material.dispose();
    for (const m of Object.values(this.flat)) m.dispose();
  }
}
