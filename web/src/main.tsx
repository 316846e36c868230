import { QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";

import { connect } from "./api/events";
import { queryClient } from "./api/queries";
import { Bench } from "./rooms/bench/Bench";
import { Exports } from "./rooms/Exports";
import { Footage } from "./rooms/Footage";
import { Frame } from "./shell/Frame";
import { Start } from "./shell/Start";
import { initTheme } from "./shell/theme";
import "./styles.css";

initTheme();
connect(() => void queryClient.invalidateQueries());

const router = createBrowserRouter([
  { path: "/", element: <Start /> },
  {
    path: "/projects/:projectId",
    element: <Frame />,
    children: [
      { path: "footage", element: <Footage /> },
      { path: "shots/:shotId", element: <Bench /> },
      { path: "bench", element: <Bench /> },
      { path: "exports", element: <Exports /> },
    ],
  },
  { path: "*", element: <Start /> },
]);

createRoot(document.getElementById("root")!).render(
  <QueryClientProvider client={queryClient}>
    <Tooltip.Provider delayDuration={350}>
      <RouterProvider router={router} />
    </Tooltip.Provider>
  </QueryClientProvider>,
);
