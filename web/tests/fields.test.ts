import { describe, expect, it, vi } from "vitest";

import { taking } from "../src/people/taking";
import { asBase64 } from "../src/shared/files";

describe("fields whose answer was worked out before", () => {
  it("take every value but none, and forget that answer", () => {
    const forget = vi.fn();
    const set = vi.fn();
    const take = taking(forget)<number>(set);
    take(null);
    expect(set).not.toHaveBeenCalled();
    expect(forget).not.toHaveBeenCalled();
    take(0);
    take(82.5);
    expect(set.mock.calls).toEqual([[0], [82.5]]);
    expect(forget).toHaveBeenCalledTimes(2);
  });
});

describe("files", () => {
  class Reader {
    result: string | null = null;
    onload: (() => void) | null = null;
    onerror: (() => void) | null = null;
    readAsDataURL(file: Blob) {
      void file.text().then((text) => {
        if (text === "unreadable") return this.onerror?.();
        this.result = `data:text/csv;base64,${btoa(text)}`;
        this.onload?.();
      });
    }
  }
  it("go to the server as base64, and say so where they cannot be read", async () => {
    vi.stubGlobal("FileReader", Reader);
    expect(await asBase64(new File(["name,age\n"], "a.csv"))).toBe(btoa("name,age\n"));
    await expect(asBase64(new File(["unreadable"], "a.csv"))).rejects.toThrow("cannot be read on this device");
    vi.unstubAllGlobals();
  });
});
