/** People's own phones in a run: their addresses, and what stands under one. */
import { api, dataOf, done } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type OwnRun = Schemas["OwnRun"];
export type OwnPlace = Schemas["OwnPlace"];
export type OwnPress = Schemas["OwnPressIn"];
export type Phone = Schemas["PhoneOut"];
type PhoneCode = Schemas["PhoneCode"];

export async function listPhones(run_id: number): Promise<Phone[]> {
  return dataOf(await api.GET("/api/runs/{run_id}/phones", { params: { path: { run_id } } }));
}

/** Gives these people, or everybody of the class, an address of their own. */
export async function addPhones(run_id: number, people: string[] | null): Promise<Phone[]> {
  return dataOf(await api.POST("/api/runs/{run_id}/phones", { params: { path: { run_id } }, body: { people } }));
}

export async function revokePhone(run_id: number, phone_id: number): Promise<void> {
  done(await api.DELETE("/api/runs/{run_id}/phones/{phone_id}", { params: { path: { run_id, phone_id } } }));
}

export async function revokePhones(run_id: number): Promise<void> {
  done(await api.DELETE("/api/runs/{run_id}/phones", { params: { path: { run_id } } }));
}

/** An address as a picture for a phone's camera. */
export async function codeOf(run_id: number, phone_id: number): Promise<PhoneCode> {
  return dataOf(await api.GET("/api/runs/{run_id}/phones/{phone_id}/code", { params: { path: { run_id, phone_id } } }));
}

export async function lookFromPhone(token: string): Promise<OwnRun> {
  return dataOf(await api.GET("/api/phone/{token}", { params: { path: { token } } }));
}

export async function pressOnPhone(token: string, body: OwnPress): Promise<OwnRun> {
  return dataOf(await api.POST("/api/phone/{token}/presses", { params: { path: { token } }, body }));
}
