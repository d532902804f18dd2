/** This browser's own memory, which may be full or forbidden: asking it never fails, and what was not kept is told. */

import { newName } from "./names";

export function kept(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** Keep a text; false where the browser would not. */
export function keep(key: string, text: string): boolean {
  try {
    localStorage.setItem(key, text);
    return true;
  } catch {
    return false;
  }
}

export function forget(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // What cannot be kept cannot be forgotten either.
  }
}

/** Keys of a kind, as they stand. */
export function keysOf(start: string): string[] {
  try {
    return Object.keys(localStorage).filter((key) => key.startsWith(start));
  } catch {
    return [];
  }
}

const TAB = "jugatrix-tab";
let tab: string | undefined;

/** This tab's own name: the same after it is loaded again, another one in every other tab. */
export function tabName(): string {
  if (tab) return tab;
  const entry = performance.getEntriesByType("navigation")[0] as PerformanceNavigationTiming | undefined;
  const again = entry?.type === "reload" || entry?.type === "back_forward";
  try {
    tab = (again && sessionStorage.getItem(TAB)) || newName();
    sessionStorage.setItem(TAB, tab);
  } catch {
    tab = newName();
  }
  return tab;
}

const TABS = "jugatrix-tabs";
const ANSWERS_MS = 250;
let tabs: BroadcastChannel | undefined;

/** Have this tab answer the others that ask which are open. */
export function answerOtherTabs(): void {
  if (typeof BroadcastChannel === "undefined") return;
  tabs = new BroadcastChannel(TABS);
  tabs.addEventListener("message", ({ data }) => {
    if (data === "who is open?") tabs?.postMessage({ open: tabName() });
  });
}

/** The names of this browser's other tabs that are open now; null where it cannot be asked. */
export async function otherTabs(): Promise<Set<string> | null> {
  const channel = tabs;
  if (!channel) return null;
  const open = new Set<string>();
  const hear = ({ data }: MessageEvent) => {
    if (data?.open) open.add(String(data.open));
  };
  channel.addEventListener("message", hear);
  channel.postMessage("who is open?");
  await new Promise((resolve) => setTimeout(resolve, ANSWERS_MS));
  channel.removeEventListener("message", hear);
  return open;
}
