/**
 * Steps as plain text: sentences for people, and below them the same for Glypta, so that they go by mail and come back
 * whole.
 */
import { InvalidDocument, checkSteps } from './schema';
import { tellStep } from './telling';
import type { ProjectDocument, Step } from './types';

const MARK = 'glypta-steps 1 ';
const WIDE = 96;

/** 32 bits of a text, in base 36: enough to find that a line got lost on the way. */
function sumOf(text: string): string {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return (h >>> 0).toString(36);
}

export function stepsAsText(steps: readonly Step[], doc: ProjectDocument): string {
  const told = steps.flatMap((s, i) =>
    tellStep(s, doc).map((line, k) => (k === 0 ? `${i + 1}. ${line}` : `   ${line}`)),
  );
  const data = encodeURIComponent(JSON.stringify(steps));
  const lines = data.match(new RegExp(`.{1,${WIDE}}`, 'g')) ?? [];
  return `${told.join('\n')}\n\n${MARK}${sumOf(data)}\n${lines.join('\n')}\n`;
}

/** The steps in a text; undefined where there are none. Throws one sentence where they came to harm on the way. */
export function stepsFromText(text: string): Step[] | undefined {
  const at = text.lastIndexOf(MARK);
  if (at < 0) return undefined;
  const [head, ...rest] = text.slice(at + MARK.length).split('\n');
  // Mail programs put marks before lines and spaces after them; the data itself has neither.
  const data = rest.map((line) => line.replace(/[>\s]/g, '')).join('');
  if (sumOf(data) !== head.trim())
    throw new InvalidDocument('These steps did not come whole: part of the text is missing.');
  let parsed: unknown;
  try {
    parsed = JSON.parse(decodeURIComponent(data));
  } catch {
    throw new InvalidDocument('These steps cannot be read.');
  }
  return checkSteps(parsed);
}
