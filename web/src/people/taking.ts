/** Makes setters of fields that take every value but none, and forget the answer that was worked out before. */
export function taking(forget: () => void) {
  return <Value>(set: (value: Value) => void) =>
    (value: Value | null) => {
      if (value === null) return;
      set(value);
      forget();
    };
}
