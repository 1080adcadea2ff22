/** Glypta's mark: a hexagon being turned on a bench. */
export function Mark({ size = 22 }: { size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth={1.6}
      strokeLinejoin="round"
      strokeLinecap="round"
      aria-hidden="true"
    >
      <path d="M12 2.5 20 7v10l-8 4.5L4 17V7z" />
      <path d="M15.5 9.2A4.6 4.6 0 1 0 16.4 13H12.6" />
    </svg>
  );
}
