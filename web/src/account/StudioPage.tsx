import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";

import {
  addMember,
  changePassword,
  chooseStudio,
  enterAs,
  keepHouseRules,
  removeMember,
  signOut,
  useHouseRules,
  useMay,
  useMe,
  useMembers,
} from "../api/account";
import type { HouseRule, MemberOut } from "../api/client";
import { useConditions } from "../api/people";
import { useCatalogue } from "../api/queries";
import { clearDrafts, countDrafts } from "../keeping/drafts";
import { forgetRuns } from "../live/device";
import { useOwner } from "../keeping/useDocument";
import { LoadRules, TimeZone } from "./LoadRules";
import { Moving } from "./Moving";
import { Tables } from "./Tables";
import { OtherDevices } from "./OtherDevices";
import { Select } from "../shared/Select";
import { Dialog } from "../shared/Dialog";
import { counted } from "../shared/format";
import { Switch } from "../shared/Switch";
import { useUnits } from "../shared/units";
import { TextField } from "../shared/TextField";
import { Refused } from "../shared/Refused";

/** The studio: its studio rules, who works here, and one's own account. */
export function StudioPage() {
  const me = useMe().data;
  const queries = useQueryClient();
  const [units, setUnits] = useUnits();
  const mayManage = useMay("manage_studio");
  useEffect(() => {
    document.title = "Studio – Oaken Circuit";
  }, []);
  if (!me) return null;
  return (
    <div className="mx-auto max-w-4xl px-4 py-4 lg:px-6">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="grow text-2xl font-semibold">{me.studio.name}</h1>
        {me.studios.length > 1 && (
          <select
            className="select select-sm w-52"
            aria-label="Studio to work in"
            value={me.studio.id}
            onChange={(event) => void chooseStudio(Number(event.target.value)).then((next) => enterAs(queries, next))}
          >
            {me.studios.map((studio) => (
              <option key={studio.id} value={studio.id}>
                {studio.name}
              </option>
            ))}
          </select>
        )}
        <Switch
          large
          label="Units"
          options={[
            ["metric", "kg · cm"],
            ["imperial", "lb · in"],
          ]}
          value={units}
          onChange={setUnits}
        />
        <SignOut />
      </div>
      <p className="faint text-sm">
        Signed in as {me.user}, {me.studio.role}.
        {!mayManage && " Assistants run and log classes; what concerns people’s health is for instructors."}
      </p>
      <HouseRules editable={mayManage} />
      {mayManage && <LoadRules />}
      {mayManage && <TimeZone />}
      {mayManage && <Members own={me.user} />}
      {mayManage && <Tables />}
      {mayManage && <Moving own={me.user} />}
      <OwnPassword />
      <OtherDevices />
    </div>
  );
}

/** Signs out, and leaves no draft behind on this device; where there are any, they are told first. */
function SignOut() {
  const owner = useOwner();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [left, ask] = useState(0);
  const leaving = useMutation({
    mutationFn: () => {
      // first, as a refusal of anything else that is being read may show the sign-in before this one's answer comes
      clearDrafts(owner);
      return forgetRuns().then(signOut);
    },
    onSuccess: async () => {
      enterAs(queries, null);
      await navigate("/");
    },
  });
  return (
    <>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => {
          const drafts = countDrafts(owner);
          if (drafts) ask(drafts);
          else leaving.mutate();
        }}
      >
        Sign out
      </button>
      <Refused error={leaving.error} />
      {left > 0 && (
        <Dialog title="Sign out?" onClose={() => ask(0)}>
          <p>
            {counted(left, "draft")} on this device {left === 1 ? "was" : "were"} never saved. Signing out drops{" "}
            {left === 1 ? "it" : "them"}: nobody else who uses this device shall find what you were working on.
          </p>
          <div className="mt-4 flex gap-2">
            <button type="button" className="btn btn-error" onClick={() => leaving.mutate()}>
              Sign out and drop {left === 1 ? "it" : "them"}
            </button>
            <button type="button" className="btn" onClick={() => ask(0)}>
              Stay
            </button>
          </div>
        </Dialog>
      )}
    </>
  );
}

const TAGS: [NonNullable<HouseRule["tag"]>, string][] = [
  ["impact", "jumps and landings"],
  ["free_bar", "free bars"],
  ["spinal_load", "load on the spine"],
  ["balance", "balance"],
  ["overhead", "overhead"],
  ["back", "hinges"],
  ["treadmill", "treadmills"],
];

function HouseRules({ editable }: { editable: boolean }) {
  const rules = useHouseRules();
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: (next: HouseRule[]) => keepHouseRules(next, rules.data?.revision ?? 0),
    onSuccess: (answer) => {
      queries.setQueryData(["house-rules"], "kept" in answer ? answer.kept : answer.newer);
      void queries.invalidateQueries({ queryKey: ["forecast"] });
    },
  });
  const refused = keep.data && "newer" in keep.data;
  const list = rules.data?.rules ?? [];
  return (
    <section className="mt-5">
      <h2 className="text-lg font-semibold">Studio rules</h2>
      <p className="faint text-sm">Shown with every class they hold for, and in its pre-class check.</p>
      <Refused error={rules.error ?? keep.error} />
      {refused && (
        <p role="alert" className="mt-2 rounded border border-error px-3 py-1.5 text-sm">
          Somebody else changed the rules in the meantime. These are theirs; your change was not kept: make it again.
        </p>
      )}
      {rules.data?.rules.length === 0 && (
        <p className="mt-2 text-sm">No rule yet: what must be seen before every class?</p>
      )}
      <ul className="mt-2 divide-y divide-base-300" data-testid="studio-rules">
        {list.map((rule) => (
          <li key={rule.id} className="flex items-baseline gap-3 py-1.5">
            <span className="grow">
              {rule.say}
              {rule.safer && <span className="faint"> Safer: {rule.safer}.</span>}
            </span>
            <RuleWhen rule={rule} />
            {editable && (
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Remove: ${rule.say}`}
                onClick={() => keep.mutate(list.filter((item) => item !== rule))}
              >
                <Trash2 size={14} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      {editable && rules.data && (
        <NewRule
          taken={list.map((item) => item.id)}
          warmFrom={rules.data.warm_from_c}
          onAdd={(rule) => keep.mutate([...list, rule])}
        />
      )}
    </section>
  );
}

function RuleWhen({ rule }: { rule: HouseRule }) {
  const known = useCatalogue().data;
  const words = [
    rule.exercise &&
      (known?.exercises.find((exercise) => exercise.id === rule.exercise)?.name ?? rule.exercise).toLowerCase(),
    rule.pattern &&
      (known?.patterns.find((pattern) => pattern.id === rule.pattern)?.name ?? rule.pattern).toLowerCase(),
    rule.tag && TAGS.find(([tag]) => tag === rule.tag)?.[1],
    rule.careful && `consideration: ${rule.careful.replaceAll("_", " ")}`,
    rule.level && `${rule.level}s`,
    rule.wbgt_from_c !== null && rule.wbgt_from_c !== undefined && `from WBGT ${rule.wbgt_from_c} °C`,
  ].filter(Boolean);
  return <span className="faint shrink-0 text-sm">{words.length ? words.join(", ") : "every class"}</span>;
}

function NewRule({ taken, warmFrom, onAdd }: { taken: string[]; warmFrom: number; onAdd: (rule: HouseRule) => void }) {
  const conditions = useConditions().data ?? [];
  const [say, setSay] = useState("");
  const [safer, setSafer] = useState("");
  const [when, setWhen] = useState("always");
  // each choice with its name and what it says in the rule
  const holds: [string, string, Partial<HouseRule>][] = [
    ["always", "every class", {}],
    ["warm", "a warm room", { wbgt_from_c: warmFrom }],
    ...TAGS.map(([tag, name]): [string, string, Partial<HouseRule>] => [`tag:${tag}`, name, { tag }]),
    ["level:beginner", "beginners", { level: "beginner" }],
    ...conditions.map((condition): [string, string, Partial<HouseRule>] => [
      `careful:${condition.id}`,
      `consideration: ${condition.name}`,
      { careful: condition.id },
    ]),
  ];
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        let number = taken.length + 1;
        while (taken.includes(`rule-${number}`)) number += 1;
        onAdd({
          id: `rule-${number}`,
          say: say.trim(),
          safer: safer.trim(),
          ...holds.find(([key]) => key === when)?.[2],
        });
        setSay("");
        setSafer("");
      }}
    >
      <TextField label="Rule" required minLength={3} maxLength={300} value={say} onChange={setSay} />
      <TextField label="Safer choice" width="w-48" maxLength={300} value={safer} onChange={setSafer} />
      <label className="flex flex-col text-sm">
        Holds for
        <Select
          className="select select-sm w-44"
          value={when}
          options={holds.map(([key, name]) => [key, name])}
          onChange={setWhen}
        />
      </label>
      <button type="submit" className="btn btn-sm">
        Add the rule
      </button>
    </form>
  );
}

function Members({ own }: { own: string }) {
  const members = useMembers();
  const queries = useQueryClient();
  const again = () => void queries.invalidateQueries({ queryKey: ["members"] });
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");
  const [role, setRole] = useState<MemberOut["role"]>("assistant");
  const add = useMutation({
    mutationFn: () => addMember(user, password, role),
    onSuccess: () => {
      setUser("");
      setPassword("");
      again();
    },
  });
  const remove = useMutation({ mutationFn: removeMember, onSuccess: again });
  return (
    <section className="mt-5">
      <h2 className="text-lg font-semibold">Who works here</h2>
      <p className="faint text-sm">
        Instructors plan and read everything. Assistants run and log, and read no health data.
      </p>
      <ul className="mt-1 divide-y divide-base-300">
        {members.data?.map((member) => (
          <li key={member.id} className="flex items-baseline gap-3 py-1.5">
            <span className="grow">{member.user}</span>
            <span className="faint text-sm">{member.role}</span>
            {member.user !== own && (
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Remove ${member.user}`}
                onClick={() => remove.mutate(member.id)}
              >
                <Trash2 size={14} aria-hidden />
              </button>
            )}
          </li>
        ))}
      </ul>
      <Refused error={add.error ?? remove.error} />
      <form
        className="mt-2 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <TextField label="Name" width="w-40" required value={user} onChange={setUser} />
        <TextField
          label="First password"
          width="w-48"
          type="password"
          autoComplete="new-password"
          required
          value={password}
          onChange={setPassword}
        />
        <label className="flex flex-col text-sm">
          Role
          <Select
            className="select select-sm w-36"
            value={role}
            options={[
              ["assistant", "assistant"],
              ["instructor", "instructor"],
            ]}
            onChange={setRole}
          />
        </label>
        <button type="submit" className="btn btn-sm" disabled={add.isPending}>
          Add
        </button>
      </form>
    </section>
  );
}

function OwnPassword() {
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const change = useMutation({
    mutationFn: () => changePassword(old, next),
    onSuccess: () => {
      setOld("");
      setNext("");
    },
  });
  return (
    <section className="mt-5">
      <h2 className="text-lg font-semibold">Your password</h2>
      <form
        className="mt-1 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <TextField
          label="Now"
          width="w-48"
          type="password"
          autoComplete="current-password"
          required
          value={old}
          onChange={setOld}
        />
        <TextField
          label="New"
          width="w-48"
          type="password"
          autoComplete="new-password"
          required
          value={next}
          onChange={setNext}
        />
        <button type="submit" className="btn btn-sm" disabled={change.isPending}>
          Change
        </button>
        <span role="status" className="text-sm">
          {change.isSuccess && "Changed."}
        </span>
        <Refused error={change.error} />
      </form>
    </section>
  );
}
