import type { Block } from "../api/client";
import { read } from "../basis/entries";

const KEY = "oaken-copied-block";

/** A block that was copied, and the class it comes from. */
export type Copied = { block: Block; from: string };

/** Keeps a block on this device, to be put into any class. */
export function copyBlock(block: Block, from: string): void {
  localStorage.setItem(KEY, JSON.stringify({ block, from } satisfies Copied));
}

/** The block that was copied last; null when there is none. */
export function copiedBlock(): Copied | null {
  const text = localStorage.getItem(KEY);
  if (!text) return null;
  try {
    return read<Copied>(text);
  } catch (error) {
    console.warn("The copied block cannot be read and is dropped.", error);
    localStorage.removeItem(KEY);
    return null;
  }
}
