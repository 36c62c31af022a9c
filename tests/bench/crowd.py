"""The classes the figures of speed are measured on, made by repeating the demo's own parts."""

from __future__ import annotations

import json
from typing import Any

from oaken.domain.catalogue import catalogue
from oaken.plan.notation import read_class
from places import ROOT


def _example(name: str) -> Any:
    return json.loads((ROOT / "examples" / f"{name}.json").read_text(encoding="utf-8"))


def _with_crowd(document: dict[str, Any], people: int) -> dict[str, Any]:
    """The document with the demo's room and a crowd made of its team."""
    team = _example("hill-team")
    document["room"] = _example("alder-mill")
    document["people"] = [
        {**team[n % len(team)], "id": f"person-{n}", "heart_medication": False} for n in range(people)
    ]
    document["plan"]["people"] = [item["id"] for item in document["people"]]
    return document


def big_class(people: int = 20, minutes: int = 60) -> dict[str, Any]:
    """A class file of `people` and at least `minutes`, half of it in sets and half on the clock."""
    document = _with_crowd(_example("scree-and-stairs"), people)
    plan = document["plan"]
    plan["slot_min"] = minutes
    warm_up, strength, stations, cool_down = plan["blocks"]
    # twenty people on ten stations take turns of two rounds of twenty: shorten the sets, so that an hour holds both
    strength["groups"] = strength["groups"][:2]
    stations["rounds"] = 1
    plan["blocks"] = [warm_up, strength, stations, cool_down]
    return document


def long_class(people: int = 12) -> dict[str, Any]:
    """A class file of twelve blocks and sixty slots of every kind."""
    stations = "leg press @50%\nlying leg curl @50%\nstep-up\ngoblet squat @16 kg\nplank"
    pairs = "leg press 12, @60%\n+ plank 20 s, rest 30\nhip thrust 10, @60%\n+ dead bug 6, each side, rest 30\nstep-up 8, each side"
    stretches = "leg swings 15 s, each side\nhip circles 10 s, each side\nwalk-out 4\nankle rocks 8, each side\nbodyweight squat 10"
    blocks = ["block Warm-up: together, then 30", stretches]
    for number in range(4):
        blocks += [f"block Stations {number + 1}: stations 20/10, 1 rounds, then 30", stations]
        blocks += [f"block Pairs {number + 1}: sets, then 30", pairs]
    blocks += ["block Relay: relay of 2, tag 2, then 30", "\n".join(["kettlebell swing 2 turns of 8 @16 kg"] * 5)]
    blocks += ["block Stretching: together, then 30", stretches, "block Cool-down: together, then 0", stretches]
    text = "\n".join(["class Twelve blocks", "slot 120 min", "room saw-floor", "people nobody", *blocks])
    plan = read_class(text, catalogue()).model_dump(mode="json")
    return _with_crowd({"format": "oaken-class/2", "plan": plan}, people)
