import { beforeEach, describe, expect, it, vi } from "vitest";

import type { RunEvent } from "../src/api/runs";
import { DeviceClock } from "../src/live/deviceClock";

const MINUTE = 60_000;
const EXACT = { error_ms: 1, measuredAt: 0 };

/** A device and a server, each with clocks that are moved by hand. */
class World {
  real = 1_000_000_000_000;
  wallOff = 0;
  serverOff = 0;
  steady = 0;
  readonly clock = new DeviceClock({ wall: () => this.real + this.wallOff, steady: () => this.steady });

  pass(ms: number, asleep = false): void {
    this.real += ms;
    if (!asleep) this.steady += ms;
  }
  measure(): void {
    this.clock.take({ ms: this.server() - (this.real + this.wallOff), ...EXACT });
  }
  server = (): number => this.real + this.serverOff;
  wrong = (): number => this.clock.now() - this.server();
}

describe("a device's clock", () => {
  let world: World;
  beforeEach(() => {
    world = new World();
    world.serverOff = 7_000;
    world.measure();
    expect(world.wrong()).toBe(0);
  });

  it("does not move when the device's clock is set ten minutes on, before and after the server is asked", () => {
    world.wallOff = 10 * MINUTE;
    world.pass(1_000);
    expect(world.wrong()).toBe(0);
    world.measure();
    expect([world.wrong(), world.clock.step_ms]).toEqual([0, 0]);
    world.wallOff = -3 * MINUTE;
    world.pass(1_000);
    expect(world.wrong()).toBe(0);
  });

  it("asks, and goes on as it was, when the server's clock steps by an hour", () => {
    world.serverOff += 60 * MINUTE;
    world.pass(1_000);
    world.measure();
    expect(world.clock.step_ms).toBe(60 * MINUTE);
    expect(world.wrong()).toBe(-60 * MINUTE);
    world.clock.decide("device");
    world.pass(MINUTE);
    world.measure();
    expect([world.clock.step_ms, world.wrong()]).toEqual([0, -60 * MINUTE]);
    // it steps back: nothing was ever wrong
    world.serverOff -= 60 * MINUTE;
    world.measure();
    expect([world.clock.step_ms, world.wrong()]).toEqual([0, 0]);
    world.serverOff += 5 * MINUTE;
    world.measure();
    world.clock.decide("server");
    expect(world.wrong()).toBe(0);
  });

  it("follows at once when the device slept, as its wall clock bears witness", () => {
    world.pass(10 * MINUTE, true);
    expect(world.wrong()).toBe(-10 * MINUTE);
    world.measure();
    expect([world.clock.step_ms, world.wrong()]).toEqual([0, 0]);
  });

  it("follows small steps and a first measurement, whatever was kept from before", () => {
    world.serverOff += 1_500;
    world.measure();
    expect(world.wrong()).toBe(0);
    const fresh = new DeviceClock({ wall: () => 5_000, steady: () => 0 });
    fresh.begin({ ms: 90_000, ...EXACT });
    expect(fresh.now()).toBe(95_000);
    fresh.take({ ms: 0, ...EXACT });
    expect([fresh.now(), fresh.step_ms]).toEqual([5_000, 0]);
  });
});

const press = (id: string): RunEvent =>
  ({ id, kind: "paused", happened_at: "2026-11-30T18:00:00Z", by: "", device: "d" }) as RunEvent;

describe("a browser that refuses to keep anything", () => {
  beforeEach(() => {
    vi.resetModules();
    vi.stubGlobal("window", globalThis);
  });

  it.each([
    ["does not open", { open: () => { throw new DOMException("refused", "SecurityError"); } }], // prettier-ignore
    ["is not there", undefined],
  ])("keeps presses in memory when its database %s, and says so", async (_, indexedDB) => {
    vi.stubGlobal("indexedDB", indexedDB);
    const warned = vi.spyOn(console, "warn").mockImplementation(() => undefined);
    const device = await import("../src/live/device");
    const { onStorageProblem, storageProblem } = await import("../src/shared/safeStorage");
    const told = vi.fn();
    onStorageProblem(told);
    expect(await device.deviceName()).toBe(await device.deviceName());
    await device.keepWaiting("1/ranger", 7, [press("a")], { name: "Legs", opened_at: "2026-11-30T17:00:00Z" });
    await device.keepWaiting("1/helper", 7, [press("b")]);
    expect((await device.waitingOf("1/ranger", 7)).map((event) => event.id)).toEqual(["a"]);
    expect((await device.leftOver()).map((item) => [item.owner, item.name, item.events.length])).toEqual([
      ["1/ranger", "Legs", 1],
      ["1/helper", "", 1],
    ]);
    await device.dropWaiting(7, ["a"]);
    expect(await device.waitingOf("1/ranger", 7)).toEqual([]);
    expect(await device.keptMe()).toBeNull();
    expect(storageProblem()).toBeTruthy();
    expect(told).toHaveBeenCalledTimes(1);
    warned.mockRestore();
  });

  it("keeps in memory what a full or blocked local storage will not take", async () => {
    const full = {
      length: 0,
      key: () => null,
      getItem: () => null,
      setItem: () => { throw new DOMException("full", "QuotaExceededError"); }, // prettier-ignore
      removeItem: () => undefined,
    };
    vi.stubGlobal("window", { localStorage: full });
    const warned = vi.spyOn(console, "warn").mockImplementation(() => undefined);
    const { beginSafeStorage, storageProblem } = await import("../src/shared/safeStorage");
    beginSafeStorage();
    const { localStorage, sessionStorage } = window;
    localStorage.setItem("a", "1");
    expect([localStorage.getItem("a"), localStorage.length, localStorage.key(0)]).toEqual(["1", 1, "a"]);
    localStorage.removeItem("a");
    expect(localStorage.getItem("a")).toBeNull();
    // there is none at all
    sessionStorage.setItem("b", "2");
    expect(sessionStorage.getItem("b")).toBe("2");
    expect(storageProblem()).toBeTruthy();
    warned.mockRestore();
  });
});

describe("presses as a file", () => {
  it("say which run they are of, and are known again", async () => {
    vi.stubGlobal("window", { location: { origin: "http://127.0.0.1" } });
    const { asFile, isPresses } = await import("../src/live/presses");
    const left = { owner: "1/a", run: 7, name: "Legs", opened_at: "2026-11-30T17:00:00Z", events: [press("a")] };
    const document: unknown = JSON.parse(asFile(left));
    expect(isPresses(document)).toBe(true);
    expect(document).toMatchObject({ run: 7, name: "Legs", events: [{ id: "a" }] });
    expect(isPresses({ format: "oaken-class/2" })).toBe(false);
  });
});
