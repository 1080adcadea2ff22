/**
 * Builds a demo project the way a person would: through the document's own changes, picking what the recipe shows at
 * that point.
 */
import { createHash } from 'node:crypto';
import { writePng } from '../core/formats';
import type { Triple } from '../core/math';
import { Memory } from '../core/recipe';
import {
  type ImageData8,
  type Mesh,
  edgeKeys,
  type ElementPick,
  type PickKind,
  faceNormals,
  topologyOf,
} from '../core/mesh';
import { suggestSeams } from '../core/uv/suggest';
import { takenTogether } from '../core/uv/together';
import * as changes from '../document/changes';
import { followDocument } from '../document/follow';
import { History } from '../document/history';
import type { Blueprint, Material, ProjectDocument } from '../document/types';

export interface FaceLook {
  centre: [number, number, number];
  normal: [number, number, number];
}
export interface EdgeLook {
  from: [number, number, number];
  to: [number, number, number];
  middle: [number, number, number];
}

export class Maker {
  readonly history: History;
  /** What the project's pictures are stored as. */
  readonly files = new Map<string, Uint8Array>();
  private readonly memory = new Memory();
  private count = 0;

  constructor(doc: ProjectDocument) {
    this.history = new History(doc);
  }

  get document(): ProjectDocument {
    return this.history.document;
  }

  /** Any change, by its label. */
  edit(label: string, edit: (d: ProjectDocument) => void): void {
    this.history.change(label, edit);
  }

  /** A picture of the project. Its file is kept for whoever stores the project. */
  picture(name: string, image: ImageData8): string {
    const bytes = writePng(image);
    const sha = createHash('sha256').update(bytes).digest('hex');
    const id = this.id('picture');
    this.files.set(sha, bytes);
    this.change(`add ${name}`, (d) =>
      changes.addImage(d, {
        id,
        name,
        blob: sha,
        mime: 'image/png',
        width: image.width,
        height: image.height,
        bits: 8,
        use: 'picture',
      }),
    );
    return id;
  }

  blueprint(name: string, image: string, blueprint: Blueprint, turn: Triple, parent: string | null): string {
    const id = this.id('blueprint');
    this.change(`add ${name}`, (d) => changes.addBlueprint(d, id, name, { ...blueprint, image }, turn, parent));
    return id;
  }

  private change(label: string, edit: (d: ProjectDocument) => void): void {
    this.history.change(label, edit);
  }
  /** Ids by running number: the demo is the same on every machine. */
  id(what: string): string {
    return `${what}-${++this.count}`;
  }

  material(name: string, color: string, roughness: number, metalness: number): string {
    const m: Material = { id: this.id('material'), name, color, roughness, metalness };
    this.change(`add material ${name}`, (d) => changes.addMaterial(d, m));
    return m.id;
  }

  group(name: string, parent: string | null = null): string {
    const id = this.id('group');
    this.change(`add group ${name}`, (d) => changes.addGroup(d, id, name, parent));
    return id;
  }

  piece(name: string, parent: string | null): PieceMaker {
    const id = this.id('piece');
    this.change(`add ${name}`, (d) => changes.addPiece(d, id, name, parent));
    return new PieceMaker(this, id, (label, edit) => this.change(label, edit));
  }

  async mesh(piece: string): Promise<Mesh> {
    const p = changes.pieceOf(this.document, piece);
    const { outcomes } = await followDocument(this.document, { memory: this.memory }).piece(p);
    const failed = outcomes.find((o) => o.error);
    if (failed) throw new Error(`${p.name}: ${failed.error}`);
    return outcomes[outcomes.length - 1].mesh;
  }
}

export class PieceMaker {
  constructor(
    private readonly maker: Maker,
    readonly id: string,
    private readonly change: (label: string, edit: (d: ProjectDocument) => void) => void,
  ) {}

  step(kind: string, values: Record<string, unknown> = {}): string {
    const id = this.maker.id(kind);
    this.change(`add step ${kind}`, (d) => changes.addStep(d, this.id, kind, id, values));
    return id;
  }

  /** Cuts what is suggested for an unwrap step that is the last, one seam for each island, some rounds. */
  async suggested(step: string, bound: number, rounds: number): Promise<void> {
    for (let k = 0; k < rounds; k++) {
      const mesh = await this.maker.mesh(this.id);
      const keys = edgeKeys(mesh);
      const found = takenTogether(suggestSeams(mesh, { hold: new Set(), bound, hide: 0.6 }));
      if (found.length === 0) return;
      const cut = found.flatMap((s) => s.edges.map((e) => keys[e]));
      this.change('take seams as suggested', (d) => changes.markSeams(d, this.id, step, cut, 'cut'));
    }
  }

  async faces(wanted: (look: FaceLook) => boolean): Promise<ElementPick> {
    const mesh = await this.maker.mesh(this.id);
    const n = faceNormals(mesh);
    const keys: number[] = [];
    for (let f = 0; f < mesh.faceCount; f++) {
      const centre: [number, number, number] = [0, 0, 0];
      const s = mesh.faceStart[f];
      const e = mesh.faceStart[f + 1];
      for (let c = s; c < e; c++)
        for (let k = 0; k < 3; k++) centre[k] += mesh.positions[3 * mesh.cornerVertex[c] + k] / (e - s);
      if (wanted({ centre, normal: [n[3 * f], n[3 * f + 1], n[3 * f + 2]] })) keys.push(mesh.faceKey[f]);
    }
    return picked('face', keys);
  }

  async edges(wanted: (look: EdgeLook) => boolean): Promise<ElementPick> {
    const mesh = await this.maker.mesh(this.id);
    const t = topologyOf(mesh);
    const all = edgeKeys(mesh);
    const keys: number[] = [];
    const at = (v: number): [number, number, number] => [
      mesh.positions[3 * v],
      mesh.positions[3 * v + 1],
      mesh.positions[3 * v + 2],
    ];
    for (let e = 0; e < t.edgeCount; e++) {
      const from = at(t.edgeVertex[2 * e]);
      const to = at(t.edgeVertex[2 * e + 1]);
      if (wanted({ from, to, middle: [0, 1, 2].map((k) => (from[k] + to[k]) / 2) as [number, number, number] }))
        keys.push(all[e]);
    }
    return picked('edge', keys);
  }

  move(step: string, tool: string, pick: ElementPick, values: Record<string, unknown> = {}): void {
    this.change(tool, (d) => changes.addMove(d, this.id, step, { id: this.maker.id('move'), tool, pick, values }));
  }

  color(step: string, material: string, pick: ElementPick): void {
    this.change('colour', (d) => changes.colorFaces(d, this.id, step, material, pick.keys));
  }

  seams(step: string, pick: ElementPick): void {
    this.change('cut seams', (d) => changes.markSeams(d, this.id, step, pick.keys, 'cut'));
  }
}

function picked(kind: PickKind, keys: number[]): ElementPick {
  if (keys.length === 0) throw new Error('The demo picked nothing where it meant to.');
  return { kind, keys };
}
