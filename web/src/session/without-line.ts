/** Keep the application itself in this browser, so that it opens under a car without Wi-Fi. */

const SETTLED_MS = 4000;

/** Register the worker that keeps it; not before the page has settled, so that nothing waits for it. */
export async function workWithoutLine(): Promise<void> {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  await new Promise((done) => setTimeout(done, SETTLED_MS));
  try {
    await navigator.serviceWorker.register("/sw.js", { scope: "/" });
  } catch {
    // Forbidden or without TLS: it then works with a line only.
  }
}
