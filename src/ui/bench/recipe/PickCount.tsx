/** How many elements a move works on. */
const MANY = { vertex: 'vertices', edge: 'edges', face: 'faces' } as const;

export function PickCount({ pick }: { pick: { kind: keyof typeof MANY; keys: readonly number[] } }) {
  const n = pick.keys.length;
  return (
    <span className="value plain !cursor-default">
      {n.toLocaleString('en')} {n === 1 ? pick.kind : MANY[pick.kind]}
    </span>
  );
}
