"""The log of a class as a table: written, read back, and every faulty cell at its place."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from oaken.basis.faults import FaultyInput
from oaken.schedule.class_file.reading import load_class
from oaken.session import LogRow, SetRow, log_of, read_sets, replay_events, simulated_events, write_sets
from oaken.session.events import SetDone
from oaken.session.log import set_words
from oaken.session.set_parts import SetPart
from oaken.session.sets_file import COLUMNS, outcome_of
from places import ROOT

FILE = load_class(ROOT / "examples" / "machine-pairs.json")
BEGAN = datetime(2026, 3, 2, 19, 0, tzinfo=UTC)
EVENTS = simulated_events(FILE, BEGAN, seed=3)
LOG = log_of(FILE, EVENTS, replay_events(FILE, EVENTS, BEGAN + timedelta(hours=3)))
NAMES = {person.id: person.name for person in FILE.participants}
ROW = next(row for row in LOG if row.planned_kg)


def read(*lines: str) -> list[SetRow]:
    return read_sets("\n".join(lines).encode(), LOG, NAMES)


def one_row(head: str, cells: str) -> SetRow:
    base = f"{ROW.person},{ROW.exercise},{ROW.part},{ROW.number}"
    return read(f"person,exercise,part,set,{head}", f"{base},{cells}")[0]


def test_every_set_of_a_log_comes_back() -> None:
    rows = read_sets(write_sets(LOG, NAMES).encode(), LOG, NAMES)
    assert not [row for row in rows if row.faults]
    done = [item for row in LOG for item in row.done]
    told = [row for row in rows if row.fields and not row.as_planned and not row.empty]
    assert len(told) == len(done)
    for row, item in zip(told, done, strict=True):
        assert (row.fields["person"], row.fields["part"], row.fields["number"]) == (item.person, item.part, item.number)
        assert row.fields.get("load_kg") == item.load_kg
        assert row.fields.get("reps") == (None if item.parts else item.reps)
        assert tuple(map(SetPart.model_validate, row.fields.get("parts", ()))) == item.parts
        assert row.fields.get("reps_left") == item.reps_left
        assert row.fields.get("to_failure", False) == item.to_failure
    assert sum(row.as_planned for row in rows) == sum(row.written == "as planned" for row in LOG)
    assert sum(row.empty for row in rows) == sum(row.written == "not written" for row in LOG)


@pytest.mark.parametrize("sign", [",", ";", "\t"])
@pytest.mark.parametrize("number", ["72.5", "72,5"])
def test_signs_and_decimals_of_every_country(sign: str, number: str) -> None:
    cell = f'"{number}"' if sign == "," and "," in number else number
    head = sign.join(["person", "exercise", "part", "set", "load_kg"])
    (row,) = read(head, sign.join([NAMES[ROW.person], ROW.exercise, ROW.part, str(ROW.number), cell]))
    assert row.fields["load_kg"] == 72.5


@pytest.mark.parametrize(
    ("head", "cells", "field", "words"),
    [
        ("load_kg", "1000", "load_kg", "1000 kg cannot be"),
        ("load_kg", "-5", "load_kg", "cannot be"),
        ("load_kg", "heavy", "load_kg", "no number"),
        ("load_kg", "=A1", "load_kg", "no number"),
        ("reps", "-3", "reps", "cannot be"),
        ("reps", "8.5", "reps", "cannot be"),
        ("reps", "5+x", "reps", "a whole number from 0 to 1000"),
        ("side", "up", "side", "cannot be"),
        ("form", "fair", "form", "cannot be"),
        ("helped", "perhaps", "helped", "neither yes nor no"),
        ("reps_left", "40", "reps_left", "0 to 20"),
        ("seconds", "1e9", "seconds", "no number"),
    ],
)
def test_a_cell_that_cannot_be_says_where_and_what_would_be_right(
    head: str, cells: str, field: str, words: str
) -> None:
    row = one_row(head, cells)
    assert not row.fields
    (fault,) = row.faults
    assert (fault.place, fault.field) == ("line 2", field)
    assert words in f"{fault.message} {fault.right}"


@pytest.mark.parametrize(
    ("cells", "field"),
    [
        (f"Nobody,{ROW.exercise},,1", "person"),
        (f"{ROW.person},juggling,,1", "exercise"),
        (f"{ROW.person},{ROW.exercise},elsewhere,1", "part"),
        (f"{ROW.person},{ROW.exercise},{ROW.part},", "set"),
        (f"{ROW.person},{ROW.exercise},{ROW.part},0", "set"),
    ],
)
def test_a_row_that_names_what_is_not_there(cells: str, field: str) -> None:
    (row,) = read("person,exercise,part,set", cells)
    assert [fault.field for fault in row.faults] == [field]


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "empty"),
        (b"\xff\xff\xff", "text"),
        (b"person,exercise\n", "no column 'set'"),
        (b"person,exercise,set,mood\n", "'mood'"),
        (b"person,exercise,set\n" + b"x" * 2_100_000, "large"),
        (b"person,exercise,set\n" + b"a,b,1\n" * 20_001, "too many rows"),
    ],
)
def test_a_file_that_cannot_be_read_at_all(content: bytes, words: str) -> None:
    with pytest.raises(FaultyInput, match=words):
        read_sets(content, LOG, NAMES)


def test_parts_of_a_cluster_and_a_guarded_note() -> None:
    row = one_row("reps,note", "5+5+4,'=SUM(A1)")
    assert row.fields["parts"] == [5, 5, 4]
    assert row.fields["note"] == "=SUM(A1)"
    noted = [_with(row_, note="=1+1") for row_ in LOG if row_.done][:1]
    assert "'=1+1" in write_sets(noted, NAMES)


def _with(row: LogRow, **fields: Any) -> LogRow:
    from dataclasses import replace

    return replace(row, done=tuple(item.model_copy(update=fields) for item in row.done))


@pytest.mark.parametrize(
    "said",
    [
        {"reps": 10, "load_kg": 60.0},
        {"load_kg": 60.0, "parts": [10, {"reps": 8, "load_kg": 45.0}, {"reps": 6, "load_kg": 35.0}]},
        {
            "load_kg": 60.0,
            "parts": [{"reps": 10, "to_failure": True}, {"reps": 8, "load_kg": 45.0}],
            "to_failure": True,
        },
        {"load_kg": 80.0, "parts": [5, {"reps": 4, "rest_s": 15.0}, {"reps": 3, "rest_s": 15.0}], "rest_s": 120.0},
        {
            "load_kg": 60.0,
            "parts": [10, {"reps": 8, "load_kg": 45.0, "helped": True, "helped_reps": 2}],
            "reps_left": 0,
        },
        {"load_kg": 60.0, "parts": [{"reps": 6}, {"reps": 5, "range_of_motion": "partial", "form": "poor"}]},
        {"parts": [{"seconds": 20.0}, {"seconds": 15.0, "load_kg": 10.0}]},
        {"load_kg": 60.0, "parts": [10, {"load_kg": 45.0}]},
        {"reps": 10, "helped": True, "helped_reps": 1, "rest_s": 95.0},
        {"reps": 10, "helped": True},
        {"reps": 15, "set_up": {"stance": ["feet high"], "heels_cm": 2.5, "aids": ["belt", "straps"]}},
        {"reps": 15, "set_up": {}},
        {"reps": 0, "note": "knee"},
        {"parts": [{"reps": 5, "reps_left": 1}, {"reps": 5}], "form": "good", "seconds": 44.0},
    ],
)
def test_every_kind_of_set_comes_back_the_same(said: dict[str, Any]) -> None:
    row = next(row for row in LOG if row.written == "done")
    first = row.done[0]
    done = SetDone.model_validate(
        {
            **{name: getattr(first, name) for name in ("id", "happened_at", "person", "part", "number")},
            "exercise": row.exercise,
            **said,
        }
    )
    (back,) = read_sets(write_sets([replace(row, done=(done,))], NAMES).encode(), LOG, NAMES)
    assert not back.faults
    again = SetDone.model_validate({"id": done.id, "happened_at": done.happened_at, **back.fields})
    assert again == done
    assert set_words(row, again) == set_words(row, done)


@pytest.mark.parametrize(
    ("head", "cells", "field", "words"),
    [
        ("reps,load_kg", "10+8,60+45+30", "reps", "as many parts in each column"),
        ("reps", "+".join(["3"] * 21), "reps", "at most 20 parts"),
        ("reps,helped", "4,5 reps", "helped", "no more than repetitions"),
        ("set_up", "on the moon", "set_up", "feet high"),
        ("set_up", "heels 40 cm", "set_up", "heels 2.5 cm"),
        ("range_of_motion", "half", "range_of_motion", "full or partial"),
        ("rest_s", "-5", "rest_s", "0 to 7200 s"),
    ],
)
def test_parts_that_cannot_be_say_so(head: str, cells: str, field: str, words: str) -> None:
    row = one_row(head, cells)
    assert not row.fields
    assert (row.faults[0].place, row.faults[0].field) == ("line 2", field)
    assert words in f"{row.faults[0].message} {row.faults[0].right}"


def test_what_a_row_does() -> None:
    written = {(row.person, row.part, row.number): row.written for row in LOG}
    done = next(row for row in LOG if row.written == "done")
    other = next(row for row in LOG if row.written == "as planned" and row.planned_kg)
    head = "person,exercise,part,set,load_kg,written"
    rows = read(
        head,
        f"{done.person},{done.exercise},{done.part},{done.number},40,",
        f"{other.person},{other.exercise},{other.part},{other.number},40,",
        f"{other.person},{other.exercise},{other.part},{other.number},,as planned",
        f"{other.person},{other.exercise},{other.part},{other.number},,not written",
        f"{other.person},{other.exercise},{other.part},{other.number},x,",
    )
    assert [outcome_of(row, written) for row in rows] == ["changes", "new", "as planned", "empty", "faulty"]


@given(st.lists(st.lists(st.text(max_size=12), max_size=16), max_size=6))
def test_whatever_stands_in_a_table_it_is_read_or_refused(cells: list[list[str]]) -> None:
    import csv
    import io

    out = io.StringIO()
    csv.writer(out).writerows([COLUMNS, *cells])
    try:
        rows = read_sets(out.getvalue().encode("utf-8", "surrogatepass"), LOG, NAMES)
    except FaultyInput:
        return
    assert all(row.faults or row.empty or row.as_planned or row.fields for row in rows)


def test_a_minus_takes_a_value_away_and_an_empty_cell_says_nothing() -> None:
    row = one_row("load_kg,reps,reps_left,form", "-,9,-,-")
    assert (row.faults, row.empty) == ([], False)
    assert row.fields["reps"] == 9
    assert not {"load_kg", "reps_left", "form"} & set(row.fields)
    only = one_row("load_kg,reps", "-,-")
    assert (only.empty, only.faults) == (False, [])
    assert one_row("load_kg,reps", ",").empty
