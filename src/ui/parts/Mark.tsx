import { Drawn } from './Icon';

/** Glypta's mark: a hexagon being turned on a bench. */
export const Mark = ({ size = 22 }: { size?: number }) => (
  <Drawn size={size}>
    <path d="M12 2.5 20 7v10l-8 4.5L4 17V7z" />
    <path d="M15.5 9.2A4.6 4.6 0 1 0 16.4 13H12.6" />
  </Drawn>
);
