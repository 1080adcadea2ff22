'use client';
/** A picture that was drawn by a worker, as it comes: grey until it is there. */
import { useEffect, useRef } from 'react';

export interface DrawnProps {
  picture: { width: number; height: number; data: Uint8Array } | undefined;
  width: number;
  height: number;
  className?: string;
}

export function Drawn({ picture, width, height, className = '' }: DrawnProps) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const to = ref.current?.getContext('2d');
    if (!to || !picture) return;
    to.putImageData(new ImageData(new Uint8ClampedArray(picture.data), picture.width, picture.height), 0, 0);
  }, [picture]);
  return (
    <canvas
      ref={ref}
      width={width}
      height={height}
      className={`rounded ${picture ? '' : 'skeleton'} ${className}`}
      aria-hidden
    />
  );
}
