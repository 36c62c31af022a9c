import { useMutation } from "@tanstack/react-query";
import { Download, Send, Trash2 } from "lucide-react";
import { useCallback, useEffect, useState } from "react";

import { counted } from "../shared/format";
import { saveText } from "../shared/files";
import { dropWaiting, leftOver, type Left } from "./device";
import { asFile, handOver } from "./presses";
import { entryAt } from "../basis/entries";

type Props = { owner: string; mayReadHealth: boolean };

/** What was pressed on this device and never reached the server: of accounts that are gone, and of runs that are. */
export function LeftOver({ owner, mayReadHealth }: Props) {
  const [left, setLeft] = useState<Left[]>([]);
  const look = useCallback(() => void leftOver().then(setLeft), []);
  useEffect(look, [look]);
  if (!left.length) return null;
  return (
    <section
      className="mt-3 rounded-(--radius-box) border-2 border-warning px-4 py-3"
      aria-label="Presses that were not sent"
      data-testid="left-over"
    >
      <h2 className="font-semibold">On this device, presses wait that the server does not have</h2>
      <ul className="divide-y divide-base-300">
        {left.map((item) => (
          <OneRun
            key={`${item.owner} ${item.run}`}
            left={item}
            owner={owner}
            mayReadHealth={mayReadHealth}
            onChange={look}
          />
        ))}
      </ul>
    </section>
  );
}

function OneRun({ left, owner, mayReadHealth, onChange }: Props & { left: Left; onChange: () => void }) {
  const [sure, setSure] = useState(false);
  const send = useMutation({ mutationFn: () => handOver(left), onSuccess: onChange });
  const mine = left.owner === owner;
  const who = left.owner.split("/").slice(1).join("/");
  const name = left.name || `run ${left.run}`;
  return (
    <li className="flex flex-wrap items-center gap-2 py-2">
      <span className="grow">
        {counted(left.events.length, "press", "presses")} {mine ? "of yours" : `of the account ${who}`} in{" "}
        <strong>{name}</strong>
      </span>
      <button type="button" className="btn btn-sm min-h-11" disabled={send.isPending} onClick={() => send.mutate()}>
        <Send size={16} aria-hidden /> {mine ? "Send" : "Send as mine"}
      </button>
      {(mine || mayReadHealth) && (
        <button
          type="button"
          className="btn btn-sm min-h-11"
          onClick={() => saveText(`presses-${left.run}.json`, asFile(left), "application/json")}
        >
          <Download size={16} aria-hidden /> Save as a file
        </button>
      )}
      <button
        type="button"
        className="btn btn-ghost btn-sm min-h-11"
        onClick={() => {
          if (!sure) return setSure(true);
          void dropWaiting(
            left.run,
            left.events.map((event) => event.id),
          ).then(onChange);
        }}
      >
        <Trash2 size={16} aria-hidden /> {sure ? "Really delete them" : "Delete"}
      </button>
      {send.isError && (
        <p role="alert" className="basis-full text-sm text-error">
          Not sent, and still on this device: {send.error.message}
        </p>
      )}
      {send.data && send.data.refused.length > 0 && (
        <p role="alert" className="basis-full text-sm text-error">
          The server would not keep {counted(send.data.refused.length, "entry", "entries")}:{" "}
          {entryAt(send.data.refused, 0).message}
        </p>
      )}
    </li>
  );
}
