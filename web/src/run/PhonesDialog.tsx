import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { useServing } from "../api/account";
import { addPhones, codeOf, listPhones, revokePhone, revokePhones } from "../api/phones";
import type { Sheet } from "../api/runs";
import { Dialog } from "../shared/Dialog";
import { Refused } from "../shared/Refused";

type Props = { run: number; people: Sheet["people"]; onClose: () => void };

/** Addresses for people's own phones: made for everybody or somebody, shown as a picture for the camera, revoked. */
export function PhonesDialog({ run, people, onClose }: Props) {
  const queries = useQueryClient();
  const [shown, setShown] = useState<string | null>(null);
  const phones = useQuery({ queryKey: ["phones", run], queryFn: () => listPhones(run) });
  const again = () => void queries.invalidateQueries({ queryKey: ["phones", run] });
  const make = useMutation({ mutationFn: (who: string[] | null) => addPhones(run, who), onSuccess: again });
  const revoke = useMutation({ mutationFn: (id: number) => revokePhone(run, id), onSuccess: again });
  const revokeAll = useMutation({ mutationFn: () => revokePhones(run), onSuccess: again });
  const serving = useServing().data;
  const of = new Map(phones.data?.map((phone) => [phone.person, phone]));
  const chosen = people.find((person) => person.id === shown);
  const phone = chosen && of.get(chosen.id);
  if (chosen && phone) {
    const place = people.indexOf(chosen);
    const next = people.slice(place + 1).find((person) => of.has(person.id));
    return (
      <Dialog title={`${chosen.number} ${chosen.name}`} onClose={() => setShown(null)}>
        <Code run={run} phone={phone.id} />
        <div className="mt-3 flex flex-wrap gap-2">
          <button type="button" className="btn h-11" onClick={() => setShown(null)}>
            Back to the list
          </button>
          {next && (
            <button type="button" className="btn btn-primary h-11" data-first onClick={() => setShown(next.id)}>
              Next: {next.number} {next.name}
            </button>
          )}
        </div>
      </Dialog>
    );
  }
  return (
    <Dialog title="Own phones" onClose={onClose}>
      <p className="text-sm">
        Under an address of their own people see what they do next, with load and setting, and say when a set is done.
        No account is needed, nothing of anybody else is shown, and it ends with the class or when it is revoked.
      </p>
      {serving && serving.address === null && (
        <p role="alert" className="mt-2 rounded bg-warning px-2 py-1 text-sm text-warning-content">
          This server listens on this machine alone: no phone reaches it. It has to be started with{" "}
          <code>HOST=0.0.0.0</code>.
        </p>
      )}
      <Refused error={phones.error ?? make.error ?? revoke.error ?? revokeAll.error} />
      <div className="mt-3 flex flex-wrap gap-2">
        {of.size < people.length && (
          <button
            type="button"
            className="btn btn-primary h-11"
            data-first
            disabled={make.isPending}
            onClick={() => make.mutate(null)}
          >
            {of.size ? "Make the missing ones" : "Make one for everybody"}
          </button>
        )}
        {of.size > 0 && (
          <button type="button" className="btn h-11" disabled={revokeAll.isPending} onClick={() => revokeAll.mutate()}>
            Revoke all
          </button>
        )}
      </div>
      <ul className="mt-3" aria-label="People">
        {people.map((person) => {
          const own = of.get(person.id);
          return (
            <li key={person.id} className="flex items-center gap-2 border-t border-base-300 py-1">
              <span className="w-8 font-bold">{person.number}</span>
              <span className="min-w-0 flex-1 truncate">{person.name}</span>
              {own ? (
                <>
                  <button
                    type="button"
                    className="btn h-11"
                    aria-label={`Show the code of ${person.name}`}
                    onClick={() => setShown(person.id)}
                  >
                    Show
                  </button>
                  <button
                    type="button"
                    className="btn btn-ghost h-11"
                    aria-label={`Revoke the address of ${person.name}`}
                    onClick={() => revoke.mutate(own.id)}
                  >
                    Revoke
                  </button>
                </>
              ) : (
                <button
                  type="button"
                  className="btn btn-ghost h-11"
                  aria-label={`Make an address for ${person.name}`}
                  onClick={() => make.mutate([person.id])}
                >
                  Make
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </Dialog>
  );
}

/** An address as large as a camera likes it. */
function Code({ run, phone }: { run: number; phone: number }) {
  const code = useQuery({ queryKey: ["phones", run, "code", phone], queryFn: () => codeOf(run, phone) });
  if (!code.data) return code.error ? <Refused error={code.error} /> : <div className="skeleton h-72 w-72" />;
  return (
    <>
      <img
        src={`data:image/svg+xml;utf8,${encodeURIComponent(code.data.qr_svg)}`}
        alt="QR code of the address"
        className="mx-auto w-72 max-w-full border border-base-300 bg-white"
      />
      <p className="mt-2 text-center">Point the phone’s camera at it, and open the address:</p>
      <a
        className="link block text-center font-mono text-sm break-all"
        href={code.data.address}
        target="_blank"
        rel="noreferrer"
      >
        {code.data.address}
      </a>
    </>
  );
}
