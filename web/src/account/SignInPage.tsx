import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { enterAs, signIn } from "../api/account";
import { TextField } from "../shared/TextField";
import { Refused } from "../shared/Refused";

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
      <TextField label="Name" autoComplete="username" autoFocus required value={user} onChange={setUser} />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        required
        value={password}
        onChange={setPassword}
      />
      <Refused error={enter.error} />
      <button type="submit" className="btn btn-primary" disabled={enter.isPending}>
        {enter.isPending ? "Signing in …" : "Sign in"}
      </button>
    </form>
  );
}
