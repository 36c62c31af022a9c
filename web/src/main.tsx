import "@fontsource-variable/source-sans-3";
import "./app/look.css";

import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";

import { keepOnDevice } from "./shared/newerVersion";
import { beginSafeStorage } from "./shared/safeStorage";
import { beginTheme } from "./shared/theme";
import { Shell } from "./app/Shell";
import { Broken, NotFound } from "./app/Trouble";
import { ClassListPage } from "./classes/ClassListPage";
import { TodayPage } from "./today/TodayPage";

beginSafeStorage();
beginTheme();
// an answer is drawn as soon as it is there, not after a timer
notifyManager.setScheduler(queueMicrotask);

const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } },
});

const router = createBrowserRouter([
  // outside the frame: these go on without the server, and without a sign-in
  {
    path: "/runs/:id",
    errorElement: <Broken />,
    lazy: async () => ({ Component: (await import("./run/RunPage")).RunPage }),
  },
  {
    path: "/wall/:token",
    errorElement: <Broken />,
    lazy: async () => ({ Component: (await import("./wall/WallPage")).WallPage }),
  },
  {
    path: "/phone/:token",
    errorElement: <Broken />,
    lazy: async () => ({ Component: (await import("./phone/PhonePage")).PhonePage }),
  },
  {
    element: <Shell />,
    errorElement: <Broken />,
    children: [
      {
        // a page that breaks leaves the frame around it standing
        errorElement: <Broken />,
        children: [
          { path: "/", element: <TodayPage /> },
          { path: "/classes", element: <ClassListPage /> },
          { path: "/book", lazy: async () => ({ Component: (await import("./book/BookPage")).BookPage }) },
          {
            path: "/runs/:id/book",
            lazy: async () => ({ Component: (await import("./book/RunBookPage")).RunBookPage }),
          },
          {
            // the address before it was renamed
            path: "/sketch",
            element: <Navigate to="/generate" replace />,
          },
          {
            path: "/generate",
            lazy: async () => ({ Component: (await import("./generate/GeneratePage")).GeneratePage }),
          },
          { path: "/calendar", lazy: async () => ({ Component: (await import("./today/CalendarPage")).CalendarPage }) },
          { path: "/classes/:id", lazy: async () => ({ Component: (await import("./design/DesignPage")).DesignPage }) },
          {
            path: "/catalogue",
            lazy: async () => ({ Component: (await import("./catalogue/CataloguePage")).CataloguePage }),
          },
          { path: "/people", lazy: async () => ({ Component: (await import("./people/RosterPage")).RosterPage }) },
          {
            path: "/courses",
            lazy: async () => ({ Component: (await import("./course/CourseListPage")).CourseListPage }),
          },
          { path: "/courses/:id", lazy: async () => ({ Component: (await import("./course/CoursePage")).CoursePage }) },
          {
            path: "/people/:key/progress",
            lazy: async () => ({ Component: (await import("./progress/ProgressPage")).ProgressPage }),
          },
          {
            path: "/classes/:id/sheet",
            lazy: async () => ({ Component: (await import("./today/SheetPage")).SheetPage }),
          },
          {
            path: "/classes/:id/run",
            lazy: async () => ({ Component: (await import("./today/OpenRunPage")).OpenRunPage }),
          },
          {
            path: "/courses/:id/programme",
            lazy: async () => ({ Component: (await import("./course/ProgrammePage")).ProgrammePage }),
          },
          {
            path: "/classes/:id/loads",
            lazy: async () => ({ Component: (await import("./loads/NextLoadsPage")).NextLoadsPage }),
          },
          { path: "/people/:key", lazy: async () => ({ Component: (await import("./people/PersonPage")).PersonPage }) },
          { path: "/studio", lazy: async () => ({ Component: (await import("./account/StudioPage")).StudioPage }) },
          { path: "/rooms", lazy: async () => ({ Component: (await import("./room/RoomListPage")).RoomListPage }) },
          { path: "/rooms/:key", lazy: async () => ({ Component: (await import("./room/RoomPage")).RoomPage }) },
          { path: "/compare", lazy: async () => ({ Component: (await import("./compare/ComparePage")).ComparePage }) },
          { path: "*", element: <NotFound /> },
        ],
      },
    ],
  },
]);

keepOnDevice();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
