import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactNode } from "react";
import { createMemoryRouter, Link, RouterProvider } from "react-router";
import { render } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";

import type { ClassOut, Plan, Room } from "../src/api/client";
import { FORM, modernise } from "../src/draft/olderDrafts";
import { useDraft } from "../src/draft/useDraft";
import {
  clearDrafts,
  countDrafts,
  findDraft,
  isEditedElsewhere,
  keepDraft,
  thisTab,
  type Whose,
} from "../src/keeping/drafts";
import { LeaveGuard } from "../src/keeping/LeaveGuard";
import { useDocument } from "../src/keeping/useDocument";
import { sameRoom } from "../src/room/roomEdits";
import { planOf } from "./making";
import { as, asked, serve } from "./screen";

const loaded: ClassOut = { id: 7, revision: 3, saved_at: "2026-11-20T10:00:00Z", plan: planOf("Legs") };
const named = (name: string) => (item: Plan) => ({ ...item, name });
const mine: Whose = { owner: "1/ranger", kind: "class", id: "7" };
const AT = "2026-11-21T10:00:00Z";
const left = (name: string, revision = 2) => ({ form: FORM, revision, document: { ...loaded.plan, name }, at: AT });
/** Puts a draft where another tab keeps its own. */
const inTab = (tab: string, draft: object) =>
  localStorage.setItem(`oaken/draft/1/ranger/class/7/${tab}`, JSON.stringify(draft));

beforeEach(() => sessionStorage.removeItem("oaken/draft/1/ranger/person/tobin/" + thisTab()));

function around({ children }: { children: ReactNode }) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  queries.setQueryData(["me"], as("instructor")["GET /api/me"].body);
  return <QueryClientProvider client={queries}>{children}</QueryClientProvider>;
}
const draftOf = (heard = vi.fn()) => renderHook(() => useDraft(loaded, heard), { wrapper: around });

describe("a document under edit", () => {
  it("is edited, undone, done again, and kept on the device until it is saved", async () => {
    const heard = vi.fn();
    serve({ "PUT /api/classes/7": { body: { ...loaded, revision: 4 } } });
    const { result } = draftOf(heard);
    expect(result.current).toMatchObject({ dirty: false, canUndo: false, canRedo: false, revision: 3 });
    act(() => result.current.edit(named("Heavy")));
    expect(result.current).toMatchObject({ dirty: true, canUndo: true });
    expect(heard).toHaveBeenLastCalledWith(expect.objectContaining({ name: "Heavy" }));
    expect(findDraft(mine)).toMatchObject({ revision: 3, document: { name: "Heavy" } });
    act(() => result.current.undo());
    expect(result.current).toMatchObject({ dirty: false, canRedo: true });
    expect(findDraft(mine)).toBeNull();
    act(() => result.current.redo());
    expect(result.current.plan.name).toBe("Heavy");
    act(() => result.current.save());
    await waitFor(() => expect(result.current).toMatchObject({ dirty: false, revision: 4, canUndo: true }));
    expect(asked.at(-1)!.sent).toMatchObject({ based_on: 3, plan: { name: "Heavy" } });
  });

  it("takes an edit that changes nothing for none, and quick edits of one field for one", () => {
    const heard = vi.fn();
    const { result } = draftOf(heard);
    act(() => result.current.edit((item) => item));
    expect(heard).not.toHaveBeenCalled();
    expect(result.current.canUndo).toBe(false);
    act(() => result.current.edit(named("H"), "name"));
    act(() => result.current.edit(named("He"), "name"));
    act(() => result.current.undo());
    expect(result.current.plan.name).toBe(loaded.plan.name);
  });

  it("never overwrites what somebody else saved: it shows that, saves over it, or takes it and can come back", async () => {
    const theirs = { ...loaded, revision: 9, plan: planOf("Theirs") };
    const stale = { status: 409, body: { message: "This class was saved elsewhere", latest: theirs } };
    serve({
      "PUT /api/classes/7": (sent) =>
        (sent as { based_on: number }).based_on === 9 ? { body: { ...loaded, revision: 10 } } : stale,
    });
    const { result } = draftOf();
    act(() => result.current.edit(named("Mine")));
    act(() => result.current.save());
    await waitFor(() => expect(result.current.newer).toMatchObject({ revision: 9, document: { name: "Theirs" } }));
    expect(result.current).toMatchObject({ dirty: true, plan: { name: "Mine" } });
    act(() => result.current.show(result.current.newer!));
    expect(result.current).toMatchObject({ dirty: false, revision: 9, plan: { name: "Theirs" } });
    act(() => result.current.undo());
    expect(result.current.plan.name).toBe("Mine");
    act(() => void result.current.saveOver());
    await waitFor(() => expect(result.current).toMatchObject({ dirty: false, revision: 10 }));
  });

  it("shows what the server settled where it may settle more than was said", async () => {
    const save = vi.fn(async () => ({ kept: { document: { name: "settled" }, revision: 2 } }));
    const options = {
      kind: "room",
      id: "x",
      loaded: { document: { name: "as read" }, revision: 1 },
      save,
      adopts: true,
    };
    const { result } = renderHook(() => useDocument(options), { wrapper: around });
    act(() => result.current.edit(() => ({ name: "said" })));
    act(() => result.current.save());
    await waitFor(() =>
      expect(result.current).toMatchObject({ document: { name: "settled" }, dirty: false, revision: 2 }),
    );
  });

  it("compares rooms by what they say, however they are written", () => {
    const room: Room = { id: "mill", name: "Mill", width_m: 9, depth_m: 6, zones: [], units: [] };
    expect(sameRoom(room, { units: [], zones: [], depth_m: 6, width_m: 9, name: "Mill", id: "mill" })).toBe(true);
    expect(sameRoom(room, { ...room, width_m: 8 })).toBe(false);
  });
});

describe("drafts on this device", () => {
  it("come back after a reload on the revision they were made from", () => {
    keepDraft(mine, left("Left here"));
    const { result } = draftOf();
    expect(result.current).toMatchObject({ dirty: true, revision: 2, broughtBack: AT, plan: { name: "Left here" } });
    act(() => result.current.undo());
    expect(result.current).toMatchObject({ dirty: false, broughtBack: null, plan: { name: "Legs" } });
  });

  it("of a tab that is closed are taken over; those of an open tab are left alone and told", () => {
    inTab("gone", left("From a closed tab"));
    inTab("open", left("From an open tab"));
    localStorage.setItem("oaken/tab/open", String(Date.now()));
    const { result } = draftOf();
    expect(result.current).toMatchObject({ plan: { name: "From a closed tab" }, elsewhere: true });
    act(() => result.current.edit(named("Mine")));
    expect(JSON.parse(localStorage.getItem("oaken/draft/1/ranger/class/7/open")!)).toEqual(left("From an open tab"));
    expect(isEditedElsewhere(mine)).toBe(true);
    localStorage.setItem("oaken/tab/open", String(Date.now() - 200_000));
    expect(isEditedElsewhere(mine)).toBe(false);
  });

  it("are found by nobody but the account in the studio that left them, and go when it signs out", () => {
    keepDraft(mine, left("Mine"));
    keepDraft({ ...mine, kind: "person", id: "tobin" }, left("Health"));
    expect(localStorage.getItem(`oaken/draft/1/ranger/person/tobin/${thisTab()}`)).toBeNull();
    expect(findDraft({ ...mine, owner: "1/helper" })).toBeNull();
    expect(findDraft({ ...mine, owner: "2/ranger" })).toBeNull();
    expect(countDrafts("1/ranger")).toBe(2);
    clearDrafts("1/ranger");
    expect([countDrafts("1/ranger"), findDraft(mine)]).toEqual([0, null]);
  });

  it("that cannot be read are dropped with a word", () => {
    const warn = vi.spyOn(console, "warn").mockImplementation(() => undefined);
    localStorage.setItem(`oaken/draft/1/ranger/class/7/${thisTab()}`, "{half");
    const { result } = draftOf();
    expect(result.current).toMatchObject({ dirty: false, revision: 3 });
    expect(findDraft(mine)).toBeNull();
    expect(warn).toHaveBeenCalledOnce();
    warn.mockRestore();
  });

  it("of the first version are turned into today's form; those of today are left as they are", async () => {
    const upgraded = planOf("Today");
    serve({ "POST /api/upgrade": { body: { plan: upgraded, notes: [] } } });
    const old = { name: "Old", blocks: [] };
    localStorage.setItem("oaken-draft-7", JSON.stringify({ revision: 7, plan: old, at: AT }));
    await modernise(mine);
    expect(asked).toEqual([{ what: "POST /api/upgrade", sent: { plan: old } }]);
    expect(findDraft(mine)).toEqual({ form: FORM, revision: 7, document: upgraded, at: AT });
    expect(localStorage.getItem("oaken-draft-7")).toBeNull();
    await modernise(mine);
    expect(asked).toHaveLength(1);
  });
});

describe("leaving with changes that are not saved", () => {
  function page(save?: () => Promise<boolean>) {
    const here = (
      <>
        <Link to="/away">Away</Link>
        <LeaveGuard what="this class" dirty save={save} staysHere />
      </>
    );
    HTMLDialogElement.prototype.showModal ??= function () {
      this.open = true;
    };
    HTMLDialogElement.prototype.close ??= function () {
      this.open = false;
    };
    const router = createMemoryRouter([
      { path: "/", element: here },
      { path: "/away", element: <p>Elsewhere</p> },
    ]);
    render(<RouterProvider router={router} />);
    return userEvent.setup();
  }

  it("is asked about by a link of the application and by the browser", async () => {
    const user = page();
    const closing = new Event("beforeunload", { cancelable: true });
    window.dispatchEvent(closing);
    expect(closing.defaultPrevented).toBe(true);
    await user.click(screen.getByText("Away"));
    await user.click(await screen.findByText("Stay"));
    expect(screen.queryByText("Elsewhere")).toBeNull();
    await user.click(screen.getByText("Away"));
    await user.click(await screen.findByText("Leave the draft here"));
    expect(await screen.findByText("Elsewhere")).toBeTruthy();
  });

  it("saves first where that is wanted, and stays when nothing was kept", async () => {
    const save = vi.fn().mockResolvedValueOnce(false).mockResolvedValueOnce(true);
    const user = page(save);
    await user.click(screen.getByText("Away"));
    await user.click(await screen.findByText("Save and leave"));
    await waitFor(() => expect(screen.queryByText("Save and leave")).toBeNull());
    expect(screen.queryByText("Elsewhere")).toBeNull();
    await user.click(screen.getByText("Away"));
    await user.click(await screen.findByText("Save and leave"));
    expect(await screen.findByText("Elsewhere")).toBeTruthy();
  });
});
