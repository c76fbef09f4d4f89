import { create } from 'zustand';

export const useTheme = create<{ dark: boolean }>(() => ({ dark: false }));

/** Takes over what the page chose before the first paint. */
export const readTheme = (): void => useTheme.setState({ dark: document.documentElement.classList.contains('dark') });

export function toggleTheme(): void {
  const dark = !useTheme.getState().dark;
  document.documentElement.classList.toggle('dark', dark);
  localStorage.setItem('theme', dark ? 'dark' : 'light');
  useTheme.setState({ dark });
}
