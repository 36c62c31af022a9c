import { useState } from "react";

import type { Book } from "../api/book";
import { HeartSigns, RecordedHeart } from "../drawing/RecordedHeart";
import { figure } from "../shared/format";
import { Pick } from "../shared/Pick";

/** A recorded heart beside its forecast, person by person. */
export function HeartsBeside({ book }: { book: Book }) {
  const [person, choose] = useState(book.hearts[0]?.person ?? "");
  const heart = book.hearts.find((heart) => heart.person === person);
  if (!heart) return null;
  const name = book.people[person] ?? person;
  return (
    <section className="mt-6" aria-labelledby="hearts-beside" data-testid="hearts-beside">
      <div className="flex flex-wrap items-center gap-4">
        <h2 id="hearts-beside" className="text-lg font-semibold">
          Hearts beside forecasts
        </h2>
        <Pick
          label="Of"
          value={person}
          options={book.hearts.map((heart): [string, string] => [
            heart.person,
            book.people[heart.person] ?? heart.person,
          ])}
          onChange={choose}
        />
        <span className="faint text-sm">
          mean error {figure(heart.error_bpm, 1)} bpm, bias {figure(heart.bias_bpm, 1)} bpm over {figure(heart.minutes)}{" "}
          min
        </span>
        <HeartSigns usual={false} />
      </div>
      <RecordedHeart
        forecast={heart.forecast}
        recorded={heart.recorded}
        every={heart.every_s}
        height={150}
        label={`Recorded heart of ${name} beside its forecast: mean error ${heart.error_bpm} bpm`}
      />
    </section>
  );
}
