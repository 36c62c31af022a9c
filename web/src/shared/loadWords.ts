import type { LoadAsSet } from "../api/client";
import { LB_KG } from "./units";

/** How to set a load, in words. */
export function spoken(load: LoadAsSet): string {
  const plain = (kg: number) => Number((load.marked === "kg" ? kg : kg / LB_KG).toFixed(1));
  if (load.bar_kg != null) {
    const plates = load.a_side_kg.map(plain).join(" + ") || "no plates";
    return `bar ${plain(load.bar_kg)}, a side ${plates}`;
  }
  if (load.pin_kg != null) return ["pin at " + plain(load.pin_kg), ...load.add_ons_kg.map(plain)].join(" + ");
  if (load.each_kg != null) return `${load.in_hand} × ${plain(load.each_kg)}`;
  return "";
}
