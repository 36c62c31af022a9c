import createClient from "openapi-fetch";

import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Plan = Schemas["ClassPlan"];
export type Block = Plan["blocks"][number];
export type Circuit = Schemas["CircuitBlock"];
export type Sets = Schemas["SetsBlock"];
export type Together = Schemas["TogetherBlock"];
export type Relay = Schemas["RelayBlock"];
export type Group = Schemas["Group"];
export type Slot = Schemas["Slot"];
export type Station = Schemas["Station"];
export type Leg = Schemas["Leg"];
export type SetRun = Schemas["SetRun"];
export type Segment = Schemas["Segment"];
export type Change = Schemas["Fix"]["change"];
export type Level = Schemas["LevelIn"]["level"];
export type Question = Schemas["Question"];
export type EquipmentKind = Schemas["EquipmentKind"];
export type TextFault = Schemas["TextFault"];
export type CheatSheet = Schemas["CheatSheet"];
export type Template = Schemas["TemplateOut"];
export type Load = Schemas["Load"];
/** A forecast; of what tells of bodies, assistants get nothing. */
export type Forecast = FullForecast | Schemas["OpenForecast"];
export type FullForecast = Schemas["Forecast"];
export type FullPerson = Schemas["PersonForecast"];
export type PersonForecast = Forecast["people"][number];
export type Figures = Forecast["figures"];
export type Estimate = Schemas["Estimate"];
export type Caution = Schemas["Caution"];
export type Exercise = Schemas["Exercise"];
export type Catalogue = Schemas["CatalogueOut"];
export type Method = Schemas["Method"];
export type Fault = Schemas["Fault"];
export type Person = Schemas["Person"];
export type Room = Schemas["Room"];
export type Unit = Schemas["Unit"];
export type Zone = Schemas["Zone"];
export type Hardware = NonNullable<Unit["hardware"]>;
export type RoomOut = Schemas["RoomOut"];
export type EntryRemoval = Schemas["EntryRemoval"];
export type RotationJob = Schemas["RotationJob"];
export type Replay = Schemas["ReplayOut"];
export type Queue = Schemas["Queue"];
export type Taken = Schemas["WithoutUnit"];
export type Affected = Schemas["Affected"];
export type Option = Schemas["Option"];
export type OneMore = Schemas["OneMore"];
export type Circle = Schemas["CircleOut"];
export type ClassOut = Schemas["ClassOut"];
export type ClassSummary = Schemas["ClassSummary"];
export type Me = Schemas["Me"];
export type HouseRule = Schemas["HouseRule"];
export type Rules = Schemas["Rules"];
export type MemberOut = Schemas["MemberOut"];
export type PersonRecord = Schemas["Record"];
export type PersonOut = Schemas["PersonOut"];
export type RosterLine = Schemas["RosterLine"];
export type RosterPreview = Schemas["RosterPreview"];
export type Attended = Schemas["Attended"];
type CarefulAbout = Schemas["CarefulAbout"];
export type Condition = CarefulAbout["id"];
export type RecordingOver = Schemas["RecordingOver"];
export type Calibration = Schemas["Calibration"];
export type StartItem = Schemas["StartItem"];
export type Decision = Schemas["Decision"];
export type ReadOut = Schemas["ReadOut"];
export type LoadRow = Schemas["LoadRow"];
export type LoadAsSet = Schemas["LoadAsSet"];
export type Heat = Schemas["Heat"];
export type Air = Schemas["Air"];

/** Whether a forecast tells of hearts and bodies: instructors get that, assistants do not. */
export function isFull(forecast: Forecast): forecast is FullForecast {
  return forecast.kcal !== null;
}

export const api = createClient<paths>({ baseUrl: window.location.origin });

const signedOut = new Set<() => void>();
/** Be told when an answer says that nobody is signed in (any more). */
export function onSignedOut(listener: () => void): () => void {
  signedOut.add(listener);
  return () => signedOut.delete(listener);
}

api.use({
  onRequest({ request }) {
    const token = /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1];
    if (token && request.method !== "GET") request.headers.set("X-CSRFToken", token);
    return request;
  },
  onResponse({ response, schemaPath }) {
    if (response.status === 401 && schemaPath !== "/api/me" && schemaPath !== "/api/sign-in") {
      signedOut.forEach((listener) => listener());
    }
    return response;
  },
});

/** A plan the server refused, with every located fault. */
export class FaultyPlan extends Error {
  constructor(readonly faults: Fault[]) {
    super(
      faults
        .map((fault) => `${fault.place}, ${fault.field}: ${fault.message}${fault.right ? ` (${fault.right})` : ""}`)
        .join("; "),
    );
  }
}

/** A text that cannot be read, every fault at its word. */
export class FaultyText extends Error {
  constructor(readonly faults: TextFault[]) {
    super(faults.map((fault) => `line ${fault.line}, “${fault.word}”: ${fault.message}`).join("; "));
  }
}

/** A file as it is, for the addresses that take one: nothing of it is turned into text. */
export function asFile(file: Blob) {
  return {
    body: file as never,
    bodySerializer: () => file,
    headers: { "Content-Type": "application/octet-stream" },
  };
}

type Answer<Data> = { data?: Data; error?: unknown; response: Response };

/** The data of an answer, or the error that says what to do. */
export function dataOf<Data>(answer: Answer<Data>): Data {
  if (answer.data === undefined) throw failure(answer);
  return answer.data;
}

/** Nothing, where the server has nothing to say but that it is done; or the error that says what to do. */
export function done(answer: Answer<unknown>): void {
  if (!answer.response.ok) throw failure(answer);
}

/** A save: what is kept now, or the newer state that somebody else saved in the meantime, and then nothing is kept. */
export type Saved<Out> = { kept: Out } | { newer: Out; message: string };

/** What became of a save. Every other refusal is thrown. */
export function savedOf<Out>(answer: Answer<Out>): Saved<Out> {
  return isStale(answer) ? { newer: answer.error.latest, message: answer.error.message } : { kept: dataOf(answer) };
}

function isStale<Out>(answer: Answer<Out>): answer is Answer<Out> & { error: { message: string; latest: Out } } {
  return answer.response.status === 409 && has(answer.error, "latest");
}

function has<Name extends string>(told: unknown, name: Name): told is Record<Name, unknown> {
  return typeof told === "object" && told !== null && name in told;
}

type Failure = { error?: unknown; response: Response };

function failure({ error, response }: Failure): Error {
  if (response.status === 422 && isFaulty(error)) return new FaultyPlan(error.faults);
  if (response.status === 422 && isMisread(error)) return new FaultyText(error.text_faults);
  // what the server says itself is the best there is: what is too large, how long to wait, why not
  if (has(error, "message") && typeof error.message === "string") return new Error(error.message);
  if (response.status === 401) return new Error("Please sign in again.");
  if (response.status === 403) return new Error("This is for instructors of this studio.");
  if (response.status === 404) return new Error("This does not exist (any more).");
  return new Error(`The server answered with an error (${response.status}).`);
}

function isFaulty(error: unknown): error is { faults: Fault[] } {
  return has(error, "faults") && Array.isArray(error.faults);
}

function isMisread(error: unknown): error is { text_faults: TextFault[] } {
  return has(error, "text_faults") && Array.isArray(error.text_faults);
}
