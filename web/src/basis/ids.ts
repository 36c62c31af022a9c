/** An id that nothing else has, also where a page is not encrypted and `crypto.randomUUID` is missing. */
export const newId = (bytes = 16): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(bytes)), (byte) => byte.toString(16).padStart(2, "0")).join("");
