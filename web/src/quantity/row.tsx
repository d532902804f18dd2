import type { ReactNode } from "react";

interface Props {
  name: string;
  /** What is meant, under the name. */
  hint?: string;
  /** How the row stands in its panel. */
  className?: string;
  children: ReactNode;
}

/** One thing that is set: its name on the left, its field on the right. */
export function Row({ name, hint, className = "grid-cols-[1fr_9.5rem] py-0.5", children }: Props) {
  return (
    <div className={`grid items-center gap-2 ${className}`}>
      <span className="leading-tight">
        {name}
        {hint && <span className="block text-sm text-soft">{hint}</span>}
      </span>
      {children}
    </div>
  );
}
