'use client';
/** One thing over another, drawn by Plotly; loaded where a chart is opened. */
import { useEffect, useRef } from 'react';
import Plotly from 'plotly.js-basic-dist-min';

interface Props {
  x: readonly number[];
  y: readonly number[];
  mark?: readonly [number, number];
  xTitle: string;
  yTitle: string;
  bars?: boolean;
}

/** The theme's colour of that name. */
const ink = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();

export function Plot({ x, y, mark, xTitle, yTitle, bars }: Props) {
  const ref = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const at = ref.current;
    if (!at) return undefined;
    const line = { color: ink('ink-soft'), width: 1 };
    const axis = (title: string) => ({
      title: { text: title },
      gridcolor: ink('line'),
      zeroline: false,
      linecolor: ink('line'),
    });
    void Plotly.newPlot(
      at,
      [
        bars
          ? { x: [...x], y: [...y], type: 'bar', marker: { color: ink('value') } }
          : { x: [...x], y: [...y], mode: 'lines+markers', line, marker: { color: ink('ink-soft'), size: 5 } },
        ...(mark
          ? [{ x: [mark[0]], y: [mark[1]], mode: 'markers' as const, marker: { color: ink('value'), size: 11 } }]
          : []),
      ],
      {
        height: 210,
        margin: { l: 54, r: 12, t: 8, b: 40 },
        showlegend: false,
        paper_bgcolor: 'transparent',
        plot_bgcolor: 'transparent',
        font: { family: getComputedStyle(document.body).fontFamily, size: 11, color: ink('ink') },
        xaxis: axis(xTitle),
        yaxis: axis(yTitle),
      },
      { displayModeBar: false, responsive: true },
    );
    return () => Plotly.purge(at);
  }, [x, y, mark, xTitle, yTitle, bars]);
  return <div ref={ref} role="img" aria-label={`${yTitle} over ${xTitle}`} className="mt-2 w-full" />;
}
