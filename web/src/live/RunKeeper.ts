/**
 * One run on this device. Whatever is pressed is kept here first, then drawn, then sent; the server's stream brings what
 * others do. Without the server everything goes on, and what waits is sent by id when it is back.
 */
import {
  takeUp,
  sendEvents,
  serverTime,
  sheetsOf,
  type HeartNow,
  type LiveRun,
  type RunEvent,
  type Sheet,
} from "../api/runs";
import { onSignedOut } from "../api/client";
import { courseAt, replayEvents, placeIn, PRESSES, standing, type RunState, type Saw } from "./runState";
import * as device from "./device";
import { DeviceClock, STEP_MS } from "./deviceClock";
import { measureOffset, NOT_MEASURED, type Offset } from "./serverClock";
import { Stream } from "./stream";
import { entryAt, errorWords } from "../basis/entries";

export type Reach = "connected" | "alone" | "signed out" | "gone";
/** A run as it is drawn. `waiting` events are on this device only, `refused` ones the server would not keep. */
export type RunOnDevice = {
  live: LiveRun | null;
  problem: string | null;
  sheets: Sheet[];
  events: RunEvent[];
  /** the runState up to the last event; `courseAt` brings it to now */
  runState: RunState | null;
  waiting: number;
  refused: { id: string; message: string }[];
  /** why the server, which answers, does not keep what waits; null while it does */
  sendProblem: string | null;
  reach: Reach;
  offset: Offset;
  /** by how many ms the server's time stepped away from this device's, where nobody has said which is right; else 0 */
  step_ms: number;
  /** whether the press made last here counts once with another hand's at the same moment */
  countedOnce: boolean;
  /** who wears a belt, as the server told it last; instructors only */
  hearts: HeartNow[];
};

/** What of an event whoever makes it says; the rest is added here. */
type Fields<Kind extends RunEvent["kind"]> = Omit<
  Extract<RunEvent, { kind: Kind }>,
  "id" | "kind" | "happened_at" | "received_at" | "by" | "device"
>;

/** What happens, as whoever makes it says it. */
export type NewEvent = { kind: RunEvent["kind"]; [field: string]: unknown };

const TOLD_MS = 6_000;
const MEASURE_EVERY_MS = 60_000;
const BATCH = 200;

export class RunKeeper {
  private state: RunOnDevice = {
    live: null,
    problem: null,
    sheets: [],
    events: [],
    runState: null,
    waiting: 0,
    refused: [],
    sendProblem: null,
    reach: "alone",
    offset: NOT_MEASURED,
    step_ms: 0,
    countedOnce: false,
    hearts: [],
  };
  private readonly listeners = new Set<() => void>();
  private readonly confirmed = new Map<string, RunEvent>();
  private readonly mine = new Map<string, RunEvent>();
  private tabs: BroadcastChannel | null = null;
  private stream: Stream | null = null;
  private seq = 0;
  private name = "";
  private count = 0;
  private lastMoment = 0;
  private flushing: Promise<void> | null = null;
  private timers: number[] = [];
  private closed = false;
  private readonly clock = new DeviceClock();
  private forget: () => void = () => undefined;

  constructor(
    private readonly run: number,
    private readonly owner: string,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  snapshot = (): RunOnDevice => this.state;

  /** The server's time now, as this device knows it. */
  now = (): number => this.clock.now();

  async open(): Promise<void> {
    this.closed = false;
    this.tabs = new BroadcastChannel(`oaken-run-${this.owner}-${this.run}`);
    this.tabs.onmessage = (message: MessageEvent<RunEvent>) => {
      this.mine.set(message.data.id, message.data);
      this.fold();
    };
    this.forget = onSignedOut(() => this.set({ reach: "signed out" }));
    // what waits here must not be cleared away when the disk runs full
    if ("storage" in navigator) void navigator.storage.persist();
    this.name = await device.deviceName();
    const [kept, waiting, offset] = await Promise.all([
      device.keptRun(this.owner, this.run),
      device.waitingOf(this.owner, this.run),
      device.keptOffset(),
    ]);
    if (this.closed) return;
    this.clock.begin(offset);
    this.state = { ...this.state, offset };
    waiting.forEach((event) => this.mine.set(event.id, event));
    if (kept) this.show(kept);
    this.stream = this.listen();
    this.stream.asked();
    await this.load();
    this.timers.push(window.setInterval(() => void this.measure(), MEASURE_EVERY_MS));
    window.addEventListener("online", this.wake);
    document.addEventListener("visibilitychange", this.wake);
  }

  close(): void {
    this.closed = true;
    this.stream?.close();
    this.timers.forEach((timer) => window.clearInterval(timer));
    window.removeEventListener("online", this.wake);
    document.removeEventListener("visibilitychange", this.wake);
    this.tabs?.close();
    this.forget();
  }

  /** Something happens now. Returns when it is on this device's disk. */
  add = async <Kind extends RunEvent["kind"]>(kind: Kind, fields: Fields<Kind>): Promise<RunEvent> => {
    const [event] = await this.addAll([{ kind, ...fields }]);
    if (PRESSES.has(kind)) this.tellWhetherItCounts(event!.id);
    return event!;
  };

  /** Several things happen now, one after another, as one: kept in one go, sent in one go. */
  addAll = async (happened: readonly NewEvent[]): Promise<RunEvent[]> => {
    const events = happened.map((item) => this.made(item));
    const { live } = this.state;
    const of = live ? { name: live.name, opened_at: live.opened_at } : undefined;
    await device.keepWaiting(this.owner, this.run, events, of);
    events.forEach((event) => this.mine.set(event.id, event));
    this.fold();
    events.forEach((event) => this.tabs?.postMessage(event));
    void this.flush();
    return events;
  };

  private made({ kind, ...fields }: NewEvent): RunEvent {
    // one after another, also within a millisecond; but never long after a clock that was put right
    const now = Math.round(this.now());
    const at = this.lastMoment - now > STEP_MS ? now : Math.max(now, this.lastMoment + 1);
    this.lastMoment = at;
    const id = `${this.name}-${at.toString(36)}-${(this.count++).toString(36)}-${Math.random().toString(36).slice(2, 6)}`;
    const happened_at = new Date(at).toISOString();
    return { ...fields, ...this.saw(kind), id, kind, happened_at, by: "", device: this.name } as unknown as RunEvent;
  }

  /** What whoever presses on the clock sees as they do. */
  private saw(kind: RunEvent["kind"]): { saw?: Saw } {
    if (!PRESSES.has(kind) || !this.state.runState) return {};
    const { sheet, second, state } = courseAt(this.state.runState, this.now());
    const { block, since } = placeIn(sheet, second);
    return { saw: { state, block: entryAt(sheet.blocks, block).id, second: Math.round(since * 1000) / 1000 } };
  }

  private tellWhetherItCounts(id: string): void {
    const countedOnce = !this.state.events.some((event) => event.id === id);
    if (countedOnce !== this.state.countedOnce) this.set({ countedOnce });
    if (countedOnce) window.setTimeout(() => this.set({ countedOnce: false }), TOLD_MS);
  }

  withdraw = async (event: string): Promise<void> => {
    await this.add("withdrawn", { event });
  };

  /** Says whose time is right after a step: the class goes on by it. */
  decideTime = (who: "server" | "device"): void => {
    this.clock.decide(who);
    this.set({ step_ms: 0 });
  };

  private set(change: Partial<RunOnDevice>): void {
    this.state = { ...this.state, ...change };
    this.listeners.forEach((listener) => listener());
  }

  private async load(): Promise<void> {
    try {
      const live = await takeUp(this.run);
      if (this.closed) return;
      this.show(live);
      this.set({ reach: "connected", problem: null });
      this.stream?.follow(`/api/runs/${this.run}/stream?after=${this.seq}`);
      void this.measure();
      void this.flush();
    } catch (error) {
      if (this.closed) return;
      const words = errorWords(error);
      // what this device has kept goes on; it is told only where there is nothing to go on with
      const reach = this.state.reach === "signed out" ? "signed out" : "alone";
      this.set({ reach, problem: this.state.live ? null : words });
    }
  }

  private show(live: LiveRun): void {
    live.events.forEach((event) => this.confirmed.set(event.id, event));
    this.seq = Math.max(this.seq, live.seq);
    this.state = { ...this.state, live, sheets: live.sheets };
    this.fold();
  }

  private fold(): void {
    const pending = [...this.mine.values()].filter((event) => !this.confirmed.has(event.id));
    const events = standing([...this.confirmed.values(), ...pending]);
    const runState = this.state.sheets.length ? replayEvents(this.state.sheets, events) : null;
    this.set({ events, runState, waiting: pending.length });
  }

  private keep(): void {
    const { live, sheets } = this.state;
    if (!live) return;
    const kept = { ...live, sheets, seq: this.seq, events: [...this.confirmed.values()] };
    void device.keepRun(this.owner, kept);
  }

  private listen(): Stream {
    return new Stream({
      heard: () => {
        if (this.state.reach === "connected" || this.state.reach === "gone") return;
        this.set({ reach: "connected" });
        void this.flush();
      },
      lost: () => {
        if (this.state.reach === "connected") this.set({ reach: "alone" });
      },
      again: () => {
        if (this.state.reach !== "gone") void this.load();
      },
      on: {
        events: (found, number) => {
          this.seq = Math.max(this.seq, number);
          if (!found.length) return;
          found.forEach((event) => this.confirmed.set(event.id, event));
          this.fold();
          void this.lay().then(() => this.keep());
        },
        hearts: (hearts) => this.set({ hearts }),
        gone: () => this.set({ reach: "gone" }),
      },
    });
  }

  /** Asks for the sheets of changes that this device has not laid. */
  private async lay(): Promise<void> {
    if (!this.state.runState?.unlaid) return;
    try {
      const sheets = await sheetsOf(this.run);
      this.state = { ...this.state, sheets };
      this.fold();
    } catch (error) {
      console.warn("The changed plan could not be fetched; the class goes on with the one before.", error);
      this.stream?.lose();
    }
  }

  private wake = (): void => {
    if (document.visibilityState === "hidden") return;
    this.stream?.wake();
    void this.measure();
  };

  private async measure(): Promise<void> {
    if (this.state.reach !== "connected") return;
    try {
      const offset = await measureOffset(() => serverTime(this.run));
      if (this.closed) return;
      this.clock.take(offset);
      if (!this.clock.step_ms) void device.keepOffset(offset);
      this.set({ offset, step_ms: this.clock.step_ms });
    } catch (error) {
      console.warn("The server's clock could not be asked.", error);
    }
  }

  /** Sends what waits, by one tab at a time; an answer that is lost is asked for again, and counts once. */
  private flush(): Promise<void> {
    this.flushing ??= this.send().finally(() => {
      this.flushing = null;
      const left = [...this.mine.values()].some((event) => !this.confirmed.has(event.id));
      if (left && this.state.reach === "connected" && !this.closed) window.setTimeout(() => void this.flush(), 300);
    });
    return this.flushing;
  }

  private async send(): Promise<void> {
    if (navigator.locks) {
      await navigator.locks.request(`oaken-run-${this.run}`, { ifAvailable: true }, async (lock) => {
        if (lock) await this.sendWaiting();
      });
    } else await this.sendWaiting();
  }

  private async sendWaiting(): Promise<void> {
    try {
      for (;;) {
        const waiting = (await device.waitingOf(this.owner, this.run)).slice(0, BATCH);
        if (!waiting.length || this.closed) return;
        const answer = await sendEvents(this.run, waiting);
        if (this.state.sendProblem) this.set({ sendProblem: null });
        await device.dropWaiting(this.run, [...answer.kept, ...answer.refused.map((item) => item.id)]);
        const kept = new Set(answer.kept);
        for (const event of waiting) {
          // what came from a clock that is ahead counts when the server says it does
          const happened_at = answer.clamped[event.id] ?? event.happened_at;
          if (kept.has(event.id)) this.confirmed.set(event.id, { ...event, happened_at, received_at: answer.now });
          else this.mine.delete(event.id);
        }
        if (answer.refused.length) this.set({ refused: [...this.state.refused, ...answer.refused] });
        this.fold();
        await this.lay();
        this.keep();
      }
    } catch (error) {
      // it stays on the device and is sent when the server answers again
      console.warn("What waits on this device could not be sent yet.", error);
      // a dead network says nothing of its own: that it is away stands there already
      if (!(error instanceof TypeError)) this.set({ sendProblem: errorWords(error) });
      this.stream?.lose();
    }
  }
}
