import { expect, test } from "vitest";

import type { Sheet } from "../src/api/runs";
import { tagged } from "../src/live/relays";

/** Two legs of two turns of half a minute with a tag of two seconds, and a minute of rest between the legs: the numbers
 * of `tests/core/test_relays.py`. */
const block = { tag_s: 2 } as Sheet["blocks"][number];
const turns = [0, 32, 122, 154].map((start_s, place) => ({ person: place % 2, start_s, end_s: start_s + 30 }));

test("a tag begins the next turn at once, and after the last of a leg the rest", () => {
  expect(tagged(block, turns, 10, 31)).toEqual({ second: 32, until_s: 62 });
  expect(tagged(block, turns, 40, 31)).toEqual({ second: 62, until_s: 152 });
});

test("the first tag of the next leg ends one turn, though a rest went before it", () => {
  expect(tagged(block, turns, 140, 91)).toEqual({ second: 154, until_s: 184 });
  // a turn and two thirds after the rest was over: the tag between was forgotten
  expect(tagged(block, turns, 151.9, 112)).toEqual({ second: 184, until_s: null });
});

test("nothing is left behind the last turn", () => {
  expect(tagged(block, turns, 170, 31)).toEqual({ second: 184, until_s: null });
  expect(tagged(block, turns, 184, 31)).toBeNull();
});
