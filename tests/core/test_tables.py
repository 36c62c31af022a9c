"""Tables: what goes out is safe and says what the dictionary says; what comes back is told row by row."""

from __future__ import annotations

import csv
import io
from datetime import UTC, date, datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from oaken.basis.faults import FaultyInput
from oaken.basis.text_files import unguarded
from oaken.domain.people.roster import read_roster, write_roster
from oaken.exports.tables import read_lifts, read_settings, table_lines, tables
from oaken.forecast import forecast
from oaken.forecast.report import HEART_FIGURES, Figures, figures_of_people
from oaken.schedule.class_file.reading import load_class
from places import EXAMPLES, ROOT

PEOPLE = {"ines": "Ines Karrow", "tobin": "Tobin Askrigg", "una": "Una", "una-2": "Una"}
EXERCISES = {"leg-press": "Leg press", "hack-squat": "Hack squat"}
UNITS = {("mill", "press-1"): ["seat", "back"], ("mill", "mat"): []}


def read_back(content: bytes) -> list[list[str]]:
    """The table by Python's own reader."""
    return list(csv.reader(io.StringIO(content.decode("utf-8-sig"), newline="")))


def test_what_goes_out_is_what_the_dictionary_says() -> None:
    row = ["ines", "Ines Karrow", "leg-press", "Leg press", 122.5, "a set of 8", None, "60/65"]
    head, only = read_back(b"".join(table_lines("loads", [row])))
    assert head == [column.name for column in tables()["loads"].columns]
    assert only == ["ines", "Ines Karrow", "leg-press", "Leg press", "122.5", "a set of 8", "", "60/65"]
    moment = datetime(2026, 11, 24, 18, 30, tzinfo=UTC)
    told = read_back(
        b"".join(table_lines("attendance", [[date(2026, 11, 24), moment, None, 3, "x", "mill", "a", "A"]]))
    )
    assert told[1][:4] == ["2026-11-24", "2026-11-24T18:30:00Z", "", "3"]
    with pytest.raises(ValueError, match="best_kg: 'much' is no number"):
        list(table_lines("loads", [["a", "A", "x", "X", "much", "", None, ""]]))
    with pytest.raises(ValueError, match="argument 2"):
        list(table_lines("loads", [["a"]]))


def test_every_figure_is_declared_once_with_the_unit_that_the_forecast_gives_it() -> None:
    declared = {figure.id: figure for figure in figures_of_people()}
    assert set(declared) == set(Figures.model_fields)
    for name in EXAMPLES:
        for person in forecast(load_class(ROOT / "examples" / f"{name}.json")).people:
            found = {figure: getattr(person.figures, figure) for figure in declared}
            assert {figure: estimate.unit for figure, estimate in found.items() if estimate} == {
                figure: declared[figure].unit for figure, estimate in found.items() if estimate
            }
            assert {figure for figure, estimate in found.items() if estimate is None} <= {
                *HEART_FIGURES,
                "load_per_minute",
                "volume_load",
                "energy_by_table",
            }


@given(st.lists(st.text(max_size=12), min_size=1, max_size=4), st.none() | st.floats(-1e5, 1e5, allow_nan=False))
def test_no_cell_is_a_formula_and_none_is_changed(words: list[str], number: float | None) -> None:
    words = [word.replace("\x00", "") for word in words]
    rows = [["p", word, "e", word, number, word, None, ""] for word in words]
    told = read_back(b"".join(table_lines("loads", rows)))[1:]
    for row, word in zip(told, words, strict=True):
        assert unguarded(row[1]) == word
        assert not row[1][:1] or (row[1][0] not in "=+@\t" and (row[1] == "-" or row[1][0] != "-"))
        assert (row[4] == "") is (number is None)
        assert not row[4] or (number is not None and float(row[4]) == pytest.approx(number, abs=0.5))


# ---- loads that come back -----------------------------------------------------------------------------------------


@pytest.mark.parametrize("sign", [",", ";", "\t"])
def test_loads_are_read_with_every_sign_and_unit(sign: str) -> None:
    number = "72.5" if sign == "," else "72,5"
    text = f"person{sign}exercise{sign}best_kg{sign}working_kg\nInes Karrow{sign}leg press{sign}{number}{sign}-\n"
    (row,) = read_lifts(text.encode(), PEOPLE, EXERCISES)
    assert row.says is not None
    assert (row.says.person, row.says.exercise, row.says.best_kg) == ("ines", "leg-press", 72.5)
    assert row.says.cleared == {"working"}
    (pounds,) = read_lifts(b"person_id,exercise_id,best_lb\ntobin,hack-squat,100\n", PEOPLE, EXERCISES)
    assert pounds.says is not None
    assert pounds.says.best_kg == pytest.approx(45.359, abs=0.001)
    (nothing,) = read_lifts(b"person_id,exercise_id,best_kg\ntobin,hack-squat,\n", PEOPLE, EXERCISES)
    assert (nothing.says, nothing.faults) == (None, [])


@pytest.mark.parametrize(
    ("cells", "field", "said", "right"),
    [
        (("Inez Karrow", "leg-press", "80"), "person", "not known", "perhaps Ines Karrow"),
        (("Una", "leg-press", "80"), "person", "the name of 2", "una, una-2"),
        (("ines", "legpress", "80"), "exercise", "not known", "perhaps Leg press"),
        (("ines", "leg-press", "much"), "best_kg", "no number", "72,5"),
        (("ines", "leg-press", "-5"), "best_kg", "no load", "above 0"),
        (("ines", "leg-press", "nan"), "best_kg", "no number of this trade", "72,5"),
        (("ines", "leg-press", "=1+1"), "best_kg", "no number", "72.5"),
        (("ines", "leg-press", "901"), "best_kg", "no load", "at most 900 kg"),
        (("ines", "leg-press"), "row", "has 2 cells", "3"),
    ],
)
def test_a_faulty_row_of_loads_is_told_at_its_line(cells: tuple[str, ...], field: str, said: str, right: str) -> None:
    good = "tobin,hack-squat,60"
    rows = read_lifts(f"person,exercise,best_kg\n{good}\n{','.join(cells)}\n".encode(), PEOPLE, EXERCISES)
    assert rows[0].faults == []
    (fault,) = rows[1].faults
    assert (fault.place, fault.field) == ("line 3", field)
    assert said in fault.message
    assert right in fault.right


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "is empty"),
        (b"person,exercise,mood\n", "nobody knows"),
        (b"person,exercise,exercise\n", "twice"),
        (b"person,best_kg\n", "no column exercise_id or exercise"),
        (b"person,exercise,best_kg,best_lb\n", "in kg and in lb"),
        (b"x" * 2_000_001, "2.0 MB"),
        ("person,exercise\n".encode("utf-32"), "zero bytes|no UTF"),
    ],
)
def test_a_table_that_is_none_is_told_as_a_whole(content: bytes, said: str) -> None:
    with pytest.raises(FaultyInput, match=said):
        read_lifts(content, PEOPLE, EXERCISES)


def test_a_lift_stands_once_a_person() -> None:
    rows = read_lifts(b"person,exercise,best_kg\nines,leg-press,80\nInes Karrow,Leg press,90\n", PEOPLE, EXERCISES)
    assert rows[0].faults == []
    assert rows[1].faults[0].message == "stands twice for this person"


# ---- settings that come back -----------------------------------------------------------------------------------------


def test_settings_are_read_and_cleared() -> None:
    text = "person;unit;setting;value\nines;press-1;Seat;4\ntobin;press-1;back;-\ntobin;press-1;seat;\n"
    four, gone, nothing = read_settings(text.encode(), PEOPLE, UNITS)
    assert four.says is not None
    assert (four.says.room, four.says.setting, four.says.value) == ("mill", "seat", "4")
    assert gone.says is not None
    assert gone.says.value is None
    assert (nothing.says, nothing.faults) == (None, [])


@pytest.mark.parametrize(
    ("row", "field", "right"),
    [
        ("ines;loft;press-1;seat;4", "room", "one of: mill"),
        ("ines;mill;pres-1;seat;4", "unit", "perhaps press-1"),
        ("ines;mill;press-1;mood;4", "setting", "seat, back"),
        ("ines;mill;mat;seat;4", "setting", "nothing: it has no settings"),
        (f"ines;mill;press-1;seat;{'4' * 21}", "value", "at most 20"),
    ],
)
def test_a_faulty_setting_is_told_at_its_line(row: str, field: str, right: str) -> None:
    (told,) = read_settings(f"person;room;unit;setting;value\n{row}\n".encode(), PEOPLE, UNITS)
    assert told.faults[0].field == field
    assert right in told.faults[0].right


# ---- the roster: clearing ----------------------------------------------------------------------------------------------


def test_a_minus_clears_what_may_be_empty() -> None:
    head = "name,age,mass_kg,height_cm,resting_bpm,careful,group,best leg-press kg"
    (row,) = read_roster(f"{head}\nInes Karrow,34,64,-,-,-,-,-\n".encode()).rows
    assert row.faults == []
    assert row.person is not None
    assert (row.person.height_cm, row.person.resting_bpm, row.person.careful) == (None, None, ())
    assert {"height_cm", "resting_bpm", "careful"} <= set(row.given)
    assert row.cleared == ["group", "leg-press"]
    (row,) = read_roster(b"name,age,mass_kg\nInes Karrow,-,64\n").rows
    assert (row.faults[0].field, row.faults[0].message) == ("age", "age cannot be cleared")


def test_a_roster_that_was_written_says_nothing_new() -> None:
    file = load_class(ROOT / "examples" / "machine-pairs.json")
    told: Any = read_roster(write_roster([(person, "ropes") for person in file.people]).encode())
    assert all(not row.faults and not row.cleared for row in told.rows)
