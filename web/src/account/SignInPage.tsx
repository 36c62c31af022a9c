import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { enterAs, signIn } from "../api/account";

/** The door: name and password, and why they are asked for. */
export function SignInPage() {
  const queries = useQueryClient();
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");
  const enter = useMutation({
    mutationFn: () => signIn(user, password),
    onSuccess: (me) => enterAs(queries, me),
  });
  useEffect(() => {
    document.title = "Sign in – Oaken Circuit";
  }, []);
  return (
    <form
      className="mx-auto mt-16 flex max-w-sm flex-col gap-3 px-4"
      data-testid="sign-in"
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate();
      }}
    >
      <h1 className="text-2xl font-semibold">Sign in</h1>
      <p className="faint text-sm">Heart rates and what people have to be careful about stay within your studio.</p>
      <label className="flex flex-col gap-1 text-sm">
        Name
        <input
          className="input w-full"
          autoComplete="username"
          autoFocus
          required
          value={user}
          onChange={(event) => setUser(event.target.value)}
        />
      </label>
      <label className="flex flex-col gap-1 text-sm">
        Password
        <input
          className="input w-full"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
      </label>
      {enter.isError && (
        <p role="alert" className="rounded border border-error p-2 text-sm">
          {enter.error.message}
        </p>
      )}
      <button type="submit" className="btn btn-primary" disabled={enter.isPending}>
        {enter.isPending ? "Signing in …" : "Sign in"}
      </button>
    </form>
  );
}
