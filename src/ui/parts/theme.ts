'use client';
import { useSyncExternalStore } from 'react';

const listeners = new Set<() => void>();
const read = () => document.documentElement.dataset.theme ?? 'plaster';

export function setTheme(theme: string): void {
  document.documentElement.dataset.theme = theme;
  try {
    localStorage.setItem('glypta-theme', theme);
  } catch {
    /* private windows may refuse; the theme then lasts for this page */
  }
  listeners.forEach((l) => l());
}
export const toggleTheme = (): void => setTheme(read() === 'plaster' ? 'basalt' : 'plaster');

export const useTheme = (): string =>
  useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => listeners.delete(l);
    },
    read,
    () => 'plaster',
  );

/** A colour of the current theme, by its token. */
export const token = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
