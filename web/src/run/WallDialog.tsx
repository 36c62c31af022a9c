import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { addWall, listWalls, revokeWall, type Wall } from "../api/runs";
import { Dialog } from "../shared/Dialog";
import { when } from "../shared/format";
import { Refused } from "../shared/Refused";
import { Switch } from "../shared/Switch";

/** Addresses for the screen on the wall: made, opened, revoked. */
export function WallDialog({ run, onClose }: { run: number; onClose: () => void }) {
  const queries = useQueryClient();
  const [names, setNames] = useState<Wall["names"]>("first_names");
  const walls = useQuery({ queryKey: ["walls", run], queryFn: () => listWalls(run) });
  const again = () => void queries.invalidateQueries({ queryKey: ["walls", run] });
  const make = useMutation({ mutationFn: () => addWall(run, names), onSuccess: again });
  const revoke = useMutation({ mutationFn: (id: number) => revokeWall(run, id), onSuccess: again });
  return (
    <Dialog title="On the wall" onClose={onClose}>
      <p className="text-sm">
        Whoever opens the address sees the clock and where everybody goes, without an account, and nothing of anybody’s
        health. It works until it is revoked.
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <Switch
          large
          label="What people are called"
          options={[
            ["first_names", "First names"],
            ["numbers", "Numbers"],
          ]}
          value={names}
          onChange={setNames}
        />
        <button
          type="button"
          className="btn btn-primary"
          data-first
          disabled={make.isPending}
          onClick={() => make.mutate()}
        >
          Make an address
        </button>
      </div>
      <Refused error={walls.error ?? make.error ?? revoke.error} />
      <ul className="mt-3 flex flex-col gap-2">
        {walls.data?.map((wall) => (
          <li key={wall.id} className="flex flex-wrap items-center gap-2 border-t border-base-300 pt-2">
            <a className="link font-mono text-sm break-all" href={wall.path} target="_blank" rel="noreferrer">
              {window.location.origin}
              {wall.path}
            </a>
            <span className="faint text-sm">
              {wall.names === "numbers" ? "numbers" : "first names"}, {when(wall.made_at)}
            </span>
            <button type="button" className="btn h-11 ml-auto" onClick={() => revoke.mutate(wall.id)}>
              Revoke
            </button>
          </li>
        ))}
      </ul>
      {walls.data?.length === 0 && <p className="faint mt-3 text-sm">No address yet.</p>}
    </Dialog>
  );
}
