import { ChevronDown, ChevronRight } from "lucide-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";

interface Props {
  /** A link to `#id` finds it open. */
  id?: string;
  title: string;
  /** What is in it, in a few words, while it is shut. */
  hint: string;
  /** Made only once it is opened, so that what nobody looks at is not worked out. */
  children: ReactNode;
}

/** A part of a sheet that is not asked for at first: a press opens it, and printing shows it if it is open. */
export function Fold({ id, title, hint, children }: Props) {
  const { hash } = useLocation();
  const asked = id !== undefined && hash === `#${id}`;
  const here = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState(asked);
  useEffect(() => {
    const room = here.current?.parentElement;
    if (!asked || !room) return;
    // What stands above it may still be on its way and push it down: it is kept in sight until a hand scrolls.
    const watch = new ResizeObserver(() => here.current?.scrollIntoView());
    const leave = () => watch.disconnect();
    watch.observe(room);
    const hands = ["wheel", "pointerdown", "keydown"] as const;
    for (const hand of hands) window.addEventListener(hand, leave, { once: true });
    return () => {
      leave();
      for (const hand of hands) window.removeEventListener(hand, leave);
    };
  }, [asked]);
  return (
    <div ref={here} className={`border-b border-rule ${open ? "" : "no-print"}`}>
      <h2 className="text-lg">
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="flex min-h-12 w-full items-center gap-2 text-left font-semibold"
        >
          {open ? (
            <ChevronDown size={20} aria-hidden className="shrink-0" />
          ) : (
            <ChevronRight size={20} aria-hidden className="shrink-0" />
          )}
          <span className="whitespace-nowrap">{title}</span>
          {!open && <span className="truncate text-sm font-normal text-soft">{hint}</span>}
        </button>
      </h2>
      {open && <div className="pb-3">{children}</div>}
    </div>
  );
}
