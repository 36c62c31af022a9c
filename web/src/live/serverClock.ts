/**
 * This device's clock set right by the server's: the offset of the sample with the shortest way, which is wrong by half
 * that way at most. It is kept, so that a device that starts without the server is right as well.
 */
export type Offset = { ms: number; error_ms: number; measuredAt: number };

const SAMPLES = 8;

type Sample = { sent: number; received: number; server: number };

/** The offset that the samples say: server time is `Date.now() + ms`, give or take `error_ms`. */
export function offsetOf(samples: readonly Sample[]): Offset {
  const best = samples.reduce((one, other) => (other.received - other.sent < one.received - one.sent ? other : one));
  const way = best.received - best.sent;
  return { ms: best.server - (best.sent + way / 2), error_ms: way / 2, measuredAt: best.received };
}

/** Asks the server for its time a few times, one after another. The ways are measured on a clock that nobody can set. */
export async function measureOffset(ask: () => Promise<number>, samples = SAMPLES): Promise<Offset> {
  const found: Sample[] = [];
  for (let count = 0; count < samples; count++) {
    const sent = performance.now();
    const server = await ask();
    found.push({ sent, server, received: performance.now() });
  }
  const { ms, error_ms } = offsetOf(found);
  return { ms: ms + performance.now() - Date.now(), error_ms, measuredAt: Date.now() };
}

/** What is known before the server was ever asked. */
export const NOT_MEASURED: Offset = { ms: 0, error_ms: Infinity, measuredAt: 0 };
