import { zipSync } from "fflate";
import { describe, expect, it, vi } from "vitest";

import { taking } from "../src/people/taking";
import { filesIn } from "../src/shared/files";

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
  const bytes = (text: string) => new TextEncoder().encode(text);
  const zipped = (content: Record<string, Uint8Array>) =>
    new File([zipSync(content, { level: 9 }) as BlobPart], "all.zip", { type: "application/zip" });

  it("come out of a zip one by one, without what is too large or hidden", async () => {
    const bomb = new Uint8Array(9_000_000);
    const found = await filesIn(
      zipped({
        "belts/ines.csv": bytes("seconds,bpm"),
        "tobin.fit": bytes("x"),
        "bomb.csv": bomb,
        "__MACOSX/a": bytes("a"),
      }),
    );
    expect(found.map((item) => item.name)).toEqual(["belts/ines.csv", "tobin.fit"]);
    expect(await found[0]!.text()).toBe("seconds,bpm");
  });

  it("are taken as they are where they are no zip, and say so where one is broken", async () => {
    const file = new File(["a"], "ines.csv");
    expect(await filesIn(file)).toEqual([file]);
    await expect(filesIn(new File(["no zip"], "broken.zip"))).rejects.toThrow("no zip, or was cut off");
  });
});
