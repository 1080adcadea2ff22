import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { availableParallelism } from 'node:os';
import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { unwrapMesh, uvFigures, type UnwrapOptions } from '../core/uv';
import { plainFigures } from '../core/uv/measure';
import { kindByEnding } from '../core/formats/kinds';
import { writePng, type Scene } from '../core/formats';
import { IDENTITY } from '../core/math';
import { determinant } from '../core/math/affine';
import { UV, uvSetCalled, withSetAhead, type Mesh } from '../core/mesh';
import { layoutAsPixels, layoutAsSvg } from '../core/uv/drawing';
import { TOGETHER } from '../core/uv/pack/groups';
import { crowdedSentence } from '../core/uv/pack/sheets';
import { shareSheet } from '../core/uv/sharing';
import { carryPictures } from './carried';
import { readModel, writeModel } from './files';
import { numberOption, parseArgs, Usage, type Options } from './usage';

/**
 * `unfold IN… OUT [--stretch 1.3] [--mean 1.01] [--islands N] [--fill 0..1] [--hide 0..1] [--straight 0..1]
 * [--seam-angle DEG] [--one-sided] [--size PX] [--padding PX] [--sheets N] [--density TEXELS/M] [--pixels] [--together material|set|part] [--one-sheet]
 * [--set NAME] [--leave-pictures] [--drawing svg|png] [--jobs N] [--json]`:
 * every piece gets a sheet of its own, or all of a file one; pictures of its materials are drawn anew to go with that.
 * Several files, or a folder of them, go into the folder OUT under their names; what cannot be read is told and passed
 * over. As many at once as there are processors, or as `--jobs` says.
 */
export async function run(args: string[]): Promise<number> {
  const o = parseArgs(
    args,
    [
      'seam-angle',
      'padding',
      'size',
      'stretch',
      'mean',
      'islands',
      'fill',
      'hide',
      'straight',
      'drawing',
      'sheets',
      'density',
      'set',
      'together',
      'jobs',
    ],
    ['json', 'pixels', 'one-sided', 'one-sheet', 'leave-pictures'],
  );
  if (o.positional.length < 2) throw new Usage('unfold needs IN and OUT.');
  const angle = numberOption(o, 'seam-angle', 60, 0, 180);
  const size = numberOption(o, 'size', 1024, 16, 16384);
  const padding = numberOption(o, 'padding', 8, 0, size / 4);
  const stretch = numberOption(o, 'stretch', 1.3, 0, 100);
  if (stretch !== 0 && stretch < 1.01) throw new Usage('--stretch is 0 (whatever comes) or from 1.01 on.');
  const mean = numberOption(o, 'mean', 0, 0, 100);
  if (mean !== 0 && mean < 1.001) throw new Usage('--mean is 0 (as it comes) or from 1.001 on.');
  const options: UnwrapOptions = {
    cut: new Set(),
    hold: new Set(),
    seamAngle: angle >= 180 ? Infinity : (angle * Math.PI) / 180,
    stretch,
    mean,
    islands: numberOption(o, 'islands', 0, 0, 1e6),
    fill: numberOption(o, 'fill', 0.5, 0, 1),
    hide: numberOption(o, 'hide', 0.5, 0, 1),
    straight: numberOption(o, 'straight', 0.5, 0, 1),
    symmetric: !o.flags.has('one-sided'),
    size,
    padding,
    density: numberOption(o, 'density', 0, 0, 1e6),
    sheets: numberOption(o, 'sheets', 1, 1, 16),
    pixels: o.flags.has('pixels'),
    turn: true,
  };
  const together = TOGETHER.find((by) => by === o.values.together);
  if (o.values.together !== undefined && !together) throw new Usage(`--together is ${TOGETHER.join(', ')}.`);
  options.together = together;
  const set = uvSetCalled(String(o.values.set ?? ''));
  const drawing = o.values.drawing as string | undefined;
  if (drawing !== undefined && drawing !== 'svg' && drawing !== 'png') throw new Usage('--drawing is svg or png.');
  const pictures = o.flags.has('leave-pictures') ? 'left' : 'carried';
  const how: How = { drawing, set, oneSheet: o.flags.has('one-sheet'), pictures };
  const ins = o.positional.slice(0, -1);
  const out = o.positional[o.positional.length - 1];
  const many = ins.length > 1 || isFolder(ins[0]);
  const figures: Record<string, unknown>[] = [];
  let failed = 0;
  if (!many) figures.push(...(await unfoldFile(ins[0], out, options, how)));
  else {
    if (out === '-') throw new Usage('Several files go into a folder.');
    const files = ins.flatMap((path) => (isFolder(path) ? modelsIn(path) : [path]));
    if (files.length === 0) throw new Usage(`There is no model in ${ins.join(', ')}.`);
    const names = new Set<string>();
    for (const file of files) {
      if (names.has(basename(file)))
        throw new Usage(`Two files are called ${basename(file)}: in ${out} they would be one.`);
      names.add(basename(file));
    }
    mkdirSync(out, { recursive: true });
    const jobs = Math.min(
      numberOption(o, 'jobs', availableParallelism(), 1, 256),
      Math.floor(files.length / LEAST_EACH),
    );
    if (jobs > 1) {
      const found = await atOnce(files, out, o, jobs);
      figures.push(...found.figures);
      ({ failed } = found);
    } else
      for (const file of files)
        try {
          const made = await unfoldFile(file, join(out, basename(file)), options, how);
          figures.push(...made.map((f) => ({ file: basename(file), ...f })));
        } catch (e) {
          failed++;
          console.error(`${basename(file)}: ${(e as Error).message}`);
        }
  }
  if (out === '-') return 0;
  if (o.flags.has('json')) console.log(JSON.stringify(figures, null, 2));
  else for (const f of figures) console.log(told(f));
  return failed > 0 ? 1 : 0;
}

/** Helpers are begun for no fewer files than this each. */
const LEAST_EACH = 2;
const MOST_EACH = 200;

/** Files shared out among helpers: this same command, each for its own. Figures come in the order of the files. */
async function atOnce(
  files: readonly string[],
  out: string,
  o: Options,
  jobs: number,
): Promise<{ figures: Record<string, unknown>[]; failed: number }> {
  const { jobs: _jobs, ...values } = o.values;
  const flags = [...o.flags].filter((f) => f !== 'json').map((f) => `--${f}`);
  const how = [...Object.entries(values).map(([name, v]) => `--${name}=${v}`), ...flags, '--json', '--jobs=1'];
  // Not too many in one command, and none alone: that would be one file to one file.
  const each = Math.max(LEAST_EACH, Math.min(MOST_EACH, Math.ceil(files.length / jobs)));
  const shares = Array.from({ length: Math.max(1, Math.floor(files.length / each)) }, () => [] as string[]);
  files.forEach((file, i) => shares[i % shares.length].push(file));
  const made: { figures: Record<string, unknown>[]; failed: number }[] = [];
  const one = async (own: readonly string[]): Promise<void> => {
    const args = [...process.execArgv, process.argv[1], 'unfold', ...own, out, ...how];
    const helper = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'] });
    const parts: Buffer[] = [];
    helper.stdout.on('data', (part: Buffer) => parts.push(part));
    const [code] = (await once(helper, 'close')) as [number | null];
    const text = Buffer.concat(parts).toString('utf8').trim();
    // One that was ended from without has said nothing.
    if (!text)
      console.error(`${own.map((f) => basename(f)).join(', ')}: not made, or not told; the helper ended early.`);
    const figures = text ? (JSON.parse(text) as Record<string, unknown>[]) : [];
    made.push({ figures, failed: code === 0 ? 0 : 1 });
  };
  const next = async (): Promise<void> => {
    for (let own = shares.pop(); own; own = shares.pop()) await one(own);
  };
  await Promise.all(Array.from({ length: jobs }, next));
  const order = new Map(files.map((file, i) => [basename(file), i]));
  const figures = made
    .flatMap((m) => m.figures)
    .sort((a, b) => order.get(String(a.file))! - order.get(String(b.file))!);
  return { figures, failed: made.reduce((sum, m) => sum + m.failed, 0) };
}

const isFolder = (path: string): boolean => existsSync(path) && statSync(path).isDirectory();

const modelsIn = (folder: string): string[] =>
  readdirSync(folder)
    .filter((name) => kindByEnding(name) !== undefined && statSync(join(folder, name)).isFile())
    .sort()
    .map((name) => join(folder, name));

/** Beside the file: the layout of each piece as a drawing, under both their names. */
function drawn(mesh: Mesh, kind: 'svg' | 'png', to: string, piece: string, size: number): void {
  const o = { size, line: Math.max(1, size / 768), filled: true, numbered: true };
  const name = `${to.replace(/\.[^.]+$/, '')} ${piece.replace(/[^\p{L}\p{N} _-]/gu, '_')} layout.${kind}`;
  writeFileSync(name, kind === 'svg' ? layoutAsSvg(mesh, o) : writePng(layoutAsPixels(mesh, o)));
}

interface How {
  drawing?: 'svg' | 'png';
  /** The attribute of the UV set that is laid out. */
  set: string;
  /** All pieces of a file share a sheet. */
  oneSheet: boolean;
  /** Whether pictures of materials are drawn anew on the new layouts. */
  pictures: 'carried' | 'left';
}

/** Lays what the pieces of a scene have in a set on one sheet, as dense on each as on the others. Answers how dense. */
function onOneSheet(scene: Scene, pieces: readonly number[], set: string, o: UnwrapOptions): number {
  const sizeOf = (i: number): number => {
    let size = 1;
    for (let k = i; k >= 0; k = scene.pieces[k].parent)
      size *= Math.cbrt(Math.abs(determinant(scene.pieces[k].place ?? IDENTITY)));
    return size;
  };
  const list = pieces.map((i) => ({ mesh: withSetAhead(scene.pieces[i].mesh!, set), size: sizeOf(i) }));
  const laying = { ...o, pixels: o.pixels ?? false, sheets: o.sheets ?? 1 };
  const { uv, density, islands, padding, fits } = shareSheet(list, laying);
  const crowded = crowdedSentence({ islands, padding, size: fits }, laying);
  if (crowded) console.error(crowded);
  pieces.forEach((i, k) => {
    const mesh = scene.pieces[i].mesh!.withAttribute(set, { domain: 'corner', width: 2, data: uv[k] });
    scene.pieces[i] = { ...scene.pieces[i], mesh };
  });
  return density;
}

async function unfoldFile(
  from: string,
  to: string,
  options: UnwrapOptions,
  { drawing, set, oneSheet, pictures }: How,
): Promise<Record<string, unknown>[]> {
  const scene = await readModel(from);
  const laid: { i: number; beyond: number; density: number }[] = [];
  const before = new Map<number, Mesh>();
  scene.pieces.forEach((piece, i) => {
    if (!piece.mesh || piece.mesh.faceCount === 0) return;
    before.set(i, piece.mesh);
    const out = unwrapMesh(piece.mesh, options);
    scene.pieces[i] = { ...piece, mesh: piece.mesh.withAttribute(set, out.mesh.attributes[UV]) };
    const crowded = crowdedSentence(out, options);
    if (crowded) console.error(`${piece.name}: ${crowded}`);
    laid.push({ i, beyond: out.beyond, density: out.density });
  });
  const shared =
    oneSheet && laid.length > 1
      ? onOneSheet(
          scene,
          laid.map((l) => l.i),
          set,
          options,
        )
      : undefined;
  const figures = laid.map(({ i, beyond, density }) => {
    const { name, mesh } = scene.pieces[i];
    const seen = withSetAhead(mesh!, set);
    if (drawing && to !== '-') drawn(seen, drawing, to, name, options.size);
    const sheet = plainFigures(uvFigures(seen, seen.attributes[UV].data, undefined, options.sheets));
    return { piece: name, ...sheet, beyond, texelsPerMetre: shared ?? density };
  });
  // Pictures lie on the main set: beside another they go on to lie as they did.
  if (set === UV && pictures !== 'left')
    for (const w of carryPictures(scene, before, {
      size: options.size,
      padding: options.padding,
      oneSheet,
    }))
      console.error(w);
  for (const w of scene.warnings) console.error(w);
  await writeModel(scene, to);
  return figures;
}

const told = (f: Record<string, unknown>): string =>
  `${f.file === undefined ? '' : `${String(f.file)}: `}${String(f.piece)}: ${String(f.islands)} islands, fill ` +
  `${(100 * Number(f.coverage)).toFixed(1)} %, stretch ${Number(f.stretchMean).toFixed(3)} mean, ` +
  `${Number(f.stretchMax).toFixed(3)} most, ${String(f.flips)} flipped`;
