'use client';
/** The head of a screen outside the bench: where one is, where else one can go, and a field to find things. */
import { IconMoon, IconSearch, IconSun } from '@tabler/icons-react';
import Link from 'next/link';
import { Mark } from './Mark';
import { toggleTheme, useTheme } from './theme';

const PLACES = [
  ['/', 'The shelf'],
  ['/library', 'The library'],
] as const;

export function PlaceHead({
  here,
  find,
  text,
  onText,
}: {
  here: string;
  find: string;
  text: string;
  onText: (text: string) => void;
}) {
  const light = useTheme() === 'plaster';
  const label = light ? 'Dark theme' : 'Light theme';
  return (
    <header className="flex h-[48px] shrink-0 items-center gap-3 border-b border-line px-4">
      <Mark />
      <span className="font-serif text-[19px] font-semibold">Glypta</span>
      <nav aria-label="Places" className="ml-2 flex gap-3">
        {PLACES.map(([path, name]) =>
          path === here ? (
            <span key={path} aria-current="page" className="font-semibold">
              {name}
            </span>
          ) : (
            <Link key={path} className="quiet hover:text-ink" href={path}>
              {name}
            </Link>
          ),
        )}
      </nav>
      <span className="flex-1" />
      <label className="input input-sm w-64">
        <IconSearch size={15} stroke={1.6} aria-hidden />
        <input placeholder={find} aria-label={find} value={text} onChange={(e) => onText(e.target.value)} />
      </label>
      <button className="btn btn-ghost btn-xs btn-square" aria-label={label} title={label} onClick={toggleTheme}>
        {light ? <IconMoon size={17} stroke={1.6} /> : <IconSun size={17} stroke={1.6} />}
      </button>
    </header>
  );
}
