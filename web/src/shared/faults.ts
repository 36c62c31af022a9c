import type { TextFault } from "../api/client";

type Place = Pick<TextFault, "line" | "column" | "length">;

/** Where the faulty word begins in a text, counted in characters from its start. */
export function startOf(text: string, { line, column }: Place): number {
  const before = text.split("\n").slice(0, line - 1);
  return before.reduce((sum, item) => sum + item.length + 1, 0) + column - 1;
}

/** The text with another word in place of the faulty one. */
export function mended(text: string, fault: Place, word: string): string {
  const start = startOf(text, fault);
  return text.slice(0, start) + word + text.slice(start + fault.length);
}
