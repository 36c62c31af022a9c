import { useEffect, useState, type ReactNode } from "react";
import { useParams } from "react-router";

import { useMe } from "../api/account";
import type { Me } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { Opening } from "../shared/Opening";
import { SignInForm } from "../shared/SignInForm";
import { keepMe, keptMe } from "../live/device";
import { LeftOver } from "../live/LeftOver";
import { useRun } from "../live/useRun";
import { RunScreen } from "./RunScreen";

/** The page of one run. It stands outside the frame of the other pages: it goes on when the server is gone, and when
 * the sign-in has run out. */
export function RunPage() {
  const { id } = useParams();
  const asked = useMe();
  const [kept, setKept] = useState<Me | null | undefined>(undefined);
  useEffect(() => {
    if (asked.data) void keepMe(asked.data);
    else if (!asked.isPending || asked.failureCount) void keptMe().then(setKept);
  }, [asked.data, asked.isPending, asked.failureCount]);
  // without the server, or after the session ran out, this device goes on as who used it last
  const me = asked.data ?? kept;
  const run = Number(id);
  if (!Number.isSafeInteger(run) || run < 1) return <Elsewhere words="There is no run at this address." />;
  if (me === undefined || (me === null && asked.isPending)) return <Opening what="the class" />;
  if (me === null) return <SignInHere title="Sign in to run this class" />;
  return <Run key={`${me.studio.id}/${me.user}/${run}`} run={run} me={me} />;
}

function Run({ run, me }: { run: number; me: Me }) {
  const open = useRun(run, `${me.studio.id}/${me.user}`);
  const [later, setLater] = useState(false);
  useEffect(() => {
    if (open.live) document.title = open.live.name;
  }, [open.live]);
  const owner = `${me.studio.id}/${me.user}`;
  const mayReadHealth = me.permissions.includes("read_health");
  if (open.reach === "gone") {
    return (
      <Elsewhere words="This class is not yours to run (any more).">
        <LeftOver owner={owner} mayReadHealth={mayReadHealth} />
      </Elsewhere>
    );
  }
  if (!open.live || !open.runState) {
    if (!open.problem) return <Opening what="the class" />;
    return (
      <Elsewhere words={open.problem}>
        <LeftOver owner={owner} mayReadHealth={mayReadHealth} />
      </Elsewhere>
    );
  }
  return (
    <>
      <RunScreen run={open} live={open.live} base={open.runState} mayReadHealth={mayReadHealth} />
      {open.reach === "signed out" && !later && (
        <Dialog title="The sign-in has run out" onClose={() => setLater(true)}>
          <p>The class goes on, and what you log stays on this device. Sign in and it is sent.</p>
          <SignInForm
            user={me.user}
            onIn={() => {
              window.dispatchEvent(new Event("online"));
              setLater(true);
            }}
          />
        </Dialog>
      )}
    </>
  );
}

function Elsewhere({ words, children }: { words: string; children?: ReactNode }) {
  return (
    <main className="mx-auto max-w-lg p-10" role="alert">
      <h1 className="text-2xl font-semibold">This run cannot be opened</h1>
      <p className="mt-2">{words}</p>
      {children}
      <div className="mt-4 flex gap-2">
        <button type="button" className="btn btn-primary" onClick={() => window.location.reload()}>
          Try again
        </button>
        <a href="/" className="btn">
          All classes
        </a>
      </div>
    </main>
  );
}

function SignInHere({ title }: { title: string }) {
  return (
    <main className="mx-auto max-w-sm p-10">
      <h1 className="text-2xl font-semibold">{title}</h1>
      <SignInForm />
    </main>
  );
}
