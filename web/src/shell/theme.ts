export type Theme = "day" | "night";

const KEY = "urban-queue-theme";

export function currentTheme(): Theme {
  const chosen = localStorage.getItem(KEY);
  if (chosen === "day" || chosen === "night") return chosen;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "night" : "day";
}

export function applyTheme(theme: Theme = currentTheme()): void {
  document.documentElement.dataset.theme = theme;
}

export function chooseTheme(theme: Theme): void {
  localStorage.setItem(KEY, theme);
  applyTheme(theme);
}
