'use client';
import { useEffect } from 'react';
import { usePreference } from '../store/preferences';

export type Theme = 'light' | 'dim';

/** The theme of the page; what is chosen in one window holds in all. */
export function useTheme(): { readonly theme: Theme; setTheme(theme: Theme): void } {
  const [theme, setTheme] = usePreference<Theme>('theme', 'light');
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  return { theme, setTheme };
}
