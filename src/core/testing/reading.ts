/**
 * Everything that is done with a file that comes in, as bringing it in and the command line do it; and what may not
 * come of it.
 */
import { intakeOf } from '../formats/intake';
import { planDrop } from '../formats/drop';
import { readHeights } from '../formats/heights';
import { readTiff } from '../formats/tiff';
import { readPng } from '../formats/png';
import { readAny } from '../formats/read';
import { reportOf } from '../formats/report';
import { flatten } from '../formats/scene';
import { displayGeometry } from '../geometry';

const ENGINE =
  /undefined|is not a function|not iterable|cannot read prop|invalid array length|maximum call stack|unexpected (?:token|end)|JSON|at position|NaN\b|offset is out|out of bounds|object Object|Symbol\(|prototype|heap|\n/i;

export interface Finding {
  kind: 'engine words' | 'NaN accepted' | 'invalid';
  said: string;
}

const OURS = new Set(['FileError']);

function finite(value: unknown, path: string, out: Finding[]): void {
  if (typeof value === 'number' && !Number.isFinite(value)) out.push({ kind: 'NaN accepted', said: path });
  else if (typeof value === 'object' && value !== null && !ArrayBuffer.isView(value))
    for (const [k, v] of Object.entries(value)) finite(v, `${path}.${k}`, out);
}

function told(e: unknown, out: Finding[]): void {
  const said = e instanceof Error ? e.message : String(e);
  if (!(e instanceof Error) || !OURS.has(e.constructor.name))
    out.push({ kind: 'engine words', said: `${(e as Error)?.name}: ${said.slice(0, 160)}` });
  else if (ENGINE.test(said.replace(/“[^“”]*”/g, ''))) out.push({ kind: 'engine words', said: said.slice(0, 160) });
}

/** What is wrong with how a file is taken; nothing where it is read, mended and told, or refused in a sentence. */
export async function takeFile(name: string, bytes: Uint8Array): Promise<Finding[]> {
  const out: Finding[] = [];
  try {
    const plan = planDrop([[name, bytes]]);
    for (const r of plan.refused) if (ENGINE.test(r)) out.push({ kind: 'engine words', said: r.slice(0, 160) });
    for (const p of plan.pictures) {
      if (p.info.kind === 'tiff') readTiff(p.bytes, p.name);
      if (p.info.kind === 'png') readPng(p.bytes);
    }
    for (const h of plan.heights) readHeights(h.bytes, h.name);
  } catch (e) {
    told(e, out);
  }
  try {
    const scene = await readAny(bytes, name);
    for (const w of scene.warnings) if (ENGINE.test(w)) out.push({ kind: 'engine words', said: w.slice(0, 160) });
    finite(intakeOf(scene, name), 'intake', out);
    finite(reportOf(scene), 'report', out);
    for (const p of flatten(scene).pieces) {
      const b = displayGeometry(p, 0.5);
      for (const part of [b.position, b.normal, b.uv ?? [], b.edgePosition])
        if (!part.every((x) => Number.isFinite(x))) out.push({ kind: 'NaN accepted', said: 'display' });
    }
  } catch (e) {
    told(e, out);
  }
  return out;
}
