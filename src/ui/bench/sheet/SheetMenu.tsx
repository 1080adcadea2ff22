'use client';
/** What can be done at once to islands and edges that are picked on the sheet, by families. */
import {
  IconAlignBoxBottomCenter,
  IconAlignBoxCenterMiddle,
  IconAlignBoxCenterTop,
  IconAlignBoxLeftMiddle,
  IconAlignBoxRightMiddle,
  IconAlignBoxTopCenter,
  IconAngle,
  IconArrowsHorizontal,
  IconArrowsVertical,
  IconArrowUp,
  IconBorderAll,
  IconBoxModel,
  IconCircle,
  IconCrop,
  IconDots,
  IconDownload,
  IconEye,
  IconFlipHorizontal,
  IconFlipVertical,
  IconFocus2,
  IconGridDots,
  IconHourglass,
  IconLayersIntersect,
  IconLink,
  IconLock,
  IconLockOpen,
  IconMinus,
  IconPlus,
  IconRectangle,
  IconRestore,
  IconRipple,
  IconRotate2,
  IconRotateClockwise2,
  IconRuler2,
  IconScale,
  IconSpiral,
  IconVector,
  IconWaveSine,
  IconZoomIn,
  IconZoomOut,
} from '@tabler/icons-react';
import type { ComponentType, ReactElement } from 'react';
import { needsOf, type EditName } from '../../../core/uv/edits';
import type { Fault } from '../../../core/uv/look';
import { MenuButton, type MenuItem } from '../../parts/Tooltip';

type Entry = readonly [name: EditName, label: string, icon: ComponentType<{ size: number; stroke: number }>];

const FAMILIES: readonly (readonly [heading: string, entries: readonly Entry[]])[] = [
  [
    'Turn',
    [
      ['turn left', 'A quarter left', IconRotate2],
      ['turn right', 'A quarter right', IconRotateClockwise2],
      ['flip across', 'Mirror left and right', IconFlipVertical],
      ['flip down', 'Mirror up and down', IconFlipHorizontal],
      ['level', 'Level by the picked edge', IconMinus],
    ],
  ],
  [
    'Line up',
    [
      ['left', 'Left sides', IconAlignBoxLeftMiddle],
      ['right', 'Right sides', IconAlignBoxRightMiddle],
      ['top', 'Upper sides', IconAlignBoxTopCenter],
      ['bottom', 'Lower sides', IconAlignBoxBottomCenter],
      ['middle across', 'Middles in a column', IconAlignBoxCenterTop],
      ['middle down', 'Middles in a row', IconAlignBoxCenterMiddle],
      ['spread across', 'Spread across', IconArrowsHorizontal],
      ['spread down', 'Spread down', IconArrowsVertical],
    ],
  ],
  [
    'Texels',
    [
      ['even density', 'As dense as all of them', IconScale],
      ['density', 'As dense as the sheet', IconRuler2],
      ['double', 'Twice as dense', IconPlus],
      ['halve', 'Half as dense', IconMinus],
      ['texels', 'Corners on whole texels', IconGridDots],
    ],
  ],
  [
    'Shape',
    [
      ['relax angles', 'Relax, keep angles', IconSpiral],
      ['relax lengths', 'Relax, keep lengths', IconWaveSine],
      ['relax within', 'Relax within the border', IconVector],
      ['straighten', 'Straighten to a grid', IconBorderAll],
      ['border on a circle', 'Border on a circle', IconCircle],
      ['border on a rectangle', 'Border on a rectangle', IconRectangle],
      ['border level', 'Border level and upright', IconAngle],
      ['stack', 'Lay alike on each other', IconLayersIntersect],
      ['sew', 'Sew the picked edges', IconLink],
    ],
  ],
];

const PROJECTED: readonly (readonly [EditName, string])[] = [
  ['from one side', 'From one side'],
  ['from six sides', 'From six sides'],
  ['round an axis', 'Round an axis'],
  ['round a middle', 'Round a middle'],
];

const FAULTY: readonly (readonly [Fault, string])[] = [
  ['stretched', 'Stretched too far'],
  ['uneven', 'Denser or coarser than most'],
  ['flipped', 'On their face'],
  ['overlapping', 'Under others'],
  ['small', 'In scraps of an island'],
];

interface Marked {
  on: boolean;
  toggle: () => void;
}

export interface SheetMenuProps {
  islands: number;
  edges: number;
  run: (name: EditName) => void;
  /** Gives islands that were placed by hand back to the solver; undefined where none is. */
  release?: () => void;
  /** Whether the picked islands are locked, or stand as on the model, and how to turn that round. */
  lock?: Marked;
  stand?: Marked;
  /** Whether they are finer than the rest by being said so, or coarser. */
  finer?: Marked;
  coarser?: Marked;
  packLonger: () => void;
  /** Whether islands are packed on a part of the sheet alone, and how to turn that round. */
  within: Marked;
  relaxLive: () => void;
  projectLive: () => void;
  pickFaulty: (fault: Fault) => void;
  draw: (kind: 'svg' | 'png') => void;
  /** There is something on the sheet. */
  there: boolean;
}

export function SheetMenu({
  islands,
  edges,
  run,
  release,
  lock,
  stand,
  finer,
  coarser,
  packLonger,
  within,
  relaxLive,
  projectLive,
  pickFaulty,
  draw,
  there,
}: SheetMenuProps): ReactElement {
  const can = (name: EditName): boolean => {
    const needs = needsOf(name);
    return needs === 'edges' ? edges > 0 : islands >= needs;
  };
  const icon = { size: 15, stroke: 1.6 };
  const items: MenuItem[] = FAMILIES.flatMap(([heading, entries]) =>
    entries.map(([name, label, Icon]): MenuItem => ({
      id: name,
      heading,
      label,
      icon: <Icon {...icon} />,
      disabled: !can(name),
      run: () => run(name),
    })),
  );
  items.push({
    id: 'relaxing',
    heading: 'Shape',
    label: 'Relax until stopped',
    icon: <IconRipple {...icon} />,
    disabled: islands === 0,
    run: relaxLive,
  });
  items.push({
    id: 'release',
    heading: 'Shape',
    label: 'Give back to the solver',
    icon: <IconRestore {...icon} />,
    disabled: release === undefined,
    run: () => release?.(),
  });
  items.push(
    {
      id: 'lock',
      heading: 'Packing',
      label: lock?.on ? 'Unlock' : 'Lock where it lies',
      icon: lock?.on ? <IconLockOpen {...icon} /> : <IconLock {...icon} />,
      disabled: lock === undefined,
      run: () => lock?.toggle(),
    },
    {
      id: 'longer',
      heading: 'Packing',
      label: 'Pack longer',
      icon: <IconHourglass {...icon} />,
      disabled: !there,
      run: packLonger,
    },
    {
      id: 'within',
      heading: 'Packing',
      label: within.on ? 'On the whole sheet' : 'Within a rectangle',
      icon: <IconCrop {...icon} />,
      disabled: !there,
      run: within.toggle,
    },
    {
      id: 'stand',
      heading: 'Packing',
      label: stand?.on ? 'May be turned' : 'Stands as on the model',
      icon: <IconArrowUp {...icon} />,
      disabled: stand === undefined,
      run: () => stand?.toggle(),
    },
    {
      id: 'finer',
      heading: 'Packing',
      label: finer?.on ? 'As fine as the rest' : 'Packed twice as fine',
      icon: <IconZoomIn {...icon} />,
      disabled: finer === undefined,
      run: () => finer?.toggle(),
    },
    {
      id: 'coarser',
      heading: 'Packing',
      label: coarser?.on ? 'As fine as the rest' : 'Packed half as fine',
      icon: <IconZoomOut {...icon} />,
      disabled: coarser === undefined,
      run: () => coarser?.toggle(),
    },
  );
  items.push(
    ...PROJECTED.map(([name, label]): MenuItem => ({
      id: name,
      heading: 'Lay as it is seen',
      label,
      icon: <IconEye {...icon} />,
      disabled: !can(name),
      run: () => run(name),
    })),
    {
      id: 'frame',
      heading: 'Lay as it is seen',
      label: 'In a frame in the view',
      icon: <IconBoxModel {...icon} />,
      disabled: islands === 0,
      run: projectLive,
    },
    ...FAULTY.map(([fault, label]): MenuItem => ({
      id: fault,
      heading: 'Pick what lies',
      label,
      icon: <IconFocus2 {...icon} />,
      disabled: !there,
      run: () => pickFaulty(fault),
    })),
    ...(['svg', 'png'] as const).map((kind): MenuItem => ({
      id: kind,
      heading: 'Save as a drawing',
      label: kind === 'svg' ? 'Lines, as SVG' : 'Pixels, as PNG',
      icon: <IconDownload {...icon} />,
      disabled: !there,
      run: () => draw(kind),
    })),
  );
  return (
    <MenuButton items={items} label="More for what is picked" placement="top-end" columns>
      <button title="Turn, line up, relax, straighten, stack, sew …">
        <IconDots size={18} stroke={1.6} />
        More
      </button>
    </MenuButton>
  );
}
