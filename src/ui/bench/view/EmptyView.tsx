'use client';
import { StartList } from '../StartList';

/** A project without pieces: what one can begin with. */
export const EmptyView = () => (
  <div
    className="absolute inset-x-0 top-[14%] z-[5] mx-auto w-[min(640px,76%)] rounded-box border border-line bg-base-100/95 p-5 shadow-lg"
    onPointerDown={(e) => e.stopPropagation()}
    onDoubleClick={(e) => e.stopPropagation()}
  >
    <h2 className="mb-1 font-serif text-[19px] font-semibold">Start with …</h2>
    <p className="quiet mb-3">
      Whatever you begin with stays open: sizes, cuts and scale can be changed at any time. Models, drawings and
      pictures can also be dropped anywhere here. <kbd className="kbd kbd-xs num">/</kbd> opens this list again.
    </p>
    <StartList />
  </div>
);
