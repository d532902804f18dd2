import { Moon, Sun } from "lucide-react";
import { useState } from "react";
import { keep, kept } from "../api/storage";

const KEY = "jugatrix-theme";

function chosen(): "light" | "dark" {
  const before = kept(KEY);
  if (before === "light" || before === "dark") return before;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

/** Put the chosen theme on the page, before anything is drawn. */
export function applyTheme() {
  document.documentElement.dataset.theme = chosen();
}

/** Light for the day, dark for a dim shop. */
export function ThemeButton({ className = "press" }: { className?: string }) {
  const [theme, setTheme] = useState(chosen);
  const other = theme === "dark" ? "light" : "dark";
  return (
    <button
      type="button"
      className={`${className} px-3`}
      aria-label={`Switch to the ${other} look`}
      onClick={() => {
        keep(KEY, other);
        applyTheme();
        setTheme(other);
      }}
    >
      {theme === "dark" ? <Sun size={18} aria-hidden /> : <Moon size={18} aria-hidden />}
    </button>
  );
}
