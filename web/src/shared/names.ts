/** A second word that tells one placeholder from another: “Beginner 3”, “Guest B”. As in `core/oaken/basis/names.py`. */
const PLACEHOLDER = /^(?:[0-9]+|[A-Z]|#[0-9]+)$/;

/** What somebody is called on the floor: the first word of the name, with the number behind a placeholder. */
export function firstName(name: string): string;
export function firstName(name: string | undefined): string | undefined;
export function firstName(name: string | undefined): string | undefined {
  if (name === undefined) return undefined;
  const [first, second] = name.split(" ");
  return second !== undefined && PLACEHOLDER.test(second) ? `${first} ${second}` : first;
}
