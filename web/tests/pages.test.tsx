import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";

import { SignInPage } from "../src/account/SignInPage";
import { TakeOut } from "../src/shared/TakeOut";
import { ClassListPage } from "../src/classes/ClassListPage";
import { RosterPage } from "../src/people/RosterPage";
import { RoomListPage } from "../src/room/RoomListPage";
import { as, asked, draw, serve } from "./screen";

const summary = (id: number, fields: object = {}) => ({
  id,
  name: `Class ${id}`,
  starts: "Tuesday 18:30",
  slot_min: 45,
  people: 12,
  revision: 2,
  saved_at: "2026-11-20T10:00:00Z",
  length_s: 2600,
  kcal_each: 310,
  next_on: null,
  crowd: [],
  room: "room",
  exercises: [],
  runState: null,
  course_week: null,
  archived: false,
  outline: [{ name: "Sets", kind: "sets", start_s: 0, end_s: 2600 }],
  ...fields,
});
const room = (id: string, retired = false) => ({ id, name: id, width_m: 9, depth_m: 6, zones: [], units: [], retired });
const catalogue = {
  exercises: [],
  equipment: [],
  muscles: [],
  patterns: [],
  muscle_mass: [],
  activities: [],
  questions: [],
  own: [],
  retired: [],
  own_equipment: [],
  retired_equipment: [],
  collisions: [],
};

describe("signing in", () => {
  it("tells why a try was refused, and how long to wait after too many", async () => {
    const user = userEvent.setup();
    serve({
      "POST /api/sign-in": { status: 401, body: { message: "That name and password do not belong together." } },
    });
    draw(<SignInPage />);
    await user.type(await screen.findByLabelText("Name"), "ranger");
    await user.type(screen.getByLabelText("Password"), "wrong");
    await user.click(screen.getByRole("button", { name: "Sign in" }));
    expect((await screen.findByRole("alert")).textContent).toContain("do not belong together");
    serve({
      "POST /api/sign-in": { status: 429, body: { message: "Too many wrong passwords for this name. Wait 5 min." } },
    });
    await user.click(screen.getByRole("button", { name: "Sign in" }));
    await waitFor(() => expect(screen.getByRole("alert").textContent).toContain("Wait 5 min"));
    expect(asked.filter((item) => item.what === "POST /api/sign-in").map((item) => item.sent)).toEqual([
      { user: "ranger", password: "wrong" },
      { user: "ranger", password: "wrong" },
    ]);
  });
});

describe("the first minute", () => {
  it("makes the first account where nobody has one", async () => {
    const user = userEvent.setup();
    serve({
      "GET /api/begin": { body: { open: true } },
      "POST /api/begin": {
        status: 422,
        body: { faults: [{ place: "the studio", field: "password", message: "is too short", right: "" }] },
      },
    });
    draw(<SignInPage />);
    await user.type(await screen.findByLabelText("What your studio is called"), "The loft");
    await user.type(screen.getByLabelText("Your name, to sign in with"), "keeper");
    await user.type(screen.getByLabelText("A password of at least eight signs"), "short");
    await user.click(screen.getByRole("button", { name: "Begin" }));
    expect((await screen.findByRole("alert")).textContent).toContain("is too short");
    const sent = asked.find((item) => item.what === "POST /api/begin")!.sent as Record<string, string>;
    expect(sent).toMatchObject({ studio: "The loft", user: "keeper", password: "short" });
    expect(sent.time_zone).toBeTruthy();
  });
});

describe("the list of classes", () => {
  const rest = { "GET /api/rooms": { body: [room("mill")] }, "GET /api/people": { body: [{ id: "a" }] } };

  it("teaches the first step where there is none yet", async () => {
    serve({ ...as("instructor"), ...rest, "GET /api/classes": { body: [] } });
    draw(<ClassListPage />);
    await waitFor(() =>
      expect((screen.getByRole("button", { name: /New class/ }) as HTMLButtonElement).disabled).toBe(false),
    );
    expect(document.body.textContent).toMatch(/no class|first class|nothing planned/i);
  });

  it("shows energy to instructors and no word of it to assistants, who cannot make classes", async () => {
    serve({ ...as("instructor"), ...rest, "GET /api/classes": { body: [summary(1)] } });
    const { unmount } = draw(<ClassListPage />);
    expect(await screen.findByText(/about 310 kcal each/)).toBeTruthy();
    unmount();
    serve({ ...as("assistant"), ...rest, "GET /api/classes": { body: [summary(1, { kcal_each: null })] } });
    draw(<ClassListPage />);
    expect(await screen.findByText("Class 1")).toBeTruthy();
    expect(document.body.textContent).not.toContain("kcal");
    expect(screen.queryByRole("button", { name: /New class/ })).toBeNull();
  });

  it("says what went wrong and tries again", async () => {
    serve({
      ...as("instructor"),
      ...rest,
      "GET /api/classes": { status: 503, body: { message: "The database is busy." } },
    });
    draw(<ClassListPage />);
    expect((await screen.findByRole("alert")).textContent).toContain("The database is busy.");
    serve({ "GET /api/classes": { body: [summary(3)] } });
    await userEvent.click(screen.getByRole("button", { name: /again/i }));
    expect(await screen.findByText("Class 3")).toBeTruthy();
  });
});

describe("the rooms", () => {
  it("are marked where they are retired, and brought back", async () => {
    serve({
      ...as("instructor"),
      "GET /api/rooms": { body: [room("mill"), room("attic", true)] },
      "GET /api/catalogue": { body: catalogue },
      "PUT /api/own/rooms/attic/retired": { status: 204 },
    });
    draw(<RoomListPage />);
    expect(await screen.findByText("retired")).toBeTruthy();
    serve({ "GET /api/rooms": { body: [room("attic"), room("mill")] } });
    await userEvent.click(await screen.findByRole("button", { name: "Restore attic" }));
    await waitFor(() => expect(screen.queryByText("retired")).toBeNull());
    expect(asked.find((item) => item.what.startsWith("PUT"))?.sent).toEqual({ retired: false });
  });
});

describe("taking something out", () => {
  it("says what still names it, and that nobody can choose it any more", async () => {
    serve({
      ...as("instructor"),
      "DELETE /api/own/exercises/mill-press": { body: { outcome: "retired", named_by: ["the class Legs"] } },
    });
    const page = draw(<TakeOut kind="exercises" id="mill-press" name="Mill press" retired={false} />);
    await userEvent.click(await screen.findByRole("button", { name: "Remove mill press" }));
    await waitFor(() => expect(asked.map((item) => item.what)).toContain("DELETE /api/own/exercises/mill-press"));
    page.unmount();
    serve({ "DELETE /api/own/rooms/mill": { status: 422, body: { faults: [
      { path: "id", place: "mill", field: "id", message: "is the only room there is", right: "another room first" }] } } }); // prettier-ignore
    draw(<TakeOut kind="rooms" id="mill" name="Mill" retired={false} />);
    await userEvent.click(await screen.findByRole("button", { name: "Remove Mill" }));
    expect((await screen.findByRole("alert")).textContent).toContain("is the only room there is (another room first)");
  });
});

describe("the roster", () => {
  it("is found by name and says for whom screening is open", async () => {
    const person = (id: string, name: string, open: boolean) => ({
      person: { id, name, age: 40, body_mass_kg: 70, level: "standard", consideration: [], bests_kg: {}, screening: null, max_formula: "tanaka", heart_medication: false },
      group: "team",
      screening: { words: open ? "none on record" : "no yes, 1 Nov", open },
    }); // prettier-ignore
    serve({
      ...as("instructor"),
      "GET /api/people/roster": { body: [person("a", "Ada", true), person("b", "Bo", false)] },
      "GET /api/attendance": { body: [] },
      "GET /api/conditions": { body: [] },
    }); // prettier-ignore
    draw(<RosterPage />);
    expect(await screen.findByText("Ada")).toBeTruthy();
    expect(screen.getByText(/screening open for 1/)).toBeTruthy();
    await userEvent.type(screen.getByRole("searchbox"), "bo");
    await waitFor(() => expect(screen.queryByText("Ada")).toBeNull());
    expect(screen.getByText("Bo")).toBeTruthy();
  });
});
