import permissions from "../../server/studio/permissions.json";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render } from "@testing-library/react";
import type { ReactNode } from "react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { afterEach, vi } from "vitest";

type Answer = { status?: number; body?: unknown } | ((sent: unknown) => { status?: number; body?: unknown });
const answers = new Map<string, Answer>();
/** What was asked of the server, in order: method, path, and the body that was sent. */
export const asked: { what: string; sent: unknown }[] = [];

/** What the server answers from now on, by method and path; what is not named here is a 404. */
export function serve(more: Record<string, Answer>): void {
  for (const [what, answer] of Object.entries(more)) answers.set(what, answer);
}

vi.stubGlobal("fetch", async (request: Request) => {
  const what = `${request.method} ${new URL(request.url).pathname}`;
  const text = await request.text();
  const sent: unknown = text ? JSON.parse(text) : null;
  asked.push({ what, sent });
  const answer = answers.get(what) ?? { status: 404, body: { message: `nothing at ${what}` } };
  const { status = 200, body } = typeof answer === "function" ? answer(sent) : answer;
  return new Response(body === undefined ? null : JSON.stringify(body), {
    status,
    headers: { "content-type": "application/json" },
  });
});

afterEach(() => {
  cleanup();
  answers.clear();
  asked.length = 0;
  localStorage.clear();
});

/** Somebody who is signed in, with what the server's own table permits the role. */
export const as = (role: "instructor" | "assistant") => ({
  "GET /api/me": {
    body: {
      user: "ranger",
      studio: { id: 1, name: "Alder Mill", role },
      studios: [{ id: 1, name: "Alder Mill", role }],
      permissions: Object.entries(permissions)
        .filter(([, granted]) => granted.roles.includes(role))
        .map(([name]) => name),
    },
  },
});

/** Draws a page at an address, as the application does. */
export function draw(page: ReactNode, address = "/"): ReturnType<typeof render> {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={queries}>
      <RouterProvider router={createMemoryRouter([{ path: "*", element: page }], { initialEntries: [address] })} />
    </QueryClientProvider>,
  );
}
