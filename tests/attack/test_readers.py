"""Ten thousand mutated inputs a reader: each is read, or refused with a fault that says where and what would be right.

No reader raises anything else, and none takes long: the inputs are made from right ones by a seeded generator, so that
every run tries the same.
"""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial
from typing import Any

import pytest
from largest import fit_file, roster, tcx
from oaken.basis.faults import FaultyInput
from oaken.domain.catalogue import catalogue
from oaken.domain.people.roster import read_roster
from oaken.heart_data.recordings import read_recording
from oaken.heart_data.recordings.packets import FaultyPacket, decode
from oaken.plan.notation import FaultyText, read_leg, read_slot, read_station
from oaken.plan.notation import read_class as read_text
from oaken.plan.older_versions import upgraded
from oaken.schedule.class_file import read_class
from places import ROOT

TRIES = 10_000
NAMED = ("leg-press", "leg-extension", "kettlebell-swing", "wall-sit", "short-run", "bike", "lying-leg-curl",
         "reverse-lunge", "easy-walk", "bodyweight-squat")  # fmt: skip
KNOWN = replace(catalogue(), exercises={name: catalogue().exercises[name] for name in NAMED})
"""A small catalogue: looking for what an unknown word may have meant takes the longest by far."""

CLASS = (ROOT / "examples" / "machine-pairs.json").read_text(encoding="utf-8")
SNIPPETS = [
    b"9" * 400, b"-1", b"0", b"1e999", b"NaN", b"\x00", b"\xff\xfe", b"\xed\xa0\x80", "½".encode(), "٣".encode(),
    b"null", b"[]", b"{}", b'""', b"\n" * 20, b"," * 30, b"<", b"&x;", b"]]>", b"0001-01-01T00:00:00+14:00",
    b"9999-12-31T23:59:59-14:00", b"=cmd()", b"\r", b"1,5", b"2-0-1", b"99-98", b"@70%", b"rest", b"drop 20%", b"+",
]  # fmt: skip


def mutated(seeds: list[bytes], tries: int, seed: int) -> Iterator[bytes]:
    """Right inputs with bytes flipped, cut, doubled, moved, and strange snippets put in; some from nothing."""
    chance = random.Random(seed)
    for _ in range(tries):
        data = bytearray(chance.choice(seeds))
        for _ in range(chance.choice((1, 1, 2, 4))):
            at = chance.randrange(len(data) + 1)
            to = min(len(data), at + chance.choice((1, 2, 8, 60)))
            match chance.randrange(7):
                case 0 if data:
                    data[min(at, len(data) - 1)] = chance.randrange(256)
                case 1:
                    del data[at:to]
                case 2:
                    data[at:at] = data[at:to]
                case 3:
                    data[at:to] = chance.choice(SNIPPETS)
                case 4:
                    data[at:at] = chance.choice(SNIPPETS)
                case 5:
                    del data[at:]
                case 6:
                    other = chance.choice(seeds)
                    data[at:to] = other[at % (len(other) or 1) :][: chance.randrange(60)]
        yield bytes(data)


def values_in(document: Any) -> list[tuple[Any, Any]]:
    """Every place of a document: the list or object, and the key in it."""
    found, waiting = [], [document]
    while waiting:
        here = waiting.pop()
        keys: Any = here.keys() if isinstance(here, dict) else range(len(here)) if isinstance(here, list) else ()
        for key in keys:
            found.append((here, key))
            waiting.append(here[key])
    return found


STRANGE: list[Any] = [
    None, True, False, 0, -1, 10**25, float("inf"), float("nan"), 1e308, "", " ", "\x00", "x" * 5000, "\ud800", [], {}, [[]],
    {"kind": "sets"}, "0001-01-01", "9999-12-31", ["a"] * 500, {"a": {"a": {}}}, "½", -0.0, 2**63, "null",
]  # fmt: skip


def strange_documents(text: str, tries: int, seed: int) -> Iterator[Any]:
    """A right document with values exchanged, taken out and doubled."""
    chance = random.Random(seed)
    for _ in range(tries):
        document = json.loads(text)
        for _ in range(chance.choice((1, 1, 1, 2, 5))):
            parent, key = chance.choice(values_in(document))
            match chance.randrange(4):
                case 0 | 1:
                    parent[key] = copy.deepcopy(chance.choice(STRANGE))
                case 2 if isinstance(parent, dict):
                    parent[str(chance.choice(STRANGE))[:80]] = parent.pop(key)
                case 3 if isinstance(parent, list):
                    parent.extend(parent[:3])
                case _:
                    del parent[key]
            if not values_in(document):
                break
        yield document


def checked(call: Callable[[], object]) -> str:
    """'read', or that the fault is located: every fault has a place, a field or word, and says what is wrong."""
    fault: FaultyInput | FaultyText | FaultyPacket | None = None
    try:
        call()
    except (FaultyInput, FaultyText, FaultyPacket) as refused:
        fault = refused
    if fault is None:
        return "read"
    assert str(fault)
    if isinstance(fault, FaultyInput):
        assert fault.faults
        assert all(each_fault.place and each_fault.field and each_fault.message for each_fault in fault.faults), (
            fault.faults
        )
    elif isinstance(fault, FaultyText):
        assert fault.faults
        assert all(
            each_fault.line >= 1 and each_fault.column >= 1 and each_fault.message for each_fault in fault.faults
        ), fault.faults
    return "refused"


SLOTS = [
    b"leg press 8/6/4, @70/75/80%, rest 90", b"leg press 3 x 10, @70%, 3-0-1", b"kettlebell swing 8 turns of 12, rest 60",
    b"wall sit 3 x 40 s hold, rest 30", b"short run 4 x 90 m, rest 90", b"leg press @50%, 3-1-1", b"bike 5 min, 25 km/h",
    b"lying leg curl 10 + max~8 drop 20%", b"reverse lunge 3 x 12 each side, rest 45 doing easy walk",
]  # fmt: skip
TEXTS = [
    b"class Legs\nslot 60\nroom r\npeople a, b\nnote be kind\nair 24 C 60 %\nblock Sets: sets\n  leg press 3 x 10\n  + leg extension 12, rest 60\nblock Stations: 40:20, 3 rounds\n  leg press @50%\n  bodyweight squat\n",
    b"class Legs\nslot 45\nroom r\npeople a\ntogether a, b\nblock Warm-up: together\n  bike 5 min\nblock Relay: relay of 2\n  kettlebell swing 8 turns of 12\n",
]  # fmt: skip

BYTES: dict[str, tuple[list[bytes], Callable[[bytes], object]]] = {
    "recordings as CSV": (
        [b"seconds,bpm\n0,90\n5,95\n10,101\n", b"time;heart_rate\n2026-11-24T19:00:00Z;90\n2026-11-24T19:00:05Z;95\n"],
        read_recording,
    ),
    "recordings as TCX": ([tcx(5)], read_recording),
    "recordings as FIT": ([fit_file(40)], read_recording),
    "rosters": ([roster(4), b"name;age;mass_lb;screening_on\nA;40;154;2026-01-01\n"], read_roster),
    "packets": ([bytes([0x16, 60, 0, 4]), bytes([0x19, 1, 1, 5, 5, 9, 9]), bytes([0])], decode),
    "slots": (SLOTS, lambda data: read_slot(data.decode("utf-8", "replace"), KNOWN)),
    "stations": (SLOTS, lambda data: read_station(data.decode("utf-8", "replace"), KNOWN)),
    "legs of relays": (SLOTS, lambda data: read_leg(data.decode("utf-8", "replace"), KNOWN)),
    "classes as text": (TEXTS, lambda data: read_text(data.decode("utf-8", "replace"), KNOWN)),
}


@pytest.mark.parametrize("name", BYTES)
def test_ten_thousand_mutated_inputs_are_read_or_refused_at_their_place(name: str) -> None:
    seeds, reader = BYTES[name]
    for right in seeds:
        checked(lambda right=right: reader(right))  # type: ignore[misc]
    outcomes = [checked(lambda data=data: reader(data)) for data in mutated(seeds, TRIES, 7)]  # type: ignore[misc]
    assert outcomes.count("refused") > TRIES / 50


def test_ten_thousand_strange_class_files_are_read_or_refused_at_their_place() -> None:
    outcomes = [checked(partial(read_class, strange)) for strange in strange_documents(CLASS, TRIES, 11)]
    assert outcomes.count("refused") > TRIES / 2


def test_ten_thousand_strange_plans_of_the_first_version_are_upgraded_or_refused() -> None:
    old = (ROOT / "tests" / "core" / "older" / "machine-pairs-1.json").read_text(encoding="utf-8")
    for document in strange_documents(old, TRIES, 13):
        upgraded(document.get("plan") if isinstance(document, dict) else document)
