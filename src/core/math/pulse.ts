/**
 * How long work notices that it was overtaken. Whoever runs a computation says what to look at; loops over many
 * elements call `pulse` every so often (every 8,192 elements, or once a round of something slower), and it throws where
 * the work is to stop. Only code that runs without waiting is covered, so two evaluations that take turns never see
 * each other's.
 */
let look: (() => void) | undefined;

export function withPulse<T>(check: () => void, work: () => T): T {
  const before = look;
  look = check;
  try {
    return work();
  } finally {
    look = before;
  }
}

export function pulse(): void {
  if (look) look();
}

/** `if ((i & EVERY) === 0) pulse()`: some milliseconds apart. */
export const EVERY = 0x1fff;
