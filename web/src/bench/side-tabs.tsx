import { Tabs } from "radix-ui";
import type { ReactNode } from "react";

export interface SideTab {
  value: string;
  name: string;
  body: ReactNode;
  /** Tailwind classes of the room around the body. */
  room: string;
  /** Nothing in the body takes the focus: the body itself does, so that it can be scrolled by key. */
  read?: boolean;
  /** Kept while another tab is shown: a search goes on. */
  kept?: boolean;
}

/** The tabs beside a sheet's drawing. The first is shown at the start. */
export function SideTabs({ label, tabs, className }: { label: string; tabs: SideTab[]; className: string }) {
  return (
    <Tabs.Root
      defaultValue={tabs[0]?.value ?? ""}
      className={`flex min-h-0 min-w-0 flex-col border-l border-rule max-lg:border-l-0 max-lg:border-t ${className}`}
    >
      <Tabs.List aria-label={label} className="no-print flex flex-wrap border-b border-rule">
        {tabs.map((tab) => (
          <Tabs.Trigger
            key={tab.value}
            value={tab.value}
            className="min-h-12 flex-auto whitespace-nowrap border-b-4 border-transparent px-1.5 font-semibold text-soft data-[state=active]:border-press data-[state=active]:text-ink dark:data-[state=active]:border-marker"
          >
            {tab.name}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {tabs.map((tab) => (
        <Tabs.Content
          key={tab.value}
          value={tab.value}
          tabIndex={tab.read ? 0 : -1}
          {...(tab.kept ? { forceMount: true as const } : {})}
          className={`min-h-0 flex-1 overflow-y-auto data-[state=inactive]:hidden max-lg:overflow-visible ${tab.room}`}
        >
          {tab.body}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}
