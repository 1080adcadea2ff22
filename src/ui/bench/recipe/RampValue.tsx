'use client';
/**
 * A ramp as a small curve: points are dragged, added by a double click, taken away by Delete; arrows move the one that
 * has the focus.
 */
import { useRef } from 'react';
import { rampThrough } from '../../../core/math/ramp';
import { formatNumber } from '../../../core/recipe/quantity';
import type { Dial } from '../../../document/types';

type Points = [number, number][];
const W = 148;
const H = 64;
const EDGE = 5;
const STEPS = 48;

/** The part of the plane that is shown: 0 to 1 at least, and all points. */
function frameOf(points: Points) {
  const xs = [0, 1, ...points.map((p) => p[0])];
  const ys = [0, 1, ...points.map((p) => p[1])];
  return { x0: Math.min(...xs), x1: Math.max(...xs), y0: Math.min(...ys), y1: Math.max(...ys) };
}

export function RampValue({
  dial,
  onChange,
  onSettle,
}: {
  dial: Dial;
  onChange: (points: Points, live: boolean) => void;
  onSettle: () => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  /** While a point is dragged the frame stays as it was: the curve would run away from the pointer otherwise. */
  const held = useRef<{ at: number; frame: ReturnType<typeof frameOf> } | null>(null);
  const points = [...(dial.points ?? [])].sort((a, b) => a[0] - b[0]) as Points;
  const frame = held.current?.frame ?? frameOf(points);
  const across = (x: number) => EDGE + ((x - frame.x0) / (frame.x1 - frame.x0)) * (W - 2 * EDGE);
  const up = (y: number) => H - EDGE - ((y - frame.y0) / (frame.y1 - frame.y0)) * (H - 2 * EDGE);
  const placeOf = (e: React.MouseEvent): [number, number] => {
    const box = svg.current!.getBoundingClientRect();
    const px = ((e.clientX - box.left) / box.width) * W;
    const py = ((e.clientY - box.top) / box.height) * H;
    const round = (v: number) => Math.round(v * 1000) / 1000;
    return [
      round(frame.x0 + ((px - EDGE) / (W - 2 * EDGE)) * (frame.x1 - frame.x0)),
      round(frame.y0 + ((H - EDGE - py) / (H - 2 * EDGE)) * (frame.y1 - frame.y0)),
    ];
  };
  /** A point stays between its neighbours, so the one in hand is the one that is dragged. */
  const moved = (i: number, [x, y]: [number, number]): Points => {
    const lo = points[i - 1]?.[0] ?? -Infinity;
    const hi = points[i + 1]?.[0] ?? Infinity;
    return points.map((p, k) => (k === i ? [Math.min(hi, Math.max(lo, x)), y] : p));
  };
  const key = (e: React.KeyboardEvent, i: number) => {
    const by = e.shiftKey ? 0.1 : 0.01;
    const ways: Readonly<Record<string, [number, number]>> = {
      ArrowLeft: [-by, 0],
      ArrowRight: [by, 0],
      ArrowUp: [0, by],
      ArrowDown: [0, -by],
    };
    const way = ways[e.key];
    if (!way && e.key !== 'Delete' && e.key !== 'Backspace') return;
    e.preventDefault();
    e.stopPropagation();
    if (way) onChange(moved(i, [points[i][0] + way[0], points[i][1] + way[1]]), false);
    else if (points.length > 1)
      onChange(
        points.filter((_, k) => k !== i),
        false,
      );
  };
  const at = rampThrough(points, dial.smooth === true);
  const line = Array.from({ length: STEPS + 1 }, (_, i) => {
    const x = frame.x0 + ((frame.x1 - frame.x0) * i) / STEPS;
    return `${across(x).toFixed(1)},${up(at(x)).toFixed(1)}`;
  });
  return (
    <svg
      ref={svg}
      width={W}
      height={H}
      role="group"
      aria-label={
        `${dial.name}: a ramp of ${points.length} ${points.length === 1 ? 'point' : 'points'}; a double click ` +
        'adds one'
      }
      className="touch-none rounded border border-line bg-base-100"
      onDoubleClick={(e) => onChange([...points, placeOf(e)].sort((a, b) => a[0] - b[0]) as Points, false)}
      onPointerMove={(e) => held.current && onChange(moved(held.current.at, placeOf(e)), true)}
      onPointerUp={() => {
        if (!held.current) return;
        held.current = null;
        onSettle();
      }}
    >
      <line x1={EDGE} x2={W - EDGE} y1={up(0)} y2={up(0)} className="stroke-line" />
      <polyline points={line.join(' ')} fill="none" className="stroke-base-content" strokeWidth={1.4} />
      {points.map((p, i) => (
        <circle
          key={i}
          cx={across(p[0])}
          cy={up(p[1])}
          r={4}
          tabIndex={0}
          role="slider"
          aria-label={`Point ${i + 1} of ${dial.name}`}
          aria-valuenow={p[1]}
          aria-valuetext={`${formatNumber(p[1], 'number')} at ${formatNumber(p[0], 'number')}`}
          className="cursor-grab fill-value outline-none focus-visible:stroke-base-content"
          strokeWidth={2}
          onPointerDown={(e) => {
            e.stopPropagation();
            if (e.button !== 0) return;
            held.current = { at: i, frame };
            svg.current!.setPointerCapture(e.pointerId);
            e.currentTarget.focus();
          }}
          onKeyDown={(e) => key(e, i)}
        />
      ))}
    </svg>
  );
}
