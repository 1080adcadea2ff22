'use client';
import { useEffect, useRef, type ReactNode } from 'react';

/** A modal dialog on the browser's own element: focus stays inside, Esc closes. */
export function Dialog({
  title,
  open,
  onClose,
  children,
  width = 420,
}: {
  title: string;
  open: boolean;
  onClose: () => void;
  children: ReactNode;
  width?: number;
}) {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const d = ref.current;
    if (!d) return;
    if (open && !d.open) d.showModal();
    if (!open && d.open) d.close();
  }, [open]);
  if (!open) return null;
  return (
    <dialog
      ref={ref}
      aria-label={title}
      onClose={onClose}
      onCancel={(e) => {
        e.preventDefault();
        onClose();
      }}
      style={{ width }}
      className="p-5"
    >
      <h2 className="mb-3 text-[15px] font-semibold">{title}</h2>
      {children}
    </dialog>
  );
}
