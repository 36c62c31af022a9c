import type { Catalogue, Exercise, Room, Unit } from "../api/client";

/** Working places of a kind of equipment in the room; null for the floor, where there is always room. */
export function placesOf(room: Room | undefined, kind: string): number | null {
  if (kind === "none" || !room) return null;
  return room.units
    .filter((unit) => unit.kind === kind && !unit.out_of_order)
    .reduce((sum, unit) => sum + placesOn(unit), 0);
}

/** How many people can be on a unit at once while it works; of hand weights, as many as there are. */
export function placesOn(unit: Unit): number {
  if (unit.hardware?.holds === "implements") return unit.hardware.by_mass.reduce((sum, item) => sum + item.count, 0);
  return unit.count * unit.people_at_once;
}

export type Found = { exercise: Exercise; kind: string; pattern: string; muscles: string[]; places: number | null };

export type ClassRequest = {
  words: string;
  muscle?: string;
  pattern?: string;
  equipment?: string;
  free?: boolean;
  retired?: boolean;
};

/** Exercises by words, muscle, pattern and equipment; what the room cannot offer comes last, and by name first. */
export function search(catalogue: Catalogue, room: Room | undefined, sought: ClassRequest): Found[] {
  const kinds = new Map(catalogue.equipment.map((kind) => [kind.id, kind.name]));
  const muscles = new Map(catalogue.muscles.map((muscle) => [muscle.id, muscle.name]));
  const patterns = new Map(catalogue.patterns.map((pattern) => [pattern.id, pattern.name]));
  const words = sought.words.toLowerCase().split(/\s+/).filter(Boolean);
  const retired = new Set(catalogue.retired);
  return catalogue.exercises
    .filter((exercise) => retired.has(exercise.id) === Boolean(sought.retired))
    .map((exercise) => ({
      exercise,
      kind: kinds.get(exercise.equipment) ?? exercise.equipment,
      pattern: patterns.get(exercise.pattern) ?? exercise.pattern,
      muscles: exercise.prime.map((muscle) => muscles.get(muscle) ?? muscle),
      places: placesOf(room, exercise.equipment),
    }))
    .filter(({ exercise, kind, pattern, muscles: prime, places }) => {
      if (sought.muscle && !exercise.prime.includes(sought.muscle)) return false;
      if (sought.pattern && exercise.pattern !== sought.pattern) return false;
      if (sought.equipment && exercise.equipment !== sought.equipment) return false;
      if (sought.free && places === 0) return false;
      const spoken = catalogue.spoken[exercise.id] ?? [];
      const text = [exercise.name, ...exercise.aliases, ...spoken, kind, pattern, ...prime].join(" ").toLowerCase();
      return words.every((word) => text.includes(word) || text.includes(singular(word)));
    })
    .sort((one, other) => {
      const missing = Number(one.places === 0) - Number(other.places === 0);
      return missing || rank(one, words) - rank(other, words) || one.exercise.name.localeCompare(other.exercise.name);
    });
}

/** A word as it stands in names: "curls" is sought as "curl", "glutes" as what the muscle is called. */
function singular(word: string): string {
  if (word === "glutes") return "gluteals";
  return word.length > 3 && word.endsWith("s") && !word.endsWith("ss") ? word.slice(0, -1) : word;
}

/** 0 where the name begins with what is sought, 1 where it holds it, 2 where something else does. */
function rank(found: Found, words: string[]): number {
  const name = found.exercise.name.toLowerCase();
  if (!words.length) return 0;
  if (name.startsWith(words.join(" "))) return 0;
  return words.every((word) => name.includes(word)) ? 1 : 2;
}
