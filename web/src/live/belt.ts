/**
 * A real belt, read through the browser where it can: the standard heart rate service, whose packets go to the server as
 * they are and are decoded there, like those of every other belt.
 */
import { sendPackets, type Packet } from "../api/runs";
import { present } from "../basis/entries";

type Characteristic = EventTarget & {
  value?: DataView;
  properties?: { read: boolean };
  startNotifications: () => Promise<unknown>;
  readValue: () => Promise<DataView>;
};
type Device = EventTarget & {
  name?: string;
  gatt: {
    connect: () => Promise<{
      getPrimaryService: (id: string) => Promise<{ getCharacteristic: (id: string) => Promise<Characteristic> }>;
    }>;
    disconnect: () => void;
  };
};
type Bluetooth = { requestDevice: (wanted: { filters: { services: string[] }[] }) => Promise<Device> };

const SERVICE = "heart_rate";
const MEASUREMENT = "heart_rate_measurement";
const SENDS_EVERY_MS = 1000;
const WAITING_AT_MOST = 600;

const bluetooth = (): Bluetooth | null => (navigator as unknown as { bluetooth?: Bluetooth }).bluetooth ?? null;

export const canReadBelts = (): boolean => bluetooth() !== null;

const hexOf = (value: DataView): string =>
  Array.from(new Uint8Array(value.buffer, value.byteOffset, value.byteLength), (item) =>
    item.toString(16).padStart(2, "0"),
  ).join("");

/** Lets a belt be chosen and sends what it says, as somebody's; gives what takes it off again. */
export async function wearBelt(run: number, person: string, now: () => number, lost: () => void): Promise<() => void> {
  const device = await present(bluetooth(), "Bluetooth").requestDevice({ filters: [{ services: [SERVICE] }] });
  const waiting: Packet[] = [];
  const hear = (event: Event) => {
    const value = (event.target as Characteristic).value;
    if (value) waiting.push({ at: new Date(now()).toISOString(), hex: hexOf(value) });
    if (waiting.length > WAITING_AT_MOST) waiting.shift();
  };
  async function connect() {
    const service = await (await device.gatt.connect()).getPrimaryService(SERVICE);
    const characteristic = await service.getCharacteristic(MEASUREMENT);
    characteristic.addEventListener("characteristicvaluechanged", hear);
    await characteristic.startNotifications();
    // most belts only notify; one that can be asked says at once where it stands
    if (characteristic.properties?.read) await characteristic.readValue();
  }
  await connect();
  let off = false;
  device.addEventListener("gattserverdisconnected", () => {
    if (off) return;
    // out of reach for a moment: it is asked once more, and told when it does not come back
    connect().catch(lost);
  });
  const sending = window.setInterval(() => {
    const packets = waiting.splice(0);
    if (packets.length) {
      sendPackets(run, person, packets).catch((error: unknown) => {
        console.warn("What the belt said could not be sent yet.", error);
        waiting.unshift(...packets);
      });
    }
  }, SENDS_EVERY_MS);
  return () => {
    off = true;
    window.clearInterval(sending);
    device.gatt.disconnect();
  };
}
