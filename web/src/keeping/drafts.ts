/**
 * Drafts that were not saved yet, kept on this device: by studio and account, so that nobody finds those of somebody
 * else, and by tab, so that two tabs at one document do not overwrite each other. What a closed tab left behind is
 * taken over by the next one that opens the document.
 */

/** Whose draft of what: the studio and account, the kind of document and its id. */
export type Whose = { owner: string; kind: string; id: string };
type KeptDraft = { form: number; revision: number; document: unknown; at: string };

const DRAFTS = "oaken/draft/";
const TABS = "oaken/tab/";
const BEAT_MS = 4000;
// a hidden tab's timers fall to once a minute: two beats may be missed before a tab counts as gone
const GONE_AFTER_MS = 130_000;

/** The store in which a kind of document keeps its drafts: what tells of health goes when its tab is closed. */
function storeOf(kind: string): Storage {
  return kind === "person" ? sessionStorage : localStorage;
}

let tab = "";
/** A name for this tab that a reload keeps. It beats as long as the tab is open. */
export function thisTab(): string {
  if (tab) return tab;
  const known = sessionStorage.getItem(TABS);
  // a tab that was duplicated brings the name of the one it was made from, which is still open
  tab = known && !isOpen(known) ? known : Math.random().toString(36).slice(2, 10);
  sessionStorage.setItem(TABS, tab);
  const beat = () => localStorage.setItem(TABS + tab, String(Date.now()));
  beat();
  window.setInterval(beat, BEAT_MS);
  window.addEventListener("pageshow", beat);
  window.addEventListener("pagehide", () => localStorage.removeItem(TABS + tab));
  return tab;
}

function isOpen(name: string): boolean {
  const beat = Number(localStorage.getItem(TABS + name) ?? 0);
  return Date.now() - beat < GONE_AFTER_MS;
}

function prefix({ owner, kind, id }: Whose): string {
  return `${DRAFTS}${owner}/${kind}/${id}/`;
}

function keysIn(store: Storage, start: string): string[] {
  const keys = Array.from({ length: store.length }, (_, at) => store.key(at)!);
  return keys.filter((key) => key.startsWith(start));
}

function read(store: Storage, key: string): KeptDraft | null {
  try {
    const found: unknown = JSON.parse(store.getItem(key) ?? "null");
    if (isDraft(found)) return found;
  } catch (error) {
    console.warn("The draft kept on this device cannot be read and is dropped.", error);
  }
  store.removeItem(key);
  return null;
}

function isDraft(found: unknown): found is KeptDraft {
  return (
    typeof found === "object" &&
    found !== null &&
    "document" in found &&
    "revision" in found &&
    typeof found.revision === "number" &&
    "form" in found &&
    "at" in found &&
    typeof found.at === "string"
  );
}

/** The draft that this tab, or a tab that is closed by now, left of a document; from now on it is this tab's. */
export function findDraft(whose: Whose): KeptDraft | null {
  const store = storeOf(whose.kind);
  const own = prefix(whose) + thisTab();
  const here = store.getItem(own) === null ? null : read(store, own);
  if (here) return here;
  const left = keysIn(store, prefix(whose))
    .filter((key) => key !== own && !isOpen(key.slice(prefix(whose).length)))
    .map((key) => ({ key, draft: read(store, key) }))
    .filter((item) => item.draft !== null)
    .toSorted((one, other) => (one.draft!.at < other.draft!.at ? 1 : -1))[0];
  if (!left) return null;
  store.setItem(own, JSON.stringify(left.draft));
  store.removeItem(left.key);
  return left.draft;
}

/** Whether another tab that is open has changes of a document that are not saved. */
export function isEditedElsewhere(whose: Whose): boolean {
  const start = prefix(whose);
  return keysIn(storeOf(whose.kind), start).some((key) => key !== start + thisTab() && isOpen(key.slice(start.length)));
}

export function keepDraft(whose: Whose, draft: KeptDraft): void {
  storeOf(whose.kind).setItem(prefix(whose) + thisTab(), JSON.stringify(draft));
}

export function dropDraft(whose: Whose): void {
  storeOf(whose.kind).removeItem(prefix(whose) + thisTab());
}

/** How many drafts of an account are on this device. */
export function countDrafts(owner: string): number {
  return [localStorage, sessionStorage].reduce((sum, store) => sum + keysIn(store, `${DRAFTS}${owner}/`).length, 0);
}

/** Drops every draft of an account: whoever signs out leaves nothing behind. */
export function clearDrafts(owner: string): void {
  for (const store of [localStorage, sessionStorage]) {
    keysIn(store, `${DRAFTS}${owner}/`).forEach((key) => store.removeItem(key));
  }
}
