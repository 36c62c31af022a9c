import type { PersonRecord } from "../api/client";

/** Changes what is written down about a person. */
export type EditRecord = (change: (record: PersonRecord) => PersonRecord) => void;
