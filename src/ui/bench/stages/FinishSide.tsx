'use client';
import { IconBooks, IconPlus, IconTrash } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import * as changes from '../../../document/changes';
import type { Material, ProjectImage } from '../../../document/types';
import { MAPS, type MapName } from '../../../core/material';
import { ColorField } from '../../parts/ColorField';
import { carriedBy, picturesOn } from '../../../document/carrying';
import { carryOver, giveMaterial, makeTexture, setStage } from '../actions';
import { keepMaterial } from '../library';
import { session } from '../session';
import { useBench, workedOn } from '../store';
import { Section } from './Fields';

const NONE: readonly never[] = [];

/** Materials, and giving them to faces. */
export function FinishSide() {
  const materials = useBench((s) => s.document?.materials ?? NONE);
  const [chosen, setChosen] = useState<string | null>(null);
  const material = materials.find((x) => x.id === chosen) ?? materials.at(0);
  return (
    <>
      <MaterialList materials={materials} chosen={material} choose={setChosen} />
      {material && <MaterialValues key={material.id} material={material} />}
      <Texture />
    </>
  );
}

/** A patch of how a material looks; metal has a light of its own. */
function patch({ color, metalness }: Material): string {
  if (metalness <= 0.5) return color;
  return (
    `linear-gradient(135deg, color-mix(in srgb, ${color} 55%, white), ${color} 45%, color-mix(in srgb, ${color} ` +
    '70%, black))'
  );
}

interface ListProps {
  materials: readonly Material[];
  chosen: Material | undefined;
  choose: (id: string) => void;
}

function MaterialList({ materials, chosen, choose }: ListProps) {
  const piece = useBench((s) => workedOn(s));
  const n = useBench((s) => (s.mode !== 'piece' && s.pick.kind === 'face' ? s.pick.keys.length : 0));
  const add = () => {
    const id = changes.newId();
    const fresh = { id, name: 'Material', color: '#8f9a86', roughness: 0.6, metalness: 0 };
    session.change('add a material', (d) => changes.addMaterial(d, fresh));
    choose(id);
  };
  const to = n ? `${n} ${n === 1 ? 'face' : 'faces'}` : `all of ${piece?.name ?? 'the piece'}`;
  return (
    <Section
      title="Materials"
      aside={
        <button
          className="btn btn-ghost btn-square icon-btn"
          aria-label="New material"
          title="New material"
          onClick={add}
        >
          <IconPlus size={15} stroke={1.6} />
        </button>
      }
    >
      {materials.length === 0 && (
        <p className="quiet">No materials yet. Add one, then give it to a piece or to picked faces.</p>
      )}
      {materials.length > 0 && (
        <ul role="listbox" aria-label="Materials" className="scroll-thin -mx-2 max-h-48 overflow-y-auto">
          {materials.map((x) => (
            <li
              key={x.id}
              role="option"
              aria-selected={x === chosen}
              tabIndex={0}
              className={
                'flex h-[28px] cursor-default items-center gap-2 rounded-md px-2 ' +
                `${x === chosen ? 'bg-wash font-semibold' : 'hover:bg-wash/50'}`
              }
              onClick={() => choose(x.id)}
              onKeyDown={(e) => {
                if (e.key !== 'Enter') return;
                e.stopPropagation();
                choose(x.id);
              }}
            >
              <span className="h-4 w-4 rounded-full border border-line" style={{ background: patch(x) }} />
              {x.name}
            </li>
          ))}
        </ul>
      )}
      {chosen && (
        <button
          className="btn btn-sm btn-primary mt-2 w-full"
          disabled={piece?.kind !== 'mesh'}
          onClick={() => giveMaterial(chosen.id)}
        >
          Give to {to}
        </button>
      )}
    </Section>
  );
}

const SWITCHES = [
  ['bothSides', 'Seen from both sides'],
  ['unlit', 'As it is in any light'],
  ['tinted', 'Colour tints the picture'],
] as const;

const MAP_LABELS: Readonly<Record<MapName, string>> = {
  color: 'Colour picture',
  surface: 'Surface picture',
  normal: 'Normal map',
  shade: 'Occlusion picture',
  glow: 'Glow picture',
};

type Change = Parameters<typeof changes.setMaterial>[2];

function MaterialValues({ material: m }: { material: Material }) {
  const images = useBench((s) => s.document?.images ?? NONE);
  const pictures = images.filter((i) => i.use === 'picture');
  const set = (part: Change, live?: string) =>
    session.change('change a material', (d) => changes.setMaterial(d, m.id, part), live);
  const rename = (name: string) => {
    if (name !== '' && name !== m.name) set({ name });
  };
  return (
    <section className="panel-section" aria-label={`Material ${m.name}`}>
      <label className="row">
        <span className="quiet">Name</span>
        <input
          className="input input-xs w-32"
          defaultValue={m.name}
          maxLength={200}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') e.currentTarget.blur();
          }}
          onBlur={(e) => rename(e.target.value.trim())}
        />
      </label>
      <div className="row">
        <span className="quiet">Colour</span>
        <ColorField
          label="Colour"
          value={m.color}
          onChange={(color) => set({ color }, `color ${m.id}`)}
          onSettle={() => session.settle()}
        />
      </div>
      {(['roughness', 'metalness'] as const).map((k) => (
        <Slider key={k} name={k} value={m[k]} onChange={(x) => set({ [k]: x }, `${k} ${m.id}`)} />
      ))}
      <Slider name="opacity" value={m.opacity ?? 1} onChange={(opacity) => set({ opacity }, `opacity ${m.id}`)} />
      <div className="row">
        <span className="quiet">Glow</span>
        <ColorField
          label="Glow"
          value={m.glow ?? '#000000'}
          onChange={(glow) => set({ glow }, `glow ${m.id}`)}
          onSettle={() => session.settle()}
        />
      </div>
      {m.glow && m.glow !== '#000000' && (
        <Slider
          name="glow strength"
          most={20}
          value={m.glowStrength ?? 1}
          onChange={(glowStrength) => set({ glowStrength }, `strength ${m.id}`)}
        />
      )}
      {SWITCHES.filter(([key]) => key !== 'tinted' || m.maps?.color).map(([key, label]) => (
        <label key={key} className="row">
          <span className="quiet">{label}</span>
          <input
            type="checkbox"
            className="toggle toggle-xs"
            checked={m[key] ?? false}
            onChange={(e) => set({ [key]: e.target.checked })}
          />
        </label>
      ))}
      {pictures.length > 0 &&
        MAPS.map((of) => <Map key={of} name={MAP_LABELS[of]} of={of} material={m} pictures={pictures} set={set} />)}
      <div className="mt-1 flex flex-wrap gap-1">
        <button className="btn btn-xs font-normal" onClick={() => void keepMaterial(m.id)}>
          <IconBooks size={13} stroke={1.6} />
          Keep in the library
        </button>
        <button
          className="btn btn-xs font-normal"
          onClick={() => session.change('delete a material', (d) => changes.removeMaterial(d, m.id))}
        >
          <IconTrash size={13} stroke={1.6} />
          Delete
        </button>
      </div>
    </section>
  );
}

interface SliderProps {
  name: string;
  value: number;
  most?: number;
  onChange: (x: number) => void;
}

function Slider({ name, value, most = 1, onChange }: SliderProps) {
  const settle = () => session.settle();
  return (
    <label className="row">
      <span className="quiet first-letter:uppercase">{name}</span>
      <span className="flex items-center gap-2">
        <input
          type="range"
          className="range range-xs w-24"
          min={0}
          max={most}
          step={most / 100}
          value={value}
          aria-label={name}
          onChange={(e) => onChange(Number(e.target.value))}
          onPointerUp={settle}
          onBlur={settle}
          onKeyUp={settle}
        />
        <span className="num w-8 text-right">{value.toFixed(2)}</span>
      </span>
    </label>
  );
}

interface MapProps {
  name: string;
  of: MapName;
  material: Material;
  pictures: readonly ProjectImage[];
  set: (part: Change) => void;
}

function Map({ name, of, material, pictures, set }: MapProps) {
  const change = (id: string) => {
    const { [of]: _, ...rest } = material.maps ?? {};
    set({ maps: id ? { ...rest, [of]: id } : rest });
  };
  return (
    <label className="row">
      <span className="quiet">{name}</span>
      <select
        className="select select-xs max-w-28"
        value={material.maps?.[of] ?? ''}
        onChange={(e) => change(e.target.value)}
      >
        <option value="">none</option>
        {pictures.map((i) => (
          <option key={i.id} value={i.id}>
            {i.name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** The texture made of a piece's colours, or the way to it. */
function Texture() {
  const piece = useBench((s) => workedOn(s));
  const document = useBench((s) => s.document);
  const slots = useBench((s) => s.mesh?.slots);
  const worn = useMemo(
    () => !!document && !!piece && picturesOn(document, piece, slots).length > 0,
    [document, piece, slots],
  );
  const has = (kind: string) => !!piece?.recipe.some((x) => x.kind === kind);
  const carried = piece && carriedBy(piece);
  const carry = worn && !carried && (
    <>
      <p className="quiet mb-2 mt-3">
        Its materials show pictures, which lie by the layout it has now, or had when it came in. To lay it out anew,
        have them drawn anew as well.
      </p>
      <button className="btn btn-sm w-full font-normal" onClick={() => void carryOver()}>
        Carry the pictures over
      </button>
    </>
  );
  if (has('texture'))
    return (
      <Section title="Texture">
        <p className="quiet">
          {worn ? 'The colours, and the pictures of its materials, are' : 'The colours are'} written into a picture; its
          size and bleed are in the recipe. It follows every change.
          {carried && ' The pictures lie by a layout from before, and are drawn anew on this one.'}
        </p>
        {carry}
      </Section>
    );
  if (has('unwrap'))
    return (
      <Section title="Texture">
        <p className="quiet mb-2">Writes the colours into a picture on the sheet, with bleed beyond each island.</p>
        <button className="btn btn-sm w-full font-normal" onClick={makeTexture}>
          Make texture
        </button>
        {carry}
      </Section>
    );
  return (
    <Section title="Texture">
      <p className="quiet mb-2">Unwrap the piece first: a texture needs a sheet to lie on.</p>
      <button className="btn btn-sm w-full font-normal" onClick={() => setStage('unwrap')}>
        Go to Unwrap
      </button>
    </Section>
  );
}
