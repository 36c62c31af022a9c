"""The core does what the golden cases say; the interface is held to the same file (web/tests/golden.test.ts)."""

from __future__ import annotations

import json

from golden.making import cases
from golden.running import run_cases
from places import ROOT


def test_the_core_does_what_the_golden_cases_say() -> None:
    kept = json.loads((ROOT / "tests" / "golden" / "edits.json").read_text(encoding="utf-8"))
    assert json.loads(json.dumps(cases())) == kept
    assert len(kept["another exercise"]) > 30
    by_name = {case["what"]: case["gives"] for case in kept["another exercise"]}
    # a load is never invented: whoever puts somebody on a machine says how heavy
    assert "load" not in by_name["an unloaded station becomes leg-press"]


def test_the_core_folds_runs_as_the_golden_cases_say() -> None:
    kept = json.loads((ROOT / "tests" / "golden" / "runs.json").read_text(encoding="utf-8"))
    assert json.loads(json.dumps(run_cases())) == kept
    states = {told["gives"]["state"] for item in kept for case in item["cases"] for told in case["at"]}
    assert states >= {"not begun", "runs", "paused", "waits for ready", "plan is over", "ended"}
