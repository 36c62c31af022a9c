import { useEffect, useState } from "react";

/** Keeps the screen awake while `wanted`; tells whether it can ("cannot" over plain http, or where it was refused). */
export function useWakeLock(wanted: boolean): "kept" | "cannot" | "off" {
  const [state, setState] = useState<"kept" | "cannot" | "off">("off");
  useEffect(() => {
    if (!wanted) return;
    let lock: WakeLockSentinel | null = null;
    let over = false;
    async function ask() {
      if (document.visibilityState !== "visible" || lock) return;
      if (!("wakeLock" in navigator)) return setState("cannot");
      try {
        const got = await navigator.wakeLock.request("screen");
        if (over) return void got.release();
        lock = got;
        got.addEventListener("release", () => {
          lock = null;
        });
        setState("kept");
      } catch (error) {
        console.warn("The screen cannot be kept awake.", error);
        setState("cannot");
      }
    }
    const again = () => void ask();
    document.addEventListener("visibilitychange", again);
    again();
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", again);
      void lock?.release();
      setState("off");
    };
  }, [wanted]);
  return state;
}
