import { useState } from "react";

import type { OpenRun } from "../live/useRun";

type Props = {
  run: OpenRun;
  /** of whom; of the class where it is nobody */
  person?: string;
  label: string;
  placeholder: string;
};

/** Something to remember, of somebody or of the class. */
export function NoteForm({ run, person, label, placeholder }: Props) {
  const [words, setWords] = useState("");
  return (
    <form
      className="flex gap-2 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        const said = words.trim();
        if (said) void run.add("noted", { words: said, ...(person && { person }) }).then(() => setWords(""));
      }}
    >
      <input
        className="input h-11 flex-1"
        aria-label={label}
        placeholder={placeholder}
        maxLength={500}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <button type="submit" className="btn h-11">
        Note
      </button>
    </form>
  );
}
