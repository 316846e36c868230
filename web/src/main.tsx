import { QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";

import { App } from "./app";
import { AppContext } from "./panels/app";
import { TracksContext } from "./panels/engine";
import { Frame } from "./shell/Frame";
import { Start } from "./shell/Start";
import { initTheme } from "./shell/theme";
import { Button } from "./ui/basics";
import { NoticesContext } from "./ui/notices";
import { PromptsContext } from "./ui/prompt";
import { SettlingContext } from "./ui/settle";
import "./styles.css";

const app = new App();
initTheme(app.kept);
app.start();

/** The rooms, each read when it is first gone to. */
const ROOMS = {
  footage: async () => (await import("./rooms/footage/Footage")).Footage,
  bench: async () => (await import("./rooms/bench/Bench")).Bench,
  reel: async () => (await import("./rooms/reel/Reel")).Reel,
  sheet: async () => (await import("./rooms/sheet/Sheet")).SheetRoom,
  exports: async () => (await import("./rooms/Exports")).Exports,
};
const room = (name: keyof typeof ROOMS) => async () => ({ Component: await ROOMS[name]() });

const router = createBrowserRouter([
  { path: "/", element: <Start /> },
  {
    path: "/projects/:projectId",
    element: <Frame />,
    ErrorBoundary: NotRead,
    HydrateFallback: () => <p className="p-8 text-quiet">Opening…</p>,
    children: [
      { path: "footage", lazy: room("footage") },
      { path: "shots/:shotId", lazy: room("bench") },
      { path: "bench", lazy: room("bench") },
      { path: "reel", lazy: room("reel") },
      { path: "sheet", lazy: room("sheet") },
      { path: "exports", lazy: room("exports") },
    ],
  },
  { path: "*", element: <Start /> },
]);

/** A room that cannot be read: the server is gone, or is another by now. */
function NotRead() {
  return (
    <main className="p-10">
      <p className="text-[16px] font-bold">This room could not be read.</p>
      <p className="mt-1 text-quiet">The server did not answer, or it is a newer one. What you have done is stored, or is kept in this browser until it can be.</p>
      <Button look="solid" className="mt-3" onClick={() => location.reload()}>
        Reload the page
      </Button>
    </main>
  );
}

createRoot(document.getElementById("root")!).render(
  <StrictMode>
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
    </AppContext>
  </StrictMode>,
);

// The other rooms and the help while nobody waits, so that going there is at once; one that cannot be read now is read when it is gone to.
window.addEventListener("load", () => window.setTimeout(() => [...Object.values(ROOMS), () => import("./help/Help")].forEach((read) => void read().catch(() => undefined)), 2000));
