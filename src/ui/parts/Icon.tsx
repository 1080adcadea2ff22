import type { ReactNode } from 'react';

/** Drawn on a field of 24 by 24, in the line that all icons have. */
export const Drawn = ({ size = 18, children }: { size?: number; children: ReactNode }) => (
  <svg
    width={size}
    height={size}
    viewBox="0 0 24 24"
    fill="none"
    stroke="currentColor"
    strokeWidth={1.6}
    strokeLinecap="round"
    strokeLinejoin="round"
    aria-hidden="true"
  >
    {children}
  </svg>
);

/** An icon from path data. */
export const Icon = ({ path, size }: { path: string; size?: number }) => (
  <Drawn size={size}>
    <path d={path} />
  </Drawn>
);
