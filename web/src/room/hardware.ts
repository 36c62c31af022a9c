import { kilograms } from "../shared/format";
import type { EquipmentKind, Hardware } from "../api/client";
import { LB_KG } from "../shared/units";
import { entryAt } from "../basis/entries";

/** What a unit of a kind can hold, as one begins to write it down; null where it holds no load. */
export function firstHardware(holds: EquipmentKind["holds"], step: number): Hardware | null {
  switch (holds) {
    case "stack":
      return { holds: "stack", marked: "kg", steps_kg: steps(step || 5, 16 * (step || 5), step || 5), add_ons_kg: [] };
    case "plates":
    case "bar":
      return {
        holds: "plates",
        marked: "kg",
        bar_kg: holds === "bar" ? 20 : 0,
        plates: [
          { kg: 20, pairs: 2 },
          { kg: 10, pairs: 2 },
          { kg: 5, pairs: 2 },
        ],
      };
    case "dumbbells":
    case "kettlebells":
      return {
        holds: "implements",
        marked: "kg",
        in_hand: holds === "dumbbells" ? 2 : 1,
        by_mass: [
          { kg: 8, count: 1 },
          { kg: 12, count: 1 },
          { kg: 16, count: 1 },
        ],
      };
    default:
      return null;
  }
}

/** The same hardware with every mass in the unit that is marked on it. */
export function inMarks(held: Hardware): Hardware {
  return held.marked === "lb" ? withMasses(held, (kg) => Math.round((kg / LB_KG) * 100) / 100) : held;
}

/** Masses in the marked unit back in kilograms. */
export function inKilograms(held: Hardware): Hardware {
  return held.marked === "lb" ? withMasses(held, (lb) => Math.round(lb * LB_KG * 1000) / 1000) : held;
}

function withMasses(held: Hardware, of: (mass: number) => number): Hardware {
  switch (held.holds) {
    case "stack":
      return { ...held, steps_kg: held.steps_kg.map(of), add_ons_kg: held.add_ons_kg.map(of) };
    case "plates":
      return { ...held, bar_kg: of(held.bar_kg), plates: held.plates.map((plate) => ({ ...plate, kg: of(plate.kg) })) };
    case "implements":
      return { ...held, by_mass: held.by_mass.map((item) => ({ ...item, kg: of(item.kg) })) };
  }
}

/** Loads from the lightest to the heaviest in equal steps. */
export function steps(from: number, to: number, by: number): number[] {
  const found = [];
  for (let kg = from; kg <= to + 1e-9 && found.length < 60; kg += by) found.push(Math.round(kg * 100) / 100);
  return found;
}

/** `20 x 5, 10 x 2`: how many of each mass. */
export function massesAsText(masses: { kg: number; count: number }[]): string {
  return masses.map((mass) => `${mass.kg} x ${mass.count}`).join(", ");
}

/** The same back; a word about what is wrong where it cannot be read. */
export function massesFromText(text: string): { kg: number; count: number }[] | string {
  const found: { kg: number; count: number }[] = [];
  for (const part of text.split(",")) {
    if (!part.trim()) continue;
    const match = /^\s*(\d+(?:\.\d+)?)\s*(?:kg)?\s*[x×]\s*(\d+)\s*$/i.exec(part);
    if (!match) return `“${part.trim()}” reads like 20 x 3: three of 20 kg`;
    const [kg, count] = [Number(match[1]), Number(match[2])];
    if (kg <= 0 || kg > 400) return `${kilograms(kg)}: more than 0, at most 400`;
    if (count < 1 || count > 40) return `${count} of ${kilograms(kg)}: 1 to 40`;
    if (found.some((item) => item.kg === kg)) return `${kilograms(kg)} stands twice`;
    found.push({ kg, count });
  }
  return found.length ? found : "at least one mass, such as 20 x 3";
}

/** `2.5, 1.25`: masses that are there once each. */
export function numbersFromText(text: string, most: number): number[] | string {
  const parts = text.split(",").filter((part) => part.trim());
  if (parts.length > most) return `at most ${most} of them`;
  const numbers = parts.map(Number);
  const wrong = numbers.findIndex((number) => !Number.isFinite(number) || number <= 0 || number > 400);
  return wrong >= 0 ? `“${entryAt(parts, wrong).trim()}” is no mass in kg` : numbers;
}
