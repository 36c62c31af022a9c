"""Plans written by older versions, turned into today's form without losing anything."""

from __future__ import annotations

from typing import Any

from oaken.domain.catalogue import catalogue

OLDEST = "oaken-class/1"


def upgraded(plan: Any) -> Any:
    """A plan of format oaken-class/1 in today's form. What has an unknown shape is left as it is for validation.

    In format 1 a group had rounds and a rest, its slots one dose each; now every slot has its own sets with their
    rests. Timed slots of a block together had seconds and a pause.
    """
    if not isinstance(plan, dict) or not isinstance(plan.get("blocks"), list):
        return plan
    return {**plan, "blocks": [_block(block) for block in plan["blocks"]]}


def _block(block: Any) -> Any:
    if not isinstance(block, dict):
        return block
    if block.get("kind") == "sets" and isinstance(block.get("groups"), list):
        return {**block, "groups": [_group(group) for group in block["groups"]]}
    if block.get("kind") == "together" and isinstance(block.get("slots"), list):
        return {**block, "slots": [_timed(slot) for slot in block["slots"]]}
    return block


def _group(group: Any) -> Any:
    if not isinstance(group, dict) or not isinstance(group.get("slots"), list):
        return group
    rounds, rest_s = group.get("rounds", 1), group.get("rest_s", 0)
    last = len(group["slots"]) - 1
    kept = {key: value for key, value in group.items() if key not in ("rounds", "rest_s")}
    slots = [_slot(slot, rounds, rest_s if place == last else 0) for place, slot in enumerate(group["slots"])]
    return {**kept, "slots": slots}


_DOSE = ("reps", "seconds", "sides", "tempo", "load")


def _slot(slot: Any, rounds: Any, rest_s: Any) -> Any:
    if not isinstance(slot, dict) or "sets" in slot:
        return slot
    segment = {key: slot[key] for key in _DOSE if slot.get(key) is not None}
    kept = {key: value for key, value in slot.items() if key not in _DOSE}
    return {**kept, "sets": [{"times": rounds, "segments": [segment], "rest_s": rest_s}]}


def _timed(slot: Any) -> Any:
    """The seconds of a one-sided exercise were shared by its sides."""
    if not isinstance(slot, dict) or "sets" in slot:
        return slot
    segment = {"seconds": slot["seconds"]} if "seconds" in slot else {}
    exercise = catalogue().exercises.get(str(slot.get("exercise")))
    if segment and exercise is not None and exercise.one_sided:
        segment["sides"] = "in_all"
    kept = {key: value for key, value in slot.items() if key not in ("seconds", "pause_after_s")}
    return {**kept, "sets": [{"segments": [segment], "rest_s": slot.get("pause_after_s") or 0}]}
