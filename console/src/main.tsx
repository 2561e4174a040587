import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import "bootstrap/dist/css/bootstrap.min.css";
import "./theme.css";
import { lazy, StrictMode, Suspense, type ReactNode } from "react";
import { service } from "./api/service";
import { Asking } from "./parts/Asking";
import { RoomPage } from "./pages/RoomPage";

const dark = matchMedia("(prefers-color-scheme: dark)");
const applyScheme = () => document.documentElement.setAttribute("data-bs-theme", dark.matches ? "dark" : "light");
dark.addEventListener("change", applyScheme);
applyScheme();

const BenchPage = lazy(() => import("./pages/BenchPage").then((page) => ({ default: page.BenchPage })));
const KitPage = lazy(() => import("./pages/KitPage").then((page) => ({ default: page.KitPage })));
const StartPage = lazy(() => import("./pages/StartPage").then((page) => ({ default: page.StartPage })));

const soon = (page: ReactNode) => <Suspense fallback={<p className="doorway">One moment …</p>}>{page}</Suspense>;

const router = createBrowserRouter(
  [
    { path: "/room/:room", element: <RoomPage /> },
    { path: "/bench/:kit?", element: soon(<BenchPage />) },
    { path: "/kit/:kit", element: soon(<KitPage />) },
    { path: "*", element: soon(<StartPage />) },
  ],
  { basename: new URL(service).pathname },
);
const queries = new QueryClient({ defaultOptions: { queries: { retry: 1 } } });

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
        <Asking />
      </QueryClientProvider>
    </StrictMode>,
  );
}
