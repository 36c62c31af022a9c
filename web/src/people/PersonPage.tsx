import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import type { PersonOut, PersonRecord } from "../api/client";
import { erasePerson, keptAs, savePerson, usePerson } from "../api/people";
import { useKeys } from "../keeping/keys";
import { LeaveGuard } from "../keeping/LeaveGuard";
import { Refusals } from "../keeping/Refusals";
import { SaveState } from "../keeping/SaveState";
import { useDocument } from "../keeping/useDocument";
import type { EditRecord } from "./record";
import { CannotOpen } from "../shared/CannotOpen";
import { Opening } from "../shared/Opening";
import { Dialog } from "../shared/Dialog";
import { UndoRedo } from "../shared/UndoRedo";
import { BodySection } from "./BodySection";
import { CareSection } from "./CareSection";
import { LiftsSection } from "./LiftsSection";
import { RecordingsSection } from "./RecordingsSection";
import { SettingsSection } from "./SettingsSection";
import { Refused } from "../shared/Refused";

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
  const queries = useQueryClient();
  const key = loaded.record.person.id;
  const document = useDocument<PersonRecord>({
    kind: "person",
    id: key,
    loaded: keptAs(loaded),
    save: (record, basedOn) => savePerson(key, basedOn, record),
    onSaved: () => {
      void queries.invalidateQueries({ queryKey: ["people"] });
      void queries.invalidateQueries({ queryKey: ["forecast"] });
      void queries.invalidateQueries({ queryKey: ["recordings", key] });
    },
    adopts: true,
  });
  const { document: record, edit: change, dirty } = document;
  // what is typed in one go is one step back
  const edit: EditRecord = useCallback((next) => change(next, "record"), [change]);
  useKeys(document);
  useEffect(() => {
    window.document.title = `${loaded.record.person.name} – Oaken Circuit`;
  }, [loaded.record.person.name]);
  return (
    <div className="mx-auto max-w-6xl px-4 pb-10 lg:px-6" data-testid="person">
      <div className="held-at-top flex flex-wrap items-center gap-3 py-2">
        <div className="grow">
          <h1 className="text-2xl leading-7 font-semibold">{record.person.name}</h1>
          <p className="faint text-sm">
            <Link to="/people" className="underline underline-offset-2">
              People
            </Link>
            {record.group && ` · ${record.group}`} · {record.person.level} ·{" "}
            <Link to={`/people/${key}/progress`} className="underline underline-offset-2">
              Week after week
            </Link>
          </p>
        </div>
        <UndoRedo canUndo={document.canUndo} canRedo={document.canRedo} onUndo={document.undo} onRedo={document.redo} />
        <SaveState document={document} />
      </div>
      <Refusals document={document} what="person" />
      <LeaveGuard what="this person" dirty={dirty} save={document.saveNow} staysHere={false} />
      <div className="grid gap-x-8 gap-y-6 *:min-w-0 lg:grid-cols-2">
        <BodySection record={record} edit={edit} />
        <CareSection record={record} edit={edit} />
        <RecordingsSection record={record} unsaved={dirty} />
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
      <div className="mt-2 flex flex-wrap gap-2">
        <a className="btn btn-sm" href={`/api/people/${personKey}/everything.zip`} download>
          Save everything as files (zip)
        </a>
        <a className="btn btn-sm" href={`/api/people/${personKey}/everything.pdf`} target="_blank" rel="noreferrer">
          A page to print
        </a>
        <button type="button" className="btn btn-sm" onClick={() => ask(true)}>
          Erase …
        </button>
      </div>
      <Refused error={erase.error} />
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
