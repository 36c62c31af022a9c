/** What was pressed on this device and waits: sent by whoever is here now, or kept as a file and opened again later. */
import { findRun, sendEvents, type RunEvent } from "../api/runs";
import * as device from "./device";

const FORMAT = "oaken-presses/1";
const BATCH = 200;

/** As `core/oaken/session/presses.py` reads it. */
type PressesFile = { format: string; run: number; opened_at: string | null; name: string; events: RunEvent[] };

export function asFile({ run, opened_at, name, events }: device.Left): string {
  return JSON.stringify(
    { format: FORMAT, run, opened_at: opened_at || null, name, events } satisfies PressesFile,
    null,
    1,
  );
}

export const isPresses = (document: unknown): document is PressesFile =>
  typeof document === "object" && document !== null && "format" in document && document.format === FORMAT;

type Sent = { kept: number; refused: { id: string; message: string }[] };

/** Sends presses to their run, as the account that is signed in. Throws where that run is not in this studio. */
export async function sendPresses(of: Omit<PressesFile, "format">): Promise<Sent> {
  const found = await findRun(of.run);
  const another = found && of.opened_at && Date.parse(found.opened_at) !== Date.parse(of.opened_at);
  if (!found || another)
    throw new Error(`The run of ${of.name ? `“${of.name}”` : "this class"} is not in this studio (any more).`);
  const sent: Sent = { kept: 0, refused: [] };
  for (let at = 0; at < of.events.length; at += BATCH) {
    const answer = await sendEvents(of.run, of.events.slice(at, at + BATCH));
    sent.kept += answer.kept.length;
    sent.refused.push(...answer.refused);
  }
  return sent;
}

/** Sends what is left of another account, or of this one, and forgets it here once the server has it. */
export async function handOver(left: device.Left): Promise<Sent> {
  const sent = await sendPresses({ ...left, opened_at: left.opened_at || null });
  await device.dropWaiting(
    left.run,
    left.events.map((event) => event.id),
  );
  return sent;
}
