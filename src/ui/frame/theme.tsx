"use client";

import { Moon, Sun } from "lucide-react";
import { useSyncExternalStore } from "react";

const KEY = "nerrit-theme";

/** Runs before the first paint, so that a dark page never flashes light. */
export const THEME_SCRIPT = `try{var t=localStorage.getItem("${KEY}")||(matchMedia("(prefers-color-scheme: dark)").matches?"dark":"light");document.documentElement.dataset.theme=t}catch(e){}`;

const watchTheme = (changed: () => void) => {
  const observer = new MutationObserver(changed);
  observer.observe(document.documentElement, { attributeFilter: ["data-theme"] });
  return () => observer.disconnect();
};

/** The theme in force, for what is not drawn by style sheets. */
export const useTheme = () =>
  useSyncExternalStore(
    watchTheme,
    () => document.documentElement.dataset.theme,
    () => undefined,
  );

/** Turns the page between light and dark, and remembers it in this browser. */
export function toggleTheme(): void {
  const root = document.documentElement;
  const next = root.dataset.theme === "dark" ? "light" : "dark";
  root.dataset.theme = next;
  try {
    localStorage.setItem(KEY, next);
  } catch {
    // Storage may be switched off; the theme then lasts for this page.
  }
}

export function ThemeSwitch() {
  return (
    <button
      type="button"
      onClick={toggleTheme}
      aria-label="Switch between light and dark"
      className="rounded-sm p-1 text-secondary hover:text-ink"
    >
      <Sun size={16} aria-hidden className="hidden in-data-[theme=dark]:block" />
      <Moon size={16} aria-hidden className="block in-data-[theme=dark]:hidden" />
    </button>
  );
}
