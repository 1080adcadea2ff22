'use client';
import { useEffect, useRef, type ReactNode } from 'react';

/** A modal dialog on the browser's own element: focus stays inside, Esc closes, a click beside it too. */
export function Dialog({
  title,
  onClose,
  children,
  width = 420,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
  width?: number;
}) {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const d = ref.current;
    if (d && !d.open) d.showModal();
    return () => d?.close();
  }, []);
  return (
    <dialog
      ref={ref}
      aria-label={title}
      className="modal"
      onCancel={(e) => {
        e.preventDefault();
        onClose();
      }}
      onPointerDown={(e) => {
        if (e.target === e.currentTarget) onClose();
      }}
    >
      <div className="modal-box border border-line p-5" style={{ width, maxWidth: '94vw' }}>
        <h2 className="mb-3 text-[15px] font-semibold">{title}</h2>
        {children}
      </div>
    </dialog>
  );
}
