import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { readRequest, type ClassRequest } from "../api/generator";
import { Refused } from "../shared/Refused";

const LONGEST = 400;

/** A class asked for in a few words: what is understood goes into the form, what is not is said. */
export function InWords({ request, onRead }: { request: ClassRequest; onRead: (request: ClassRequest) => void }) {
  const [text, setText] = useState("");
  const reading = useMutation({
    mutationFn: () => readRequest(text, request),
    onSuccess: (asked) => onRead(asked.class_request),
  });
  return (
    <form
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim()) reading.mutate();
      }}
    >
      <div className="flex items-end gap-2">
        <label className="min-w-0 grow text-sm">
          In a few words
          <input
            className="input input-sm w-full"
            value={text}
            maxLength={LONGEST}
            placeholder="back day, 14, 45 min, no jumps"
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm" disabled={!text.trim() || reading.isPending}>
          Fill in
        </button>
      </div>
      <Refused error={reading.error} />
      <div aria-live="polite" className="text-sm" data-testid="asked">
        {reading.data && reading.data.read.length > 0 && <p className="faint">Read: {reading.data.read.join("; ")}.</p>}
        {reading.data?.unread.map((words) => (
          <p key={words} className="text-accent">
            ▲ {words}
          </p>
        ))}
      </div>
    </form>
  );
}
