'use client';
/** A slip of the map: a step, or a fold of several, with all there is to it; from afar its title alone. */
import { Handle, Position, useStore, type Node, type NodeProps } from '@xyflow/react';
import { memo } from 'react';
import { stepDef } from '../../../core/steps';
import type { Step } from '../../../document/types';
import type { StepReport } from '../../../workers/protocol';
import { setValue } from '../actions';
import { Sentence } from '../recipe/Sentence';
import { session } from '../session';
import { useBench } from '../store';
import { tookWords, type Slip } from './graph';

export type SlipNode = Node<{ slip: Slip; dim: boolean; toggle: (slip: Slip) => void }, 'slip'>;
export const isSlip = (n: Node): n is SlipNode => n.type === 'slip';

/** Fewer slips are drawn whole, however small. */
const MANY = 80;
/** Below this a slip says its title alone: of 500, drawn whole, each frame took 50 to 150 ms. */
const FAR = 0.45;
const isFar = (s: { transform: [number, number, number]; nodes: readonly unknown[] }): boolean =>
  s.transform[2] < FAR && s.nodes.length > MANY;

/**
 * Sizes and pins as they are known beforehand: what is not known has to be drawn once to be measured, and of 500 slips
 * that took 1.6 s.
 */
export const known = ({ wide, high }: Slip): Pick<SlipNode, 'measured' | 'handles'> => {
  const pin = { x: wide / 2 - PIN / 2, width: PIN, height: PIN };
  return {
    measured: { width: wide, height: high },
    handles: [
      { ...pin, type: 'target', position: Position.Top, y: -PIN / 2 },
      { ...pin, type: 'source', position: Position.Bottom, y: high - PIN / 2 },
    ],
  };
};

const PIN = 8;

const NO_REPORTS: readonly StepReport[] = [];

/** A slip as it is seen: near by with all there is to it, from afar by its title. */
export const SlipCard = memo(function SlipCard(props: NodeProps<SlipNode>) {
  return useStore(isFar) ? <SlipFromAfar {...props} /> : <SlipNearBy {...props} />;
});

function SlipFromAfar({ data: { slip, dim }, selected }: NodeProps<SlipNode>) {
  const last = slip.steps[slip.steps.length - 1];
  const dimmed = dim || !slip.steps.some((s) => s.on);
  return (
    <div className={`slip h-full ${selected ? 'slip-chosen' : ''} ${dimmed ? 'opacity-40' : ''}`} data-slip={last.id}>
      <Handle type="target" position={Position.Top} isConnectable={false} className="slip-pin" />
      <b className="block truncate text-[20px]">{slip.fold ?? stepDef(last.kind)?.title ?? last.kind}</b>
      <Handle type="source" position={Position.Bottom} className="slip-pin slip-pull" />
    </div>
  );
}

function SlipNearBy({ data, selected }: NodeProps<SlipNode>) {
  const { slip, dim, toggle } = data;
  const name = useBench((s) => s.document?.pieces.find((p) => p.id === slip.piece)?.name ?? '');
  const marker = useBench((s) => s.document?.pieces.find((p) => p.id === slip.piece)?.upTo ?? null);
  const focused = useBench((s) => slip.steps.some((x) => x.id === s.step));
  const reports = useBench((s) => s.shown.get(slip.piece)?.reports ?? NO_REPORTS);
  const last = slip.steps[slip.steps.length - 1];
  const own = reports.filter((r) => slip.steps.some((x) => x.id === r.step));
  const took = own.reduce((n, r) => n + r.took, 0);
  const wrong = own.find((r) => r.error)?.error;
  const on = slip.steps.some((s) => s.on);
  return (
    <div
      className={`slip ${selected ? 'slip-chosen' : ''} ${focused ? 'slip-focused' : ''} ${dim || !on ? 'opacity-40' : ''}`}
      data-slip={last.id}
    >
      <Handle type="target" position={Position.Top} isConnectable={false} className="slip-pin" />
      <div className="row !gap-1 text-[10px] quiet">
        <span className="truncate">
          {name} · {slip.index + 1}
          {slip.steps.length > 1 && ` to ${slip.index + slip.steps.length}`}
        </span>
        <span className="num whitespace-nowrap">
          {marker === last.id && 'shown · '}
          {tookWords(took)}
        </span>
      </div>
      {slip.fold !== undefined ? (
        <button className="nodrag text-left font-semibold hover:underline" onClick={() => toggle(slip)}>
          {slip.fold}: {slip.steps.length} steps
        </button>
      ) : (
        <StepOnSlip piece={slip.piece} step={last} />
      )}
      {slip.fold === undefined && last.fold !== undefined && (
        <button className="nodrag quiet text-[10px] hover:underline" onClick={() => toggle(slip)}>
          fold under {last.fold}
        </button>
      )}
      {last.note && slip.fold === undefined && <p className="quiet truncate text-[11px] italic">{last.note}</p>}
      {wrong && <p className="text-[11px] text-wrong">{wrong}</p>}
      <Handle
        type="source"
        position={Position.Bottom}
        className="slip-pin slip-pull"
        title="Draw out to make a branch"
      />
    </div>
  );
}

function StepOnSlip({ piece, step }: { piece: string; step: Step }) {
  const def = stepDef(step.kind);
  if (!def) return <b>{step.kind}</b>;
  return (
    <div className="text-[12px] [&_.value]:nodrag">
      <Sentence
        title={def.title}
        sentence={def.sentence}
        defs={def.values}
        values={step.values}
        onChange={(name, value, live) => setValue(piece, step.id, name, value, live)}
        onSettle={() => session.settle()}
        onCancel={() => session.cancel()}
      />
    </div>
  );
}
