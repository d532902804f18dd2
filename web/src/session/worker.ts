/// <reference lib="webworker" />

/** The worker that keeps the application in a browser, so that it opens under a car without Wi-Fi.
 *
 * All of one build, or nothing of it. A later build waits until the last tab is closed: nothing in hand is loaded away.
 */

export type {};

declare const self: ServiceWorkerGlobalScope;
/** Every file of this build by its address, and what it holds as a sum; vite.config.ts puts it in. */
declare const FILES: Record<string, string>;
declare const BUILD: string;

const KEPT = `application-${BUILD}`;
const PAGE = "/index.html";
const WAITS_MS = 4000;

/** Fetch what is not kept yet: a file that an earlier build had with the same sum is taken from there. */
async function keep(): Promise<void> {
  const [kept, earlier] = [await caches.open(KEPT), await caches.keys()];
  const one = async ([address, sum]: [string, string]) => {
    const request = new Request(`${address}?${sum}`);
    for (const name of earlier) {
      const found = await (await caches.open(name)).match(request);
      if (found) return kept.put(request, found);
    }
    const answer = await fetch(address, { cache: "reload" });
    if (!answer.ok) throw new Error(`${address} answered ${answer.status}`);
    await kept.put(request, answer);
  };
  await Promise.all(Object.entries(FILES).map(one));
}

async function forgetEarlier(): Promise<void> {
  const names = await caches.keys();
  await Promise.all(names.filter((name) => name !== KEPT).map((name) => caches.delete(name)));
}

async function kept(address: string): Promise<Response | undefined> {
  return (await caches.open(KEPT)).match(`${address}?${FILES[address]}`);
}

/** The page is fetched anew where there is a line: its scripts and its security headers belong together. */
async function page(request: Request): Promise<Response> {
  const fetched = fetch(request);
  const late = new Promise<undefined>((done) => setTimeout(done, WAITS_MS));
  const soon = await Promise.race([fetched.catch(() => undefined), late]);
  return soon ?? (await kept(PAGE)) ?? fetched;
}

async function file(request: Request, address: string): Promise<Response> {
  return (await kept(address)) ?? fetch(request);
}

self.addEventListener("install", (event) => event.waitUntil(keep()));
self.addEventListener("activate", (event) => event.waitUntil(forgetEarlier()));
self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin) return;
  if (request.mode === "navigate" && !pathname.startsWith("/api/")) event.respondWith(page(request));
  else if (pathname in FILES && pathname !== PAGE) event.respondWith(file(request, pathname));
});
