'use client';
/**
 * What lies behind the islands on the sheet: plain paper, a test picture, the piece's material's, or any of the
 * project.
 */
import { useEffect, useMemo, useState, type ReactElement } from 'react';
import type { Mesh } from '../../../core/mesh';
import { useBench } from '../store';
import { checkerCanvas, lettersCanvas } from '../testpictures';

export interface Behind {
  picture: CanvasImageSource | null;
  /** 0 to 1. */
  opacity: number;
}

const CHOICES: readonly (readonly [string, string])[] = [
  ['paper', 'Paper'],
  ['checker', 'Checker'],
  ['letters', 'Letters'],
  ['material', 'Its picture'],
];

/** The stored picture of the material that most faces have, where it has one. */
function usePictureOf(mesh: Mesh | null): string | undefined {
  const most = useMemo(() => {
    const slots = mesh?.slots ?? [];
    const of = mesh?.attributes.material?.data;
    const count = new Float64Array(slots.length);
    if (of) for (let f = 0; f < of.length; f++) count[of[f]]++;
    return slots[count.indexOf(Math.max(...count, 0))];
  }, [mesh]);
  return useBench((s) => {
    const image = s.document?.materials.find((m) => m.id === most)?.maps?.color;
    return s.document?.images.find((i) => i.id === image)?.blob;
  });
}

/** Kinds of pictures that a page can show. */
const SHOWN = /^image\/(png|jpeg|webp|svg\+xml)$/;

export function useBehind(mesh: Mesh | null): Behind & { control: ReactElement } {
  // One of the choices, or the id of a picture of the project.
  const [of, setOf] = useState('paper');
  const [opacity, setOpacity] = useState(0.6);
  const [loaded, setLoaded] = useState<HTMLImageElement | null>(null);
  const own = usePictureOf(mesh);
  const images = useBench((s) => s.document?.images)?.filter((i) => SHOWN.test(i.mime)) ?? [];
  const blob = of === 'material' ? own : images.find((i) => i.id === of)?.blob;
  useEffect(() => {
    setLoaded(null);
    if (!blob) return undefined;
    const image = new Image();
    image.onload = () => setLoaded(image);
    image.src = `/api/blobs/${blob}`;
    return () => {
      image.onload = null;
    };
  }, [of, blob]);
  const made: Readonly<Record<string, (() => CanvasImageSource) | undefined>> = {
    checker: checkerCanvas,
    letters: lettersCanvas,
  };
  const control = (
    <>
      <select
        className="select select-xs w-24"
        aria-label="Behind the islands"
        value={of}
        onChange={(e) => setOf(e.target.value)}
      >
        {CHOICES.map(([value, label]) => (
          <option key={value} value={value} disabled={value === 'material' && !own}>
            {label}
          </option>
        ))}
        {images.map((i) => (
          <option key={i.id} value={i.id}>
            {i.name.replace(/\.[^.]+$/, '')}
          </option>
        ))}
      </select>
      {of !== 'paper' && (
        <input
          type="range"
          className="range range-xs w-16"
          aria-label="How strongly it shows"
          min={0.1}
          max={1}
          step={0.05}
          value={opacity}
          onChange={(e) => setOpacity(Number(e.target.value))}
        />
      )}
    </>
  );
  return { picture: made[of]?.() ?? loaded, opacity, control };
}
