import { useSyncExternalStore } from 'react';

export type Theme = 'light' | 'dark' | 'system';
const THEMES: Theme[] = ['light', 'dark', 'system'];
/** Tests of what draws run without a screen. */
const screen: Partial<Pick<Window, 'localStorage' | 'matchMedia'>> = globalThis;
const system = screen.matchMedia?.('(prefers-color-scheme: dark)');
const listeners = new Set<() => void>();
const tell = () => listeners.forEach((listener) => listener());
system?.addEventListener('change', tell);

/** What this person chose; `system` follows the machine. */
export function chosenTheme(): Theme {
  const kept = screen.localStorage?.getItem('theme') as Theme;
  return THEMES.includes(kept) ? kept : 'system';
}

export function chooseTheme(theme: Theme): void {
  localStorage.setItem('theme', theme);
  applyTheme();
  tell();
}

/** Sets what was chosen before; called once, before anything is drawn. */
export function applyTheme(): void {
  const theme = chosenTheme();
  if (theme === 'system') delete document.documentElement.dataset['theme'];
  else document.documentElement.dataset['theme'] = theme;
}

/** Light or dark, as it is by now; what draws with colours of its own draws again when it changes. */
export const isDark = (): boolean => (chosenTheme() === 'system' ? (system?.matches ?? false) : chosenTheme() === 'dark');
export const useTheme = (): 'light' | 'dark' =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => (isDark() ? 'dark' : 'light'),
  );
