/**
 * The server's time as this device knows it, on a clock that nobody can set: the browser's count of milliseconds since
 * the page opened. Its own wall clock is only a witness, for when a device slept and its count stood still meanwhile.
 */
import { NOT_MEASURED, type Offset } from "./serverClock";

/** A step of the server's time that is not followed but asked about, in ms. */
export const STEP_MS = 2_000;

type Clocks = { wall: () => number; steady: () => number };
const REAL: Clocks = { wall: () => Date.now(), steady: () => performance.now() };

export class DeviceClock {
  private anchor: { server: number; steady: number };
  private offset: Offset = NOT_MEASURED;
  private measured = false;
  private kept = 0;
  /** by how much the server's time has stepped away from this device's, in ms, where nobody has decided yet; else 0 */
  step_ms = 0;

  constructor(private readonly clocks: Clocks = REAL) {
    this.anchor = { server: clocks.wall(), steady: clocks.steady() };
  }

  /** The server's time now, in ms as `Date.now()` counts them. */
  now = (): number => this.anchor.server + (this.clocks.steady() - this.anchor.steady);

  /** Begins with what was measured before this page was opened. */
  begin(offset: Offset): void {
    if (this.measured) return;
    this.offset = offset;
    this.follow(this.clocks.wall() + offset.ms);
  }

  /** Takes what was measured now: server time less this device's wall clock, both at this moment. */
  take(offset: Offset): void {
    const server = this.clocks.wall() + offset.ms;
    const step = server - this.now();
    const before = this.offset;
    const first = !this.measured;
    this.measured = true;
    // the wall clock went as the server's did: this device slept, and its count stood still
    const slept = Math.abs(offset.ms - before.ms) <= STEP_MS;
    if (first || Math.abs(step) <= STEP_MS || slept) {
      this.offset = offset;
      this.step_ms = 0;
      this.kept = 0;
      this.follow(server);
    } else if (Math.abs(step - this.kept) > STEP_MS) {
      // the wall clock may have been set, or the server's: the class goes on, and somebody says which is right
      this.step_ms = step;
      this.offset = { ...before, ms: this.now() - this.clocks.wall() };
    }
  }

  /** Somebody said that the server is right, or that this device is. */
  decide(who: "server" | "device"): void {
    if (who === "server") this.follow(this.now() + this.step_ms);
    this.kept = who === "device" ? this.step_ms : 0;
    this.step_ms = 0;
  }

  private follow(server: number): void {
    this.anchor = { server, steady: this.clocks.steady() };
  }
}
