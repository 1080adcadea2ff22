/** An answer that is a plain no: a status and one sentence for the person. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    sentence: string,
    readonly details: Record<string, unknown> = {},
  ) {
    super(sentence);
  }
}

const code = (e: unknown): string | undefined => {
  const x = e as { code?: string; original?: { code?: string }; parent?: { code?: string } };
  return x?.original?.code ?? x?.parent?.code ?? x?.code;
};

/** What went wrong below, as an answer: full disk, lost database, or something unforeseen. */
export function asRefusal(e: unknown): Refusal {
  if (e instanceof Refusal) return e;
  const c = code(e);
  if (c === '53100' || c === 'ENOSPC')
    return new Refusal(
      507,
      'The disk is full, so this could not be kept. Nothing else was lost; make room and try again.',
    );
  const name = (e as Error)?.name ?? '';
  if (
    /Connection|HostNotFound/.test(name) ||
    ['ECONNREFUSED', 'ECONNRESET', '57P01', '57P02', '57P03', '08006'].includes(c ?? '') ||
    /terminat|Connection/i.test((e as Error)?.message ?? '')
  ) {
    return new Refusal(
      503,
      'The database cannot be reached just now. Your work waits here and is saved as soon as it is back.',
    );
  }
  return new Refusal(500, 'Something went wrong on the server. Your work waits here; try again.');
}
