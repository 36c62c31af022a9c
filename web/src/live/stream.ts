import type { HeartNow, RunEvent } from "../api/runs";
import { read } from "../basis/entries";

/**
 * A stream of the server that is followed as long as it lives: what it says, a silence that is too long, and asking again.
 * A dead network raises no error, and an answer that refuses ends an EventSource for good: so each time a new one is made.
 */
const SILENT_MS = 5_000;
const AGAIN_MS = 2_000;
const LOOKS_EVERY_MS = 1_000;

/** What a stream tells, by its kind. */
type Messages = { events: RunEvent[]; hearts: HeartNow[]; changed: unknown; gone: unknown };

type Listeners = {
  /** every message by its kind, with the number of the last event it tells */
  on: { [Kind in keyof Messages]?: (said: Messages[Kind], number: number) => void };
  /** the stream lives: told with each message */
  heard: () => void;
  /** it is silent, or broken */
  lost: () => void;
  /** asks for everything anew, and follows again */
  again: () => void;
};

export class Stream {
  private source: EventSource | null = null;
  /** by the clock that nobody sets: one that is set back would make a silence endless */
  private heard = 0;
  private readonly looks: number;

  constructor(private readonly listeners: Listeners) {
    this.looks = window.setInterval(() => this.look(), LOOKS_EVERY_MS);
  }

  get follows(): boolean {
    return this.source !== null;
  }

  /** Follows an address from now on. */
  follow(url: string): void {
    this.source?.close();
    const source = new EventSource(url);
    this.source = source;
    this.heard = performance.now();
    const hear = () => {
      this.heard = performance.now();
      this.listeners.heard();
    };
    source.addEventListener("beat", hear);
    const { events, hearts, changed, gone } = this.listeners.on;
    const listen = <Message>(kind: keyof Messages, tell?: (said: Message, number: number) => void) =>
      source.addEventListener(kind, (message: MessageEvent<string>) => {
        hear();
        tell?.(read<Message>(message.data), Number(message.lastEventId) || 0);
      });
    listen("events", events);
    listen("hearts", hearts);
    listen("changed", changed);
    listen("gone", gone);
    source.onerror = () => this.lose();
  }

  /** Follows no longer; it is asked again after a while. */
  lose(): void {
    this.source?.close();
    this.source = null;
    this.listeners.lost();
  }

  /** It was asked for just now, by whatever answer: the next try can wait. */
  asked(): void {
    this.heard = performance.now();
  }

  /** Looks at once, not after a while: the device woke up, or somebody signed in. */
  wake(): void {
    if (!this.source) this.heard = -Infinity;
    this.look();
  }

  close(): void {
    this.source?.close();
    this.source = null;
    window.clearInterval(this.looks);
  }

  private look(): void {
    const silent = performance.now() - this.heard;
    if (this.source && silent > SILENT_MS) this.lose();
    if (!this.source && silent > AGAIN_MS) {
      this.asked();
      this.listeners.again();
    }
  }
}
