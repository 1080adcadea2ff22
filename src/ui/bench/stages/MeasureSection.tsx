'use client';
import * as changes from '../../../document/changes';
import { lineOf, tapeEnds } from '../measure';
import { begin } from '../pointing';
import { session } from '../session';
import { bench, handOf, useBench } from '../store';
import { Buttons, Section, Small, Remove } from './Fields';

const TITLE = { length: 'Length', angle: 'Angle', diameter: 'Diameter' } as const;

/** Measures that are pinned to the model, and ways to take new ones. */
export function MeasureSection() {
  const doc = useBench((s) => s.document);
  const anchors = useBench((s) => s.anchors);
  const wall = useBench((s) => handOf(s, 'wall'));
  if (!doc) return null;
  const world = changes.worlds(doc);
  return (
    <Section title="Measure" aside={doc.tapes.length ? String(doc.tapes.length) : undefined}>
      <Buttons>
        <Small onClick={() => begin('tape')} title="Between two points (Q)">
          Tape
        </Small>
        <Small onClick={() => begin('angle')}>Angle</Small>
        <Small onClick={() => begin('diameter')} title="Three points on a rim">
          Diameter
        </Small>
        <Small
          pressed={wall !== null}
          onClick={() => bench.set({ hand: wall ? null : { kind: 'wall', thickness: 0 } })}
          title="Thickness under the pointer"
        >
          Wall
        </Small>
      </Buttons>
      <ul className="mt-1">
        {doc.tapes.map((t) => {
          const { points, lost } = tapeEnds(doc, t, anchors, world);
          const text = lineOf(t.id, t.kind, points, doc).text;
          return (
            <li key={t.id} className="row">
              <span className="quiet">{TITLE[t.kind]}</span>
              <span className="flex items-center gap-1">
                <span
                  className={`num ${lost ? 'text-warn' : 'font-semibold'}`}
                  title={lost ? 'What it held on to is gone; it shows where that was.' : undefined}
                >
                  {text}
                </span>
                <Remove
                  label={`Remove ${TITLE[t.kind].toLowerCase()} ${text}`}
                  onClick={() => session.change('remove a measure', (d) => changes.removeTape(d, t.id))}
                />
              </span>
            </li>
          );
        })}
      </ul>
    </Section>
  );
}
