import { render, screen } from "@testing-library/react";
import { createMemoryRouter, Outlet, RouterProvider } from "react-router";
import { describe, expect, it, vi } from "vitest";

import { Broken, NotFound } from "../src/app/Trouble";

function Breaks({ message }: { message: string }): never {
  throw new Error(message);
}

function open(message: string, address = "/") {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const pages = [
    { path: "/", element: <Breaks message={message} /> },
    { path: "*", element: <NotFound /> },
  ];
  const frame = { element: <Outlet />, children: [{ errorElement: <Broken />, children: pages }] };
  render(<RouterProvider router={createMemoryRouter([frame], { initialEntries: [address] })} />);
}

describe("what a page shows when something is wrong", () => {
  it("says that it broke, that drafts are safe, and what to tell", () => {
    open("staves is undefined");
    expect(screen.getByRole("alert").textContent).toContain("This page broke while it was drawn");
    expect(screen.getByRole("alert").textContent).toContain("still on this device");
    expect(screen.getByText(/staves is undefined/)).toBeTruthy();
    expect(screen.queryByText(/nothing at this address/)).toBeNull();
  });

  it("tells a part that could not be fetched apart from a fault", () => {
    open("Failed to fetch dynamically imported module: /assets/x.js");
    expect(screen.getByRole("alert").textContent).toContain("could not be fetched");
    expect(screen.queryByText(/What to tell/)).toBeNull();
  });

  it("says of an unknown address that nothing is there", () => {
    open("", "/elsewhere");
    expect(screen.getByText("There is nothing at this address")).toBeTruthy();
    expect(screen.queryByTestId("broken")).toBeNull();
  });
});
