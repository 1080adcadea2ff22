'use client';
/** What lies behind the islands on the sheet: plain paper, a test picture, or the picture of the piece's material. */
import { useEffect, useMemo, useState, type ReactElement } from 'react';
import type { Mesh } from '../../../core/mesh';
import { useBench } from '../store';
import { checkerCanvas, lettersCanvas } from '../testpictures';

export type BehindOf = 'paper' | 'checker' | 'letters' | 'material';

export interface Behind {
  picture: CanvasImageSource | null;
  /** 0 to 1. */
  opacity: number;
}

const CHOICES: readonly (readonly [BehindOf, string])[] = [
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

export function useBehind(mesh: Mesh | null): Behind & { of: BehindOf; control: ReactElement } {
  const [of, setOf] = useState<BehindOf>('paper');
  const [opacity, setOpacity] = useState(0.6);
  const [loaded, setLoaded] = useState<HTMLImageElement | null>(null);
  const blob = usePictureOf(mesh);
  useEffect(() => {
    setLoaded(null);
    if (of !== 'material' || !blob) return undefined;
    const image = new Image();
    image.onload = () => setLoaded(image);
    image.src = `/api/blobs/${blob}`;
    return () => {
      image.onload = null;
    };
  }, [of, blob]);
  const pictures = { paper: () => null, checker: checkerCanvas, letters: lettersCanvas, material: () => loaded };
  const control = (
    <>
      <select
        className="select select-xs w-24"
        aria-label="Behind the islands"
        value={of}
        onChange={(e) => setOf(e.target.value as BehindOf)}
      >
        {CHOICES.map(([value, label]) => (
          <option key={value} value={value} disabled={value === 'material' && !blob}>
            {label}
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
  return { of, picture: pictures[of](), opacity, control };
}
