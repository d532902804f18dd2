import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Refused } from "./api/client";
import { PeoplePage } from "./people/people-page";
import { Invited, Reset } from "./people/ways-in";
import { Broken } from "./session/broken";
import { workWithoutLine } from "./session/without-line";
import "./app.css";
import { JobPage } from "./bench/job-page";
import { NewJob } from "./brief/new-job";
import { JobList } from "./jobs/job-list";
import { SignedIn } from "./session/signed-in";
import { applyTheme } from "./session/theme";
import { ShelfPage } from "./shelf/shelf-page";

applyTheme();
// Styles that a dialog puts on the page carry the page's own nonce: nothing else may.
setNonce(document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "");
void workWithoutLine();

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // Whether there is a line is found out by asking: what was answered before is answered again without one.
      networkMode: "always",
      refetchOnWindowFocus: false,
      retry: (count, error) => error instanceof Refused && error.code === "offline" && count < 2,
    },
    mutations: { networkMode: "always" },
  },
});

const router = createBrowserRouter([
  { path: "/invite/:token", element: <Invited />, errorElement: <Broken /> },
  { path: "/reset/:who/:token", element: <Reset />, errorElement: <Broken /> },
  {
    element: <SignedIn />,
    errorElement: <Broken />,
    children: [
      { path: "/", element: <JobList /> },
      { path: "/new", element: <NewJob /> },
      { path: "/shelf", element: <ShelfPage /> },
      { path: "/people", element: <PeoplePage /> },
      { path: "/jobs/:job", element: <JobPage /> },
      { path: "/jobs/:job/:sheet", element: <JobPage /> },
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
