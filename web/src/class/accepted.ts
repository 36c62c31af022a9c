import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { acceptedOf, acceptLine, takeAcceptanceBack } from "../api/review";

/** What of the review of a class was seen and put away, by the keys of its lines; the same on every device. */
export function useAccepted(classId: number) {
  const queries = useQueryClient();
  const queryKey = ["accepted", classId];
  const known = useQuery({ queryKey, queryFn: ({ signal }) => acceptedOf(classId, signal) });
  const kept = { onSuccess: (keys: string[]) => queries.setQueryData(queryKey, keys) };
  const accept = useMutation({ mutationFn: (key: string) => acceptLine(classId, key), ...kept });
  const takeBack = useMutation({ mutationFn: () => takeAcceptanceBack(classId), ...kept });
  return {
    accepted: new Set(known.data ?? []),
    pending: known.isPending,
    error: known.error ?? accept.error ?? takeBack.error,
    accept: (key: string) => accept.mutate(key),
    takeBack: () => takeBack.mutate(),
  };
}
