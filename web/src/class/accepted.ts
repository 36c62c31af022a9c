import { useState } from "react";

import { read } from "../basis/entries";

const KEPT = "oaken/accepted/";
const AT_MOST = 200;

/** What of the review of a class was seen and accepted on this device, by the keys of its lines. */
export function useAccepted(classId: number) {
  const [accepted, set] = useState(() => keptOf(classId));
  function keep(keys: Set<string>) {
    // the oldest go first: a line that was accepted long ago may be told again
    localStorage.setItem(KEPT + classId, JSON.stringify([...keys].slice(-AT_MOST)));
    set(keys);
  }
  return {
    accepted,
    accept: (key: string) => keep(new Set([...accepted, key])),
    takeBack: () => keep(new Set()),
  };
}

function keptOf(classId: number): Set<string> {
  try {
    return new Set(read<string[]>(localStorage.getItem(KEPT + classId) ?? "[]"));
  } catch (error) {
    console.warn("What was accepted cannot be read and is told again.", error);
    return new Set();
  }
}
