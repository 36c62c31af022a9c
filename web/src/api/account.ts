import { useQuery, type QueryClient } from "@tanstack/react-query";

import { api, dataOf, done, savedOf, type HouseRule, type Me, type MemberOut, type Rules, type Saved } from "./client";

/** Who is signed in; null for nobody. */
export function useMe() {
  return useQuery({
    queryKey: ["me"],
    queryFn: async () => {
      const answer = await api.GET("/api/me");
      return answer.response.status === 401 ? null : dataOf(answer);
    },
    staleTime: Infinity,
  });
}

export type Permission = Me["permissions"][number];

/** Whether the one who is signed in has this permission. */
export function useMay(permission: Permission): boolean {
  return useMe().data?.permissions.includes(permission) ?? false;
}

/** Somebody else is signed in from now on, or nobody: what was read before is forgotten. */
export function enterAs(queries: QueryClient, me: Me | null): void {
  queries.removeQueries({ predicate: (query) => query.queryKey[0] !== "me" });
  queries.setQueryData(["me"], me);
}

export async function signIn(user: string, password: string): Promise<Me> {
  return dataOf(await api.POST("/api/sign-in", { body: { user, password } }));
}

/** Whether the first account of an empty installation can be made from here. */
export function useMayBegin() {
  return useQuery({
    queryKey: ["me", "begin"],
    queryFn: async () => dataOf(await api.GET("/api/begin")).open,
    retry: false,
  });
}

export async function begin(studio: string, time_zone: string, user: string, password: string): Promise<Me> {
  return dataOf(await api.POST("/api/begin", { body: { studio, time_zone, user, password } }));
}

export async function signOut(): Promise<void> {
  await api.POST("/api/sign-out", { body: {} as never });
}

/** Where the dates and times of the studio are meant. */
export function useZone() {
  return useQuery({ queryKey: ["zone"], queryFn: async () => dataOf(await api.GET("/api/time-zone")).time_zone });
}

export async function keepZone(time_zone: string): Promise<string> {
  return dataOf(await api.PUT("/api/time-zone", { body: { time_zone } })).time_zone;
}

export async function changePassword(old: string, next: string): Promise<void> {
  const answer = await api.POST("/api/me/password", { body: { old, new: next } });
  done(answer);
}

export async function chooseStudio(studio: number): Promise<Me> {
  return dataOf(await api.POST("/api/me/studio", { body: { studio } }));
}

/** The house's own rules with their revision. */
export function useHouseRules() {
  return useQuery({
    queryKey: ["house-rules"],
    queryFn: async () => dataOf(await api.GET("/api/house-rules")),
  });
}

/** Keeps the house's own rules, unless somebody else changed them since the revision they were made from. */
export async function keepHouseRules(rules: HouseRule[], based_on: number): Promise<Saved<Rules>> {
  return savedOf(await api.PUT("/api/house-rules", { body: { based_on, rules } }));
}

export function useMembers() {
  return useQuery({
    queryKey: ["members"],
    queryFn: async () => dataOf(await api.GET("/api/members")),
  });
}

export async function addMember(user: string, password: string, role: MemberOut["role"]): Promise<MemberOut> {
  return dataOf(await api.POST("/api/members", { body: { user, password, role } }));
}

export async function removeMember(id: number): Promise<void> {
  const answer = await api.DELETE("/api/members/{member_id}", { params: { path: { member_id: id } } });
  done(answer);
}

/** Where other devices find this server. */
export function useServing() {
  return useQuery({ queryKey: ["serving"], queryFn: async () => dataOf(await api.GET("/api/serving")) });
}
