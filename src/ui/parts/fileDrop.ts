import { useState } from 'react';
import type { DragEvent } from 'react';

/** Files dragged over a screen: whether they hover, and what the screen's root listens to. */
export function useFileDrop(take: (files: File[]) => void) {
  const [hovering, setHovering] = useState(false);
  return {
    hovering,
    listens: {
      onDragOver: (e: DragEvent) => {
        if (!e.dataTransfer.types.includes('Files')) return;
        e.preventDefault();
        setHovering(true);
      },
      onDragLeave: (e: DragEvent) => {
        if (e.currentTarget === e.target) setHovering(false);
      },
      onDrop: (e: DragEvent) => {
        if (!e.dataTransfer.files.length) return;
        e.preventDefault();
        setHovering(false);
        take([...e.dataTransfer.files]);
      },
    },
  };
}
