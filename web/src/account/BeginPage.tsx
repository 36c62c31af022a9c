import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { begin, enterAs } from "../api/account";
import { Refused } from "../shared/Refused";
import { TextField } from "../shared/TextField";

/** The first minute of an empty installation: a studio and the account of its first instructor. */
export function BeginPage() {
  const queries = useQueryClient();
  const [studio, setStudio] = useState("");
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");
  const start = useMutation({
    mutationFn: () => begin(studio, Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC", user, password),
    onSuccess: (me) => enterAs(queries, me),
  });
  return (
    <div className="mx-auto mt-16 max-w-sm px-4">
      <h1 className="text-2xl font-semibold">Begin</h1>
      <p className="faint my-3 text-sm">
        Nobody works here yet. Name your studio and make the first account; others are added later, on the studio’s
        page.
      </p>
      <form
        className="flex flex-col gap-3"
        data-testid="begin"
        onSubmit={(event) => {
          event.preventDefault();
          start.mutate();
        }}
      >
        <TextField label="What your studio is called" autoFocus required value={studio} onChange={setStudio} />
        <TextField
          label="Your name, to sign in with"
          autoComplete="username"
          required
          value={user}
          onChange={setUser}
        />
        <TextField
          label="A password of at least eight signs"
          type="password"
          autoComplete="new-password"
          required
          value={password}
          onChange={setPassword}
        />
        <Refused error={start.error} />
        <button type="submit" className="btn btn-primary" disabled={start.isPending}>
          {start.isPending ? "Making it …" : "Begin"}
        </button>
      </form>
    </div>
  );
}
