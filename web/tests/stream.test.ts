import { afterEach, beforeEach, expect, test, vi } from "vitest";

import { Stream } from "../src/live/stream";

class Source {
  static made: Source[] = [];
  onerror: (() => void) | null = null;
  constructor(readonly url: string) {
    Source.made.push(this);
  }
  addEventListener(): void {}
  close(): void {}
}

beforeEach(() => {
  vi.useFakeTimers({ toFake: ["setInterval", "clearInterval", "performance", "Date"] });
  vi.stubGlobal("EventSource", Source);
  vi.stubGlobal("window", globalThis);
  Source.made = [];
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

function followed() {
  const told = { lost: 0, again: 0 };
  const stream = new Stream({
    on: {},
    heard: () => undefined,
    lost: () => (told.lost += 1),
    again: () => (told.again += 1),
  });
  stream.follow("/stream");
  return { stream, told };
}

test("a stream that broke is asked for again though the device's clock is set back meanwhile", () => {
  const { stream, told } = followed();
  vi.setSystemTime(Date.now() - 600_000);
  Source.made[0]?.onerror?.();
  expect(told).toEqual({ lost: 1, again: 0 });
  vi.advanceTimersByTime(4_000);
  expect(told.again).toBeGreaterThan(0);
  stream.close();
});

test("a clock that is set ahead is no silence, and a silence is one whatever the clock says", () => {
  const { stream, told } = followed();
  vi.setSystemTime(Date.now() + 600_000);
  vi.advanceTimersByTime(3_000);
  expect(told.lost).toBe(0);
  vi.setSystemTime(Date.now() - 1_200_000);
  vi.advanceTimersByTime(4_000);
  expect(told.lost).toBe(1);
  stream.close();
});

test("a device that wakes asks at once", () => {
  const { stream, told } = followed();
  stream.lose();
  stream.wake();
  expect(told.again).toBe(1);
  stream.close();
});
