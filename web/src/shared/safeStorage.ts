/**
 * What a browser keeps, also where it refuses to: a browser that blocks storage, or whose disk is full, keeps in memory
 * until the page closes, and whoever shows the page is told so.
 */
let problem: string | null = null;
const listeners = new Set<() => void>();

/** Why this device keeps nothing (any more); null while it does. */
export const storageProblem = (): string | null => problem;

export function onStorageProblem(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

export function storageFailed(error: unknown): void {
  console.warn("This browser does not keep what it is given; it stays in memory until the page closes.", error);
  const words = error instanceof Error ? error.message || error.name : String(error);
  if (problem === null) {
    problem = words;
    listeners.forEach((listener) => listener());
  }
}

class SafeStorage implements Storage {
  private readonly memory = new Map<string, string>();
  [name: string]: unknown;

  constructor(private readonly real: Storage | null) {}

  private attempt<Found>(act: (real: Storage) => Found, otherwise: Found): Found {
    if (!this.real) return otherwise;
    try {
      return act(this.real);
    } catch (error) {
      storageFailed(error);
      return otherwise;
    }
  }

  private keys(): string[] {
    const real = this.attempt<string[]>((item) => Array.from({ length: item.length }, (_, at) => item.key(at)!), []);
    return [...new Set([...real, ...this.memory.keys()])];
  }

  get length(): number {
    return this.keys().length;
  }
  key(at: number): string | null {
    return this.keys()[at] ?? null;
  }
  getItem(key: string): string | null {
    return this.memory.get(key) ?? this.attempt((real) => real.getItem(key), null);
  }
  setItem(key: string, value: string): void {
    const kept = this.attempt((real) => {
      real.setItem(key, value);
      return true;
    }, false);
    if (kept) this.memory.delete(key);
    else this.memory.set(key, value);
  }
  removeItem(key: string): void {
    this.memory.delete(key);
    this.attempt((real) => real.removeItem(key), undefined);
  }
  clear(): void {
    this.memory.clear();
    this.attempt((real) => real.clear(), undefined);
  }
}

function realOf(name: "localStorage" | "sessionStorage"): Storage | null {
  try {
    const real = window[name];
    real.getItem("oaken");
    return real;
  } catch (error) {
    storageFailed(error);
    return null;
  }
}

/** From now on `localStorage` and `sessionStorage` never throw. */
export function beginSafeStorage(): void {
  for (const name of ["localStorage", "sessionStorage"] as const) {
    const safe = new SafeStorage(realOf(name));
    Object.defineProperty(window, name, { value: safe, configurable: true });
  }
}
