import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { enterAs, signIn } from "../api/account";
import { Refused } from "./Refused";
import { TextField } from "./TextField";

type Props = {
  /** whose name stands there already */
  user?: string;
  /** hears that somebody is in */
  onIn?: () => void;
};

/** Name and password, and why somebody was not let in. */
export function SignInForm({ user: known = "", onIn }: Props) {
  const queries = useQueryClient();
  const [user, setUser] = useState(known);
  const [password, setPassword] = useState("");
  const enter = useMutation({
    mutationFn: () => signIn(user, password),
    onSuccess: (me) => {
      enterAs(queries, me);
      onIn?.();
    },
  });
  return (
    <form
      className="flex flex-col gap-3"
      data-testid="sign-in"
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate();
      }}
    >
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
