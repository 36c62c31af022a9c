/** A timer that a hidden page does not slow down. */
const EVERY_MS = 250;
setInterval(() => postMessage(null), EVERY_MS);
