/** The entry of `list` at a place that has to be in it. A place outside is a fault of ours, and is named as such. */
export function entryAt<List extends ArrayLike<unknown>>(list: List, place: number): List[number] {
  if (!(place >= 0 && place < list.length)) throw new RangeError(`No entry ${place} in a list of ${list.length}.`);
  return list[place];
}

/** The last entry of a list that has to have one. */
export const lastOf = <List extends ArrayLike<unknown>>(list: List): List[number] => entryAt(list, list.length - 1);

/** A value that has to be there by now, such as what a pressed button was drawn from; `what` names it in the fault. */
export function present<Value>(value: Value, what: string): NonNullable<Value> {
  if (value === null || value === undefined) throw new Error(`${what} is missing.`);
  return value;
}

/** What an error says, of whatever kind it was thrown as. */
export const errorWords = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** A document that has to be an object of JSON; what it holds is for the server to judge. */
export function objectOf(document: unknown): Record<string, unknown> {
  if (typeof document !== "object" || document === null || Array.isArray(document)) {
    throw new TypeError("This is no document: an object of JSON is expected.");
  }
  return { ...document };
}

/** What this application wrote as JSON itself, or its server did. Raises SyntaxError for what is no JSON. */
export const read = <Written>(text: string): Written => JSON.parse(text) as Written;
