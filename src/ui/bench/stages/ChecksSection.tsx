/** What may be wrong with the piece that is worked on. */
import type { Shape } from '../../../core/mesh/measure';
import { useBench } from '../store';
import { Line, Section } from './Fields';

const CHECKS: readonly (readonly [string, (s: Shape) => number, string])[] = [
  ['Open edges', (s) => s.openEdges, 'text-warn'],
  ['Edges on 3+ faces', (s) => s.nonManifoldEdges, 'text-wrong'],
  ['Doubled faces', (s) => s.doubledFaces, 'text-wrong'],
  ['Loose points', (s) => s.looseVertices, 'text-warn'],
];

export function ChecksSection() {
  const shape = useBench((s) => s.edited?.shape);
  const name = useBench((s) => s.document?.pieces.find((p) => p.id === s.piece)?.name);
  return (
    <Section title="Checks" aside={name}>
      {!shape && <p className="quiet">Nothing to check.</p>}
      {shape && (
        <dl>
          {CHECKS.map(([title, count, tone]) => (
            <Line
              key={title}
              name={title}
              value={count(shape).toLocaleString('en')}
              tone={count(shape) ? tone : 'text-value'}
            />
          ))}
          <Line name="Closed" value={shape.closed ? 'yes' : 'no'} tone={shape.closed ? 'text-value' : 'text-warn'} />
        </dl>
      )}
    </Section>
  );
}
