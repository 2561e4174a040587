import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import "bootstrap/dist/css/bootstrap.min.css";
import "./theme.css";
import { lazy, StrictMode, Suspense } from "react";
import { Asking } from "./table/Asking";
import { RoomPage } from "./pages/RoomPage";
import { StartPage } from "./pages/StartPage";

const dark = matchMedia("(prefers-color-scheme: dark)");
const applyScheme = () => document.documentElement.setAttribute("data-bs-theme", dark.matches ? "dark" : "light");
dark.addEventListener("change", applyScheme);
applyScheme();

const BenchPage = lazy(() => import("./pages/BenchPage").then((page) => ({ default: page.BenchPage })));

const router = createBrowserRouter([
  { path: "/room/:room", element: <RoomPage /> },
  {
    path: "/bench",
    element: (
      <Suspense fallback={<p className="doorway">Opening the bench …</p>}>
        <BenchPage />
      </Suspense>
    ),
  },
  { path: "*", element: <StartPage /> },
]);
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
