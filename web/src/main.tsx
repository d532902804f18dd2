import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { type ComponentType, StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Refused } from "./api/client";
import { hashOf } from "./api/keys";
import { answerOtherTabs } from "./api/storage";
import { Broken } from "./session/broken";
import { fetched } from "./session/fetched";
import { Waiting } from "./session/states";
import { Invited, Reset } from "./session/ways-in";
import { workWithoutLine } from "./session/without-line";
import "./app.css";
import { JobList } from "./jobs/job-list";
import { SignedIn } from "./session/signed-in";
import { applyTheme } from "./session/theme";

applyTheme();
answerOtherTabs();
// Styles that a dialog puts on the page carry the page's own nonce: nothing else may.
setNonce(document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "");
void workWithoutLine();

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      queryKeyHashFn: hashOf,
      // Whether there is a line is found out by asking: what was answered before is answered again without one.
      networkMode: "always",
      refetchOnWindowFocus: false,
      retry: (count, error) => error instanceof Refused && error.code === "offline" && count < 2,
    },
    mutations: { networkMode: "always" },
  },
});

// A page is fetched when it is first opened.
const page =
  <Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) =>
  async () => ({ Component: (await fetched(load))[name] });
const shelf = page(() => import("./shelf/shelf-page"), "ShelfPage");
const people = page(() => import("./people/people-page"), "PeoplePage");
const week = page(() => import("./week/week-page"), "WeekPage");
const practice = page(() => import("./practice/practice-page"), "PracticePage");
const fresh = page(() => import("./brief/new-job"), "NewJob");
const bench = page(() => import("./job-page/job-page"), "JobPage");

const router = createBrowserRouter([
  { path: "/invite/:token", element: <Invited />, errorElement: <Broken /> },
  { path: "/reset/:who/:token", element: <Reset />, errorElement: <Broken /> },
  {
    element: <SignedIn />,
    errorElement: <Broken />,
    hydrateFallbackElement: <Waiting what="Opening" />,
    children: [
      { path: "/", element: <JobList /> },
      { path: "/new", lazy: fresh },
      { path: "/shelf", lazy: shelf },
      { path: "/people", lazy: people },
      { path: "/week", lazy: week },
      { path: "/practise", lazy: practice },
      { path: "/jobs/:job", lazy: bench },
      { path: "/jobs/:job/:sheet", lazy: bench },
      { path: "*", element: <Navigate to="/" replace /> },
    ],
  },
]);

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
}
