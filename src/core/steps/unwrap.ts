/** Unwrap: a sheet of its own for a piece, or one for several. */
import type { Attribute, Mesh } from '../mesh/mesh';
import { UV, uvSetCalled, withSetAhead } from '../mesh/mesh';
import type { ElementPick } from '../mesh/picks';
import { topologyOf } from '../mesh/topology';
import { triangulate } from '../mesh/triangulate';
import { readLayout } from '../uv/follow/layout';
import { defineStep, input, type Remedy, type StepContext } from '../recipe/define';
import {
  angle,
  blob,
  branchName,
  choice,
  count,
  handPlaces,
  layouts,
  number,
  pick,
  text,
  toggle,
} from '../recipe/values';
import { pinsOf, placesWithout, type Pins } from '../uv/follow/placed';
import { triangleFigures } from '../uv/measure';
import { TOGETHER } from '../uv/pack/groups';
import { placesShared, sharedSheet, standsShared, type Sharer } from '../uv/sharing';
import { crowdedSentence, partOf, type LayOutOptions } from '../uv/pack/sheets';
import { unwrapMesh, type Unwrapped, type UnwrapOptions } from '../uv/unwrap';
import { unwrapping } from '../uv/written';
import { lostSentence } from './lost';

/** Texels along the side of a sheet. */
export const PIXELS = [
  ['256', '256'],
  ['512', '512'],
  ['1024', '1024'],
  ['2048', '2048'],
  ['4096', '4096'],
] as const;

/** What may be said of islands, by their faces. */
const ISLANDS = [
  ['locked', 'faces of locked islands'],
  ['upright', 'faces of islands that stand'],
  ['finer', 'faces of islands that are finer'],
  ['coarser', 'faces of islands that are coarser'],
] as const;

export const unwrap = defineStep({
  kind: 'unwrap',
  title: 'Unwrap',
  sentence:
    ' along {cut} and bends over {seamAngle}, stretched by {stretch} at most, holding {hold}, texels ' +
    '{density}, on {size} px with {padding} px between',
  inputs: { mesh: input('mesh') },
  help: 'Cut along seams and lay the surface flat on the sheet',
  values: {
    cut: pick('seams', 'edge', ['seam', 'seams']),
    hold: pick('held together', 'edge', ['edge', 'edges']),
    seamAngle: angle('bends that are seams', 60, { min: 0, max: Math.PI }),
    stretch: number('stretched at most', 1.3, { min: 0, max: 10, zero: 'whatever comes' }),
    mean: number('stretched on the mean', 0, { min: 0, max: 10, zero: 'as it comes' }),
    islands: count('islands', 0, { min: 0, max: 100_000, zero: 'as few as lie flat' }),
    fill: number('cut for a fuller sheet', 0.5, { min: 0, max: 1 }),
    hide: number('seams hide', 0.5, { min: 0, max: 1 }),
    straight: number('borders straight', 0.5, { min: 0, max: 1 }),
    symmetric: toggle('seams of what is alike on both sides', true, 'alike too', 'wherever they are best'),
    density: number('texels per metre', 0, { min: 0, max: 1e6, zero: 'as fine as fits', unit: '/ m' }),
    size: choice('sheet', '1024', PIXELS),
    padding: count('padding', 8, { min: 0, max: 256 }),
    turn: toggle('turn islands', true, 'turned to fit', 'not turned'),
    upright: pick('islands that stand as on the model', 'face', ['face', 'faces']),
    pixels: toggle('islands', false, 'on whole texels', 'as they lie'),
    sheets: count('sheets', 1, { min: 1, max: 16 }),
    together: choice('islands kept together', 'no', [
      ['no', 'as they fit'],
      ['material', 'those of one material'],
      ['set', 'those of one set'],
      ['part', 'those of one part'],
    ]),
    partLeft: number('part of the sheet, from the left', 0, { min: 0, max: 0.99 }),
    partLow: number('part of the sheet, from below', 0, { min: 0, max: 0.99 }),
    partWidth: number('part of the sheet, width', 1, { min: 0.01, max: 1 }),
    partHeight: number('part of the sheet, height', 1, { min: 0.01, max: 1 }),
    set: text('UV set', 'main'),
    placed: handPlaces('placed by hand'),
    layout: blob('layout kept'),
    anew: pick('islands of the layout kept that are laid out anew', 'face', ['face', 'faces']),
    locked: pick('islands locked in place', 'face', ['face', 'faces']),
    finer: pick('islands twice as fine as the rest', 'face', ['face', 'faces']),
    coarser: pick('islands half as fine as the rest', 'face', ['face', 'faces']),
    repack: toggle('islands placed by hand', false, 'packed with the rest', 'left where they are'),
    shared: handPlaces('placed by hand on the sheet shared with other pieces'),
  },
  run: async ({ mesh: given }, v, c) => {
    if (given.faceCount === 0) return given;
    const set = uvSetCalled(v.set);
    const mesh = withSetAhead(given, set);
    const kept = v.layout === '' ? undefined : await keptLayout(mesh, v.layout, v.anew, c);
    const cut = c.find(mesh, v.cut, 'cut');
    const hold = c.find(mesh, v.hold, 'hold');
    const [locked, upright, finer, coarser] = ISLANDS.map(([name]) => c.find(mesh, v[name], name));
    if (cut.lost.length) c.warn(lostSentence(cut, v.cut, 'seams', 'cut'));
    if (hold.lost.length) c.warn(lostSentence(hold, v.hold, 'held edges', 'hold'));
    [locked, upright, finer, coarser].forEach((found, k) => {
      const [name, words] = ISLANDS[k];
      if (found.lost.length) c.warn(lostSentence(found, v[name], words, name));
    });
    const pins = v.placed.face.length ? pinsOf(mesh, v.placed, c.witness('placed')) : undefined;
    if (pins) {
      c.add('kept', v.placed.face.length - pins.lost.length - pins.followed);
      c.add('followed', pins.followed);
      c.add('lost', pins.lost.length);
    }
    const onShared = v.shared.face.length ? pinsOf(mesh, v.shared, c.witness('shared')) : undefined;
    // They may lie on what they like.
    const byHand = facesOf(mesh, pins?.at);
    const asked: UnwrapOptions = {
      cut: new Set(cut.indices),
      hold: new Set(hold.indices),
      seamAngle: v.seamAngle >= Math.PI - 1e-9 ? Infinity : v.seamAngle,
      stretch: v.stretch > 0 ? Math.max(LEAST_STRETCH, v.stretch) : 0,
      mean: v.mean > 0 ? Math.max(LEAST_MEAN, v.mean) : 0,
      islands: v.islands,
      fill: v.fill,
      hide: v.hide,
      straight: v.straight,
      symmetric: v.symmetric,
      size: Number(v.size),
      padding: v.padding,
      density: v.density,
      turn: v.turn,
      // What was placed by hand after the layout was kept is where it was placed.
      pins: kept && pins ? new Map([...kept.at, ...pins.at]) : (pins?.at ?? kept?.at),
      soft: new Set([...(kept?.soft ?? []), ...(pins?.soft ?? [])]),
      kept: kept !== undefined,
      turned: kept ? turnedOf(kept, pins, byHand) : pins?.turned,
      within: withinOf(kept, pins),
      stacked: kept && new Set([...kept.stacked, ...byHand]),
      repack: v.repack,
      locked: new Set(locked.indices),
      upright: new Set(upright.indices),
      finer: new Set(finer.indices),
      coarser: new Set(coarser.indices),
      pixels: v.pixels,
      sheets: v.sheets,
      together: TOGETHER.find((by) => by === v.together),
      part: partOf(v),
      progress: c.progress,
    };
    // Small ones are done sooner than looked up; what was followed goes by more than numbers.
    const anew = mesh.faceCount < WORTH_KEEPING || (asked.within?.size ?? 0) > 0;
    const out = anew ? unwrapMesh(mesh, asked) : await c.lasting(unwrapping(mesh, asked));
    tellLayout(out, v, c);
    if (pins) {
      tellDrawn(out.mesh, [...pins.soft], c);
      const stays = v.repack ? new Set(locked.indices) : byHand;
      const off = astray(out.mesh, pins, stays, 1 / Number(v.size));
      // What was laid apart is told of already.
      if (off > out.apart)
        c.warn(
          `${off} of ${stays.size} faces placed by hand do not lie where they were put: what a change before this ` +
            'step made of their islands cannot lie there. Place them anew, or undo that change.',
        );
    }
    const forgotten = (lost: readonly number[], name: 'placed' | 'shared', what: string): void => {
      if (lost.length === 0) return;
      c.warn({
        text: `${lost.length} of ${v[name].face.length} ${what} lost their corner by a change before this step.`,
        remedies: [{ label: 'Forget them', values: { [name]: placesWithout(v[name], new Set(lost)) } }],
      });
    };
    forgotten(pins?.lost ?? [], 'placed', 'places set by hand');
    forgotten(onShared?.lost ?? [], 'shared', 'places set by hand on the sheet that is shared');
    const laid = laidOut(given, set, out.mesh.attributes[UV]);
    const standing = upright.indices.length > 0 ? laid.withAttribute(standsShared(set), facesAt(mesh, upright)) : laid;
    return onShared ? standing.withAttribute(placesShared(set), placesAt(mesh, onShared)) : standing;
  },
});

/** Of so many faces a layout may be kept beyond the session. */
const WORTH_KEEPING = 1000;

/** Less is no dial: what is left is rounding. */
const LEAST_STRETCH = 1.01;
const LEAST_MEAN = 1.001;
const LEAST = [
  ['stretch', LEAST_STRETCH, 'at the most'],
  ['mean', LEAST_MEAN, 'on the mean'],
] as const;

/** Texels per metre that differ by less are alike. */
const ALIKE = 0.85;

/** What is said of a layout: how it came out, and what of what was asked for could not be. */
function tellLayout(
  out: Unwrapped,
  v: { stretch: number; mean: number; density: number; padding: number; size: string; layout: string; pixels: boolean },
  c: StepContext,
): void {
  c.tell('islands', out.islands);
  c.tell('density', out.density);
  for (const [name, least, what] of LEAST)
    if (v[name] > 0 && v[name] < least)
      c.warn({
        text: `It was laid out to be stretched by ${least} ${what}, not ${v[name]}: 1 is not stretched at all.`,
        remedies: [{ label: String(least), values: { [name]: least } }],
      });
  if (out.beyond > 0.005)
    c.warn(
      `${(100 * out.beyond).toFixed(1)} % of the surface is stretched by more than ${v.stretch}: ` +
        (v.pixels
          ? `on whole texels of ${v.size} px it does not lie flatter.`
          : 'what is held together does not lie flatter.'),
    );
  if (v.mean > 0 && out.mean > Math.max(LEAST_MEAN, v.mean) + 5e-5)
    c.warn(
      `It is stretched by ${out.mean.toFixed(4)} on the mean, where ${v.mean} was asked for: what is held together ` +
        'does not lie flatter.',
    );
  if (out.heldCut > 0)
    c.warn(
      `${out.heldCut} ${out.heldCut === 1 ? 'held edge is' : 'held edges are'} cut all the same: what they hold ` +
        'together would lie on itself, or be drawn out beyond use.',
    );
  const stuck = out.stuck === 1 ? '1 triangle lies' : `${out.stuck} triangles lie`;
  if (out.stuck > 0)
    c.warn(`${stuck} folded where the layout was followed through a change: unfold anew, or place them by hand.`);
  const [faces, were] = out.apart === 1 ? ['1 face', 'was'] : [`${out.apart} faces`, 'were'];
  if (out.apart > 0)
    c.warn(
      `${faces} would have lain folded, or on others, where the layout was followed through a change, and ` +
        `${were} laid out apart.`,
    );
  const crowded = crowdedSentence(out, { padding: v.padding, size: Number(v.size) });
  if (crowded) c.warn({ text: crowded, remedies: remediesOf(out, v) });
  if (v.layout !== '' && out.density > 0 && out.density < ALIKE * out.heldDensity)
    c.warn({
      text:
        `What is laid out anew has room for ${Math.round(out.density)} texels per metre only, where what is kept has ` +
        `${Math.round(out.heldDensity)}: packed together all has the same.`,
      remedies: [{ label: 'Pack all', values: { repack: true } }],
    });
  if (out.tooDense)
    c.warn({
      text:
        `At ${Math.round(v.density)} texels per metre the islands do not fit the sheet; they were laid out at ` +
        `${Math.round(out.density)}.`,
      remedies: [{ label: 'As fine as fits', values: { density: 0 } }],
    });
}

/** With as much between as there is room for, or on a sheet that has it. */
function remediesOf({ padding, size }: { padding: number; size: number }, v: { size: string }): Remedy[] {
  if (size === 0) return [];
  if (size === Number(v.size)) return [{ label: `${padding} px between`, values: { padding } }];
  const larger = PIXELS.find(([px]) => Number(px) >= size)?.[0];
  return larger ? [{ label: `${larger} px`, values: { size: larger } }] : [];
}

/** With places on a sheet. A texture that was drawn for others there is none for these. */
function laidOut(mesh: Mesh, set: string, places: Attribute): Mesh {
  const out = mesh.withAttribute(set, places);
  return (mesh.textures?.set ?? UV) === set ? out.with({ textures: undefined }) : out;
}

/** Where corners are pinned; NaN for those that are not. */
function placesAt(mesh: Mesh, { at }: Pins): Attribute {
  const data = new Float32Array(2 * mesh.cornerCount).fill(NaN);
  for (const [c, place] of at) data.set(place, 2 * c);
  return { domain: 'corner', width: 2, data };
}

/** 1 for each of the faces, 0 for all others. */
function facesAt(mesh: Mesh, { indices }: { indices: Iterable<number> }): Attribute {
  const data = new Int32Array(mesh.faceCount);
  for (const f of indices) data[f] = 1;
  return { domain: 'face', width: 1, data };
}

/** A layout that shares a sheet, where it was placed on that by hand, and what of it stands. */
export function sharerOf(given: Mesh, set: string, size: number): Sharer {
  const { [placesShared(set)]: places, [standsShared(set)]: stands } = given.attributes;
  return { mesh: withSetAhead(given, set), size, places: places?.data, stands: stands?.data };
}

/** How the values of such a step have a sheet laid out. */
export const shareOptions = (v: Readonly<Record<string, unknown>>): LayOutOptions => ({
  size: Number(v.size) || 1024,
  padding: Number(v.padding ?? 8) || 0,
  density: 0,
  turn: v.turn !== false,
  pixels: v.pixels === true,
  sheets: Number(v.sheets ?? 1) || 1,
});

export const share = defineStep({
  kind: 'share',
  title: 'Share a sheet',
  sentence: ' with {layouts}, on {size} px with {padding} px between',
  inputs: { mesh: input('mesh') },
  inOwnSpace: true,
  names: (v) => v.layouts.map(({ piece, step }) => branchName(piece, step)),
  help: 'Lay the islands of several pieces on one sheet, as dense on each as on the others',
  words: 'atlas together several pieces one sheet pack',
  hidden: true,
  values: {
    layouts: layouts('pieces on the sheet'),
    size: choice('sheet', '1024', PIXELS),
    padding: count('padding', 8, { min: 0, max: 256 }),
    turn: toggle('turn islands', true, 'turned to fit', 'not turned'),
    pixels: toggle('islands', false, 'on whole texels', 'as they lie'),
    sheets: count('sheets', 1, { min: 1, max: 16 }),
    set: text('UV set', 'main'),
  },
  run: ({ mesh }, v, c) => {
    if (v.layouts.length === 0) return mesh;
    const set = uvSetCalled(v.set);
    const sharers = v.layouts.map(({ piece, step }) => {
      const { own, geometry, name } = c.other(branchName(piece, step));
      const given = (own?.geometry ?? geometry).mesh;
      if (!given?.attributes[set])
        throw new Error(`“${name}” is not laid out: unfold it, or share the sheet without it.`);
      return sharerOf(given, set, own?.size ?? 1);
    });
    const { uv, density, islands, padding, fits, held } = sharedSheet(sharers, shareOptions(v));
    const at = v.layouts.findIndex((x) => x.own);
    const data = uv[at];
    if (data?.length !== 2 * mesh.cornerCount)
      throw new Error('The piece is not as it lies on the sheet it shares: lay it on one sheet with the others again.');
    const asLaid = { islands, padding, size: fits };
    const crowded = crowdedSentence(asLaid, { padding: v.padding, size: Number(v.size) });
    if (crowded) c.warn({ text: crowded, remedies: remediesOf(asLaid, v) });
    const { gone } = held[at];
    if (gone > 0)
      c.warn(
        gone === 1
          ? 'One island that was placed by hand on this sheet has changed too much to lie there: it is packed ' +
              'with the rest.'
          : `${gone} islands that were placed by hand on this sheet have changed too much to lie there: they are ` +
              'packed with the rest.',
      );
    c.tell('islands', islands);
    c.tell('density', density);
    const { [placesShared(set)]: _, [standsShared(set)]: __, ...attributes } = mesh.attributes;
    return laidOut(mesh.with({ attributes }), set, { domain: 'corner', width: 2, data });
  },
});

/** Where the corners of a surface lie by the layout that was kept, as far as it says. */
async function keptLayout(mesh: Mesh, sha: string, anew: ElementPick, c: StepContext): Promise<Pins> {
  const layout = readLayout(await c.blob(sha));
  const pins = pinsOf(mesh, layout.places, undefined, layout);
  const found = c.find(mesh, anew, 'anew');
  if (found.lost.length) c.warn(lostSentence(found, anew, 'faces of islands that are laid out anew', 'anew'));
  for (const f of found.indices) forget(pins, mesh, f);
  let faces = 0;
  for (let f = 0; f < mesh.faceCount; f++) {
    let all = true;
    for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1] && all; k++) all = pins.at.has(k);
    if (all) faces++;
  }
  c.tell('faces', mesh.faceCount);
  c.tell('keptFaces', faces);
  return pins;
}

/** A face that has no place, whatever was known of it. */
function forget(pins: Pins, mesh: Mesh, f: number): void {
  for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++) {
    pins.at.delete(k);
    pins.soft.delete(k);
  }
  pins.from.delete(f);
  pins.stacked.delete(f);
  pins.turned.delete(f);
}

/** What was followed over the border of its island, of the layout and of what the hand has placed since. */
const withinOf = (kept: Pins | undefined, pins: Pins | undefined): Pins['within'] =>
  new Map([...(kept?.within ?? []), ...(pins?.within ?? [])]);

/** Faces that lie mirrored: as it was kept, or as the hand has laid them since. */
function turnedOf(kept: Pins, pins: Pins | undefined, byHand: ReadonlySet<number>): Set<number> {
  return new Set([...[...kept.turned].filter((f) => !byHand.has(f)), ...(pins?.turned ?? [])]);
}

/** What followed a change and is drawn out more than this is told, from such a share of its area on. */
const DRAWN = 3;
const DRAWN_SHARE = 0.02;

/** Tells of faces with a corner that followed a change, where many of them are drawn out by that. */
function tellDrawn(mesh: Mesh, soft: readonly number[], c: StepContext): void {
  if (soft.length === 0) return;
  const { cornerFace } = topologyOf(mesh);
  const followed = new Uint8Array(mesh.faceCount);
  for (const k of soft) followed[cornerFace[k]] = 1;
  const t = triangulate(mesh);
  const { area, stretch } = triangleFigures(mesh, mesh.attributes[UV].data, t);
  let all = 0;
  let drawn = 0;
  t.face.forEach((f, i) => {
    if (!followed[f]) return;
    all += area[i];
    if (stretch[i] > DRAWN) drawn += area[i];
  });
  if (drawn > DRAWN_SHARE * all)
    c.warn(
      `${Math.round((100 * drawn) / all)} % of what was placed by hand and followed a change before this step is stretched by ` +
        `more than ${DRAWN}: unfold that anew, or place it anew.`,
    );
}

/** So many texels off its place a corner is where it was put; what follows a change may give way a little. */
const ASTRAY = 2;
const ASTRAY_SOFT = 16;

/** Of some faces, how many have a corner farther than that from its place. */
function astray(mesh: Mesh, { at: placed, soft }: Pins, faces: ReadonlySet<number>, texel: number): number {
  const { data } = mesh.attributes[UV];
  let many = 0;
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const at = placed.get(c);
      const most = texel * (soft.has(c) ? ASTRAY_SOFT : ASTRAY);
      if (!at || Math.hypot(data[2 * c] - at[0], data[2 * c + 1] - at[1]) <= most) continue;
      many++;
      break;
    }
  return many;
}

/** Faces with a corner that was placed by hand. */
function facesOf(mesh: Mesh, placed?: ReadonlyMap<number, unknown>): Set<number> {
  const out = new Set<number>();
  for (let f = 0; placed && f < mesh.faceCount; f++) {
    let c = mesh.faceStart[f];
    while (c < mesh.faceStart[f + 1] && !placed.has(c)) c++;
    if (c < mesh.faceStart[f + 1]) out.add(f);
  }
  return out;
}
