import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Save } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { StalePerson, type PersonOut } from "../api/client";
import { erasePerson, everythingAbout, savePerson, usePerson } from "../api/people";
import { CannotOpen } from "../shared/CannotOpen";
import { Opening } from "../shared/Opening";
import { Dialog } from "../shared/Dialog";
import { saveText } from "../shared/files";
import { BodySection } from "./BodySection";
import { CareSection } from "./CareSection";
import { LiftsSection } from "./LiftsSection";
import { RecordingsSection } from "./RecordingsSection";
import { SettingsSection } from "./SettingsSection";
import type { EditRecord } from "./record";

/** One person: body, heart, what to be careful about, loads, settings, recordings. */
export function PersonPage() {
  const key = useParams().key ?? "";
  const loaded = usePerson(key);
  if (loaded.isPending) {
    return <Opening what="the person" />;
  }
  if (loaded.isError) {
    return (
      <CannotOpen
        what="This person"
        error={loaded.error}
        again={() => void loaded.refetch()}
        home="/people"
        homeName="All people"
      />
    );
  }
  return <Sheet key={`${key}-${loaded.data.revision}`} loaded={loaded.data} />;
}

function Sheet({ loaded }: { loaded: PersonOut }) {
  const [record, setRecord] = useState(loaded.record);
  const queries = useQueryClient();
  const key = loaded.record.person.id;
  const dirty = JSON.stringify(record) !== JSON.stringify(loaded.record);
  const edit: EditRecord = (change) => setRecord(change);
  const again = (saved: PersonOut) => {
    queries.setQueryData(["person", key], saved);
    void queries.invalidateQueries({ queryKey: ["people"] });
    void queries.invalidateQueries({ queryKey: ["forecast"] });
    void queries.invalidateQueries({ queryKey: ["recordings", key] });
  };
  const save = useMutation({
    mutationFn: (basedOn: number) => savePerson(key, basedOn, record),
    onSuccess: again,
  });
  const stale = save.error instanceof StalePerson ? save.error : null;
  useEffect(() => {
    document.title = `${loaded.record.person.name} – Oaken Circuit`;
  }, [loaded.record.person.name]);
  useEffect(() => {
    if (!dirty) return;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [dirty]);
  return (
    <div className="mx-auto max-w-6xl px-4 pb-10 lg:px-6" data-testid="person">
      <div className="held-at-top flex flex-wrap items-center gap-3 py-2">
        <div className="grow">
          <h1 className="text-2xl leading-7 font-semibold">{record.person.name}</h1>
          <p className="faint text-sm">
            <Link to="/people" className="underline underline-offset-2">
              People
            </Link>
            {record.group && ` · ${record.group}`} · {record.person.level}
          </p>
        </div>
        <span className="faint text-sm" role="status" data-testid="person-state">
          {save.isPending ? "Saving …" : dirty ? "Not saved yet" : "Saved"}
        </span>
        <button type="button" className="btn btn-sm" disabled={!dirty} onClick={() => setRecord(loaded.record)}>
          Undo all
        </button>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={!dirty || save.isPending}
          onClick={() => save.mutate(loaded.revision)}
        >
          <Save size={16} aria-hidden /> Save
        </button>
      </div>
      {save.isError && !stale && (
        <p role="alert" className="mb-2 rounded border border-error p-2 text-sm">
          Not saved: {save.error.message}
        </p>
      )}
      {stale && (
        <Dialog title="This person was changed elsewhere" onClose={() => save.reset()}>
          <p>{stale.message} Nothing of yours is lost yet.</p>
          <div className="mt-4 flex flex-col gap-2">
            <button type="button" className="btn btn-primary" onClick={() => save.mutate(stale.latest.revision)}>
              Save mine over it
            </button>
            <button type="button" className="btn" onClick={() => again(stale.latest)}>
              Show the other state and drop mine
            </button>
          </div>
        </Dialog>
      )}
      <div className="grid gap-x-8 gap-y-6 *:min-w-0 lg:grid-cols-2">
        <BodySection record={record} edit={edit} />
        <CareSection record={record} edit={edit} />
        <RecordingsSection record={loaded.record} unsaved={dirty} />
        <LiftsSection record={record} edit={edit} />
        <SettingsSection record={record} edit={edit} />
        <DataSection personKey={key} name={record.person.name} />
      </div>
    </div>
  );
}

/** Everything that is kept on one person: to take away, and to erase. */
function DataSection({ personKey, name }: { personKey: string; name: string }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [asking, ask] = useState(false);
  const tell = useMutation({
    mutationFn: () => everythingAbout(personKey),
    onSuccess: (all) => saveText(`${personKey}.json`, JSON.stringify(all, null, 1), "application/json"),
  });
  const erase = useMutation({
    mutationFn: () => erasePerson(personKey),
    onSuccess: async () => {
      await navigate("/people");
      void queries.invalidateQueries();
    },
  });
  return (
    <section>
      <h2 className="text-lg font-semibold">What is kept</h2>
      <p className="faint text-sm">Everybody may have a copy of what is kept on them, and have it erased.</p>
      <div className="mt-2 flex gap-2">
        <button type="button" className="btn btn-sm" onClick={() => tell.mutate()}>
          Save everything as a file
        </button>
        <button type="button" className="btn btn-sm" onClick={() => ask(true)}>
          Erase …
        </button>
      </div>
      {(tell.isError || erase.isError) && (
        <p role="alert" className="mt-2 text-sm text-error">
          {(tell.error ?? erase.error)?.message}
        </p>
      )}
      {asking && (
        <Dialog title={`Erase ${name}?`} onClose={() => ask(false)}>
          <p>
            Name, body data, health notes, loads, settings and recordings are deleted, also out of saved plans. A
            nameless stand-in stays in past classes, so that their totals stay true. This cannot be undone.
          </p>
          <div className="mt-4 flex gap-2">
            <button type="button" className="btn btn-error" disabled={erase.isPending} onClick={() => erase.mutate()}>
              Erase for good
            </button>
            <button type="button" className="btn" onClick={() => ask(false)}>
              Keep
            </button>
          </div>
        </Dialog>
      )}
    </section>
  );
}
