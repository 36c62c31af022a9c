"""The class the figures of speed are measured on: 20 people, 60 minutes, made by repeating the demo's own parts."""

from __future__ import annotations

import json
from typing import Any

from places import ROOT


def big_class(people: int = 20, minutes: int = 60) -> dict[str, Any]:
    """A class file of `people` and at least `minutes`, half of it in sets and half on the clock."""
    folder = ROOT / "examples"
    document = json.loads((folder / "scree-and-stairs.json").read_text(encoding="utf-8"))
    document["room"] = json.loads((folder / "alder-mill.json").read_text(encoding="utf-8"))
    team = json.loads((folder / "hill-team.json").read_text(encoding="utf-8"))
    document["people"] = [
        {**team[n % len(team)], "id": f"person-{n}", "heart_medication": False} for n in range(people)
    ]
    plan = document["plan"]
    plan["people"] = [one["id"] for one in document["people"]]
    plan["slot_min"] = minutes
    warm_up, strength, stations, cool_down = plan["blocks"]
    # twenty people on ten stations take turns of two rounds of twenty: shorten the sets, so that an hour holds both
    strength["groups"] = strength["groups"][:2]
    stations["rounds"] = 1
    plan["blocks"] = [warm_up, strength, stations, cool_down]
    return document
