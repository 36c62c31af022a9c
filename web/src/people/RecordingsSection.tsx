import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Trash2, Upload } from "lucide-react";
import { useState } from "react";

import type { PersonRecord, RecordingOver } from "../api/client";
import {
  addRecording,
  calibrate,
  deleteRecording,
  forgetCalibration,
  simulateRecording,
  useRuns,
  useRecordings,
} from "../api/people";
import { HeartSigns, RecordedHeart } from "../drawing/RecordedHeart";
import { Dialog } from "../shared/Dialog";
import { DecimalField } from "../shared/DecimalField";
import { counted } from "../shared/format";
import { Refused } from "../shared/Refused";
import { entryAt, present } from "../basis/entries";

type Props = { record: PersonRecord; unsaved: boolean };

/** What belts recorded, how well it was forecast, and the heart that is fitted to it. */
export function RecordingsSection({ record, unsaved }: Props) {
  const key = record.person.id;
  const recordings = useRecordings(key);
  const queries = useQueryClient();
  const [adding, add] = useState(false);
  const again = () => {
    void queries.invalidateQueries({ queryKey: ["recordings", key] });
    void queries.invalidateQueries({ queryKey: ["people"] });
    void queries.invalidateQueries({ queryKey: ["forecast"] });
  };
  const fit = useMutation({
    mutationFn: () => calibrate(key),
    onSuccess: (found) => {
      again();
      if (found.used) void queries.invalidateQueries({ queryKey: ["person", key] });
    },
  });
  const forget = useMutation({
    mutationFn: () => forgetCalibration(key),
    onSuccess: () => {
      again();
      void queries.invalidateQueries({ queryKey: ["person", key] });
    },
  });
  const remove = useMutation({ mutationFn: (id: number) => deleteRecording(key, id), onSuccess: again });
  const own = record.person.heart_fit;
  const medicated = record.person.heart_medication;
  return (
    <section data-testid="recordings">
      <div className="flex items-center gap-2">
        <h2 className="grow text-lg font-semibold">Recorded heart rate</h2>
        <button type="button" className="btn btn-xs" onClick={() => add(true)}>
          <Upload size={13} aria-hidden /> Recording
        </button>
        <button
          type="button"
          className="btn btn-primary btn-xs"
          disabled={!recordings.data?.length || fit.isPending || unsaved || medicated}
          title={unsaved ? "Save first" : undefined}
          onClick={() => fit.mutate()}
        >
          {fit.isPending ? "Fitting …" : own ? "Fit again" : "Fit the heart"}
        </button>
      </div>
      {medicated && <p className="mt-1 text-sm">Heart medication: nothing is fitted, effort leads.</p>}
      {fit.isSuccess && (
        <p role="status" className="mt-2 rounded border border-info p-2 text-sm" data-testid="fitted">
          {fit.data.used
            ? "The next forecast uses the fitted heart: "
            : "Not used, the usual heart forecasts as well: "}
          {fit.data.why}.
        </p>
      )}
      <Refused error={fit.error ?? recordings.error ?? remove.error ?? forget.error} />
      {own && (
        <dl className="mt-2 flex flex-wrap gap-x-5 text-sm" data-testid="own-heart-fit">
          <Fact name="answers" value={`× ${own.gain.toFixed(2)}`} />
          <Fact name="up within" value={`${own.rise_s.toFixed(0)} s`} />
          <Fact name="down within" value={`${own.fall_s.toFixed(0)} s`} />
          <Fact name="level in class" value={`${own.level_bpm.toFixed(0)} bpm`} />
          <Fact
            name="last forecast missed by"
            value={`${own.error_bpm.toFixed(1)} bpm (usual heart ${own.uncalibrated_error_bpm.toFixed(1)}), bias ${signed(own.bias_bpm)}`}
          />
          <button type="button" className="btn btn-xs" onClick={() => forget.mutate()}>
            Back to the usual heart
          </button>
        </dl>
      )}
      {recordings.isPending && <div className="skeleton mt-2 h-32 w-full" role="status" aria-label="Reading" />}
      {recordings.data?.length === 0 && (
        <p className="mt-1 text-sm">
          Nothing recorded. Log a class as held, then bring in what a belt or watch recorded (CSV, TCX, GPX or FIT).
        </p>
      )}
      <ul className="mt-2 space-y-2">
        {recordings.data?.map((eachRecording) => (
          <RecordingLine
            key={eachRecording.id}
            recording={eachRecording}
            onDelete={() => remove.mutate(eachRecording.id)}
          />
        ))}
      </ul>
      {adding && (
        <AddRecording
          personKey={key}
          onClose={() => add(false)}
          onAdded={() => {
            again();
            add(false);
          }}
        />
      )}
    </section>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <div>
      <dt className="faint text-xs">{name}</dt>
      <dd className="font-semibold">{value}</dd>
    </div>
  );
}

function signed(value: number): string {
  return `${value > 0 ? "+" : value < 0 ? "−" : ""}${Math.abs(value).toFixed(1)}`;
}

/** A recording as dots with the forecast as a line, and the usual heart as a broken line where there is another. */
function Overlay({ recording }: { recording: RecordingOver }) {
  const { forecast, recorded, every_s: every } = recording.now;
  const other = recording.usual.some((bpm, at) => Math.abs(bpm - entryAt(forecast, at)) > 0.5);
  const minutes = ((forecast.length - 1) * every) / 60;
  return (
    <>
      <RecordedHeart
        forecast={forecast}
        recorded={recorded}
        usual={other ? recording.usual : null}
        every={every}
        height={104}
        label={`Recorded and forecast heart rate over ${minutes.toFixed(0)} minutes, ${counted(recorded.filter((item) => item !== null).length, "reading")}, mean error ${recording.now.error_bpm} bpm`}
      />
      <HeartSigns usual={other} />
    </>
  );
}

function AddRecording({
  personKey,
  onClose,
  onAdded,
}: {
  personKey: string;
  onClose: () => void;
  onAdded: () => void;
}) {
  const runs = useRuns();
  const mine = (runs.data ?? []).filter((run) => run.people.includes(personKey));
  const [chosen, choose] = useState<number | null>(null);
  const [offset, setOffset] = useState<number | null>(null);
  const id = chosen ?? mine[0]?.id ?? null;
  const send = useMutation({
    mutationFn: async (file: File) =>
      addRecording(present(id, "The class"), personKey, file, offset === null ? null : offset * 60),
    onSuccess: onAdded,
  });
  const belt = useMutation({
    mutationFn: () => simulateRecording(present(id, "The class"), personKey),
    onSuccess: onAdded,
  });
  const failed = send.error ?? belt.error;
  return (
    <Dialog title="A recorded heart rate" onClose={onClose}>
      {runs.isPending && <p role="status">Looking for classes …</p>}
      {runs.isSuccess && mine.length === 0 && (
        <p>This person came to no class that was logged. Open a class, show its people, and log it as held.</p>
      )}
      {mine.length > 0 && (
        <div className="flex flex-col gap-3">
          <label className="flex flex-col gap-1 text-sm">
            Class
            <select className="select w-full" value={id ?? ""} onChange={(event) => choose(Number(event.target.value))}>
              {mine.map((item) => (
                <option key={item.id} value={item.id}>
                  {item.name},{" "}
                  {new Date(item.began_at ?? item.opened_at).toLocaleDateString("en-GB", {
                    day: "numeric",
                    month: "short",
                  })}
                  {item.recorded.includes(personKey) ? " (replaces the one there is)" : ""}
                </option>
              ))}
            </select>
          </label>
          <DecimalField
            label="First reading, minutes after the start (empty: by the clock, or where it fits)"
            unit="min"
            value={offset}
            otherwise={0}
            min={-60}
            max={120}
            step={0.5}
            onChange={setOffset}
          />
          <label className="flex flex-col gap-1 text-sm">
            File (CSV, TCX, GPX or FIT, at most 8 MB)
            <input
              type="file"
              accept=".csv,.tcx,.gpx,.fit,text/csv"
              aria-label="Recording file"
              className="file-input w-full"
              disabled={send.isPending}
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (!file) return;
                if (file.size > 8_000_000) send.reset();
                send.mutate(file);
              }}
            />
          </label>
          <button
            type="button"
            className="btn btn-sm self-start"
            disabled={belt.isPending}
            onClick={() => belt.mutate()}
          >
            Or record it with a simulated belt
          </button>
        </div>
      )}
      {(send.isPending || belt.isPending) && (
        <p role="status" className="mt-2">
          Reading …
        </p>
      )}
      {failed && (
        <p role="alert" className="mt-3 rounded border border-error p-2 text-sm">
          {failed.message}
        </p>
      )}
    </Dialog>
  );
}

type RecordingLineProps = {
  recording: NonNullable<ReturnType<typeof useRecordings>["data"]>[number];
  onDelete: () => void;
};

/** A recording of a class: how far the forecast was off, and both curves. */
function RecordingLine({ recording, onDelete }: RecordingLineProps) {
  return (
    <li>
      <p className="flex items-baseline gap-2 text-sm">
        <span className="grow">
          <strong>{recording.class_name}</strong>{" "}
          <span className="faint">
            {new Date(recording.began_at).toLocaleDateString("en-GB", { day: "numeric", month: "short" })} ·{" "}
            {recording.source === "belt" ? "simulated belt" : recording.source} ·{" "}
            {(recording.over?.now.minutes ?? recording.minutes).toFixed(0)} min
          </span>
        </span>
        {recording.over && (
          <span className="whitespace-nowrap">
            off by {recording.over.now.error_bpm.toFixed(1)} bpm, bias {signed(recording.over.now.bias_bpm)}
          </span>
        )}
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Delete the recording of ${recording.class_name}`}
          onClick={onDelete}
        >
          <Trash2 size={13} aria-hidden />
        </button>
      </p>
      {recording.over ? (
        <Overlay recording={recording.over} />
      ) : (
        <p className="faint text-xs">
          Kept, but not compared: an earlier version did not keep the room and people of that class.
        </p>
      )}
      {recording.over && recording.over.now.notes.length > 0 && (
        <p className="faint text-xs">Left out: {recording.over.now.notes.join("; ")}.</p>
      )}
    </li>
  );
}
