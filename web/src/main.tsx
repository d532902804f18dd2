import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Refused } from "./api/client";
import { Broken } from "./session/broken";
import "./app.css";
import { JobPage } from "./bench/job-page";
import { NewJob } from "./brief/new-job";
import { JobList } from "./jobs/job-list";
import { SignedIn } from "./session/signed-in";
import { applyTheme } from "./session/theme";
import { ShelfPage } from "./shelf/shelf-page";

applyTheme();

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      refetchOnWindowFocus: false,
      retry: (count, error) => error instanceof Refused && error.code === "offline" && count < 2,
    },
  },
});

const router = createBrowserRouter([
  {
    element: <SignedIn />,
    errorElement: <Broken />,
    children: [
      { path: "/", element: <JobList /> },
      { path: "/new", element: <NewJob /> },
      { path: "/shelf", element: <ShelfPage /> },
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
