export type Theme = 'light' | 'dark';

/** The theme in use: as chosen here, or as the system has it. */
export function theme(): Theme {
  const chosen = localStorage.getItem('theme');
  if (chosen === 'light' || chosen === 'dark') {
    return chosen;
  }
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}

/** Puts a theme on. */
export function wear(wanted: Theme): void {
  document.documentElement.classList.toggle('dark', wanted === 'dark');
}

/** Chooses a theme and remembers it. */
export function choose(wanted: Theme): void {
  localStorage.setItem('theme', wanted);
  wear(wanted);
}
