import { QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";

import { App } from "./app";
import { AppContext } from "./panels/app";
import { TracksContext } from "./panels/engine";
import { Bench } from "./rooms/bench/Bench";
import { Exports } from "./rooms/Exports";
import { Reel } from "./rooms/reel/Reel";
import { Footage } from "./rooms/footage/Footage";
import { SheetRoom } from "./rooms/sheet/Sheet";
import { Frame } from "./shell/Frame";
import { Start } from "./shell/Start";
import { initTheme } from "./shell/theme";
import { NoticesContext } from "./ui/notices";
import { PromptsContext } from "./ui/prompt";
import { SettlingContext } from "./ui/settle";
import "./styles.css";

const app = new App();
initTheme(app.kept);
app.start();

const router = createBrowserRouter([
  { path: "/", element: <Start /> },
  {
    path: "/projects/:projectId",
    element: <Frame />,
    children: [
      { path: "footage", element: <Footage /> },
      { path: "shots/:shotId", element: <Bench /> },
      { path: "bench", element: <Bench /> },
      { path: "reel", element: <Reel /> },
      { path: "sheet", element: <SheetRoom /> },
      { path: "exports", element: <Exports /> },
    ],
  },
  { path: "*", element: <Start /> },
]);

createRoot(document.getElementById("root")!).render(
  <AppContext value={app}>
    <QueryClientProvider client={app.queries}>
      <NoticesContext value={app.notices}>
        <PromptsContext value={app.prompts}>
          <SettlingContext value={app.settling}>
            <TracksContext value={app.tracks}>
              <Tooltip.Provider delayDuration={350}>
                <RouterProvider router={router} />
              </Tooltip.Provider>
            </TracksContext>
          </SettlingContext>
        </PromptsContext>
      </NoticesContext>
    </QueryClientProvider>
  </AppContext>,
);
