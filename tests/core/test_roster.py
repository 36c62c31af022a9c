"""People in and out as CSV: both unit systems, every faulty row at its line, nothing a spreadsheet would run."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from oaken.basis.faults import FaultyInput
from oaken.domain.people import Person, Screening
from oaken.domain.people.conditions import conditions
from oaken.domain.people.roster import LARGEST_BYTES, fresh_id, read_roster, write_roster

words = st.text(st.characters(codec="utf-8", exclude_categories=["C", "Z"]) | st.just(" "), min_size=1, max_size=30).map(
    lambda text: " ".join(text.split())
).filter(bool)  # fmt: skip
people = st.builds(
    Person,
    id=st.from_regex(r"[a-z0-9-]{1,20}", fullmatch=True),
    name=words,
    age=st.integers(12, 100),
    body_mass_kg=st.integers(300, 2500).map(lambda tenths: tenths / 10),
    height_cm=st.none() | st.integers(120, 230),
    sex=st.sampled_from([None, "female", "male"]),
    level=st.sampled_from(["beginner", "standard", "advanced"]),
    resting_bpm=st.none() | st.integers(30, 70),
    max_bpm=st.none() | st.integers(111, 230),
    max_formula=st.sampled_from(["tanaka", "nes"]),
    vo2max=st.none() | st.integers(12, 90),
    heart_medication=st.booleans(),
    careful=st.lists(st.sampled_from(sorted(conditions())), unique=True).map(tuple),
    screening=st.none() | st.builds(Screening, on=st.dates(date(2000, 1, 1), date(2026, 12, 31)), some_yes=st.just(True), advised=st.booleans()),
    bests_kg=st.dictionaries(st.sampled_from(["leg-press", "hack-squat"]), st.integers(1, 900)),
)  # fmt: skip


@settings(max_examples=50)
@given(
    st.lists(st.tuples(people, words | st.just("")), max_size=5, unique_by=lambda each_tuple: each_tuple[0].id),
    st.booleans(),
)
def test_what_is_written_is_read_again(crowd: list[tuple[Person, str]], pounds: bool) -> None:
    roster = read_roster(write_roster(crowd, pounds=pounds).encode())
    assert [row.faults for row in roster.rows] == [[]] * len(crowd)
    for (person, group), row in zip(crowd, roster.rows, strict=True):
        again = row.person
        assert again is not None
        near = {"body_mass_kg", "height_cm", "bests_kg"}
        assert again.model_dump(exclude=near) == person.model_dump(exclude=near)
        assert again.body_mass_kg == pytest.approx(person.body_mass_kg, abs=0.02)
        assert again.height_cm == (None if person.height_cm is None else pytest.approx(person.height_cm, abs=0.06))
        assert again.bests_kg == pytest.approx(person.bests_kg, abs=0.01)
        assert row.group == group


def test_pounds_and_inches_are_read_as_they_are_headed() -> None:
    content = b"name,age,mass_lb,height_in,best leg-press lb,best hack-squat kg\nAda,40,165,68,220,80\n"
    (person,) = read_roster(content).people
    assert person.body_mass_kg == pytest.approx(74.84, abs=0.01)
    assert person.height_cm == pytest.approx(172.7)
    assert person.bests_kg == {"leg-press": pytest.approx(99.79, abs=0.01), "hack-squat": 80}


def test_faulty_rows_are_told_and_the_others_are_there() -> None:
    content = (
        "name;age;mass_kg;resting_bpm;max_bpm;heart_medication;careful;screening_on;screening\n"
        "Ada;40;62,5;60;180;no;knee, low back;2026-03-01;no\n"
        "Bert;400;80;;;no;;;\n"
        "Cleo;30;12;;;no;;;\n"
        "Dora;30;60;100;120;no;;;\n"
        "Emil;30;60;;;perhaps;;;\n"
        "Fay;30;60;;;no;elbow;;\n"
        "Gil;30;sixty;;;no;;;\n"
        "Hal;30.5;60;;;no;;;\n"
        "Ida;30;60;;;no;;2026-03-01;\n"
        "Jon;30;60;;;no;;;yes\n"
        "Kim;30;60;;;no;;someday;yes\n"
        "Lea;30\n"
    )
    rows = read_roster(content.encode()).rows
    assert [row.name for row in rows if row.person] == ["Ada"]
    ada = rows[0].person
    assert ada is not None
    assert (ada.body_mass_kg, ada.careful) == (62.5, ("knee", "low_back"))
    told = [(row.line, row.faults[0].field, row.faults[0].message) for row in rows[1:]]
    assert told == [
        (3, "age", "is too large"),
        (4, "body_mass_kg", "is too small"),
        (5, "document", "max_bpm has to be at least 40 bpm above resting_bpm"),
        (6, "heart_medication", "'perhaps' is neither yes nor no"),
        (7, "careful", "'elbow' is nothing to be careful about here"),
        (8, "mass_kg", "'sixty' is no number"),
        (9, "age", "'30.5' is no whole number"),
        (10, "screening_on", "a date of screening needs its outcome in the column “screening”"),
        (11, "screening", "a screening needs its date in the column “screening_on”"),
        (12, "on", told[9][2]),
        (13, "row", "has 2 cells"),
    ]
    assert all(row.faults[0].place == f"line {row.line}" for row in rows[1:])


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "is empty"),
        (b"name,age\nAda,40\n", "at least name, age, and mass_kg"),
        (b"name,age,mass_kg,mass_lb\nAda,40,60,130\n", "has both mass_kg and mass_lb"),
        (b"name,age,mass_kg,shoe\nAda,40,60,39\n", "'shoe'"),
        (b"name,age,mass_kg,age\nAda,40,60,39\n", "twice"),
        (b"name,age,mass_kg\nAd\xe9,40,60\n", "no UTF-8 text"),
        (b"name,age,mass_kg\nAda\x00,40,60\n", "zero bytes"),
        (b"x" * (LARGEST_BYTES + 1), "at most 2 MB"),
        (b"name,age,mass_kg\n" + b"A,40,60\n" * 2002, "more than 2000 people"),
        (b'name,age,mass_kg\n"' + b"A" * 140_000 + b'",40,60\n', "is no CSV"),
    ],
)
def test_a_file_that_cannot_be_read_says_why(content: bytes, says: str) -> None:
    with pytest.raises(FaultyInput) as fault:
        read_roster(content)
    assert says in str(fault.value)


@given(
    st.binary(max_size=400)
    | st.text(max_size=300).map(lambda text: b"name,age,mass_kg\n" + text.encode("utf-8", "ignore"))
)
def test_any_bytes_are_a_roster_or_a_located_fault(content: bytes) -> None:
    try:
        roster = read_roster(content)
    except FaultyInput:
        return
    assert all(row.person is not None or row.faults for row in roster.rows)


def test_an_id_stands_once_and_new_ones_are_made() -> None:
    content = b"id,name,age,mass_kg\nada,Ada,40,60\nada,Bea,41,61\n,Ada,42,62\n,\xc3\x85sa Berg,43,63\n"
    rows = read_roster(content, taken=["asa-berg"]).rows
    assert "stands twice" in rows[1].faults[0].message
    assert [row.person.id for row in rows if row.person] == ["ada", "ada-2", "sa-berg"]
    assert fresh_id("…", []) == "person"


def test_a_name_that_looks_like_a_formula_is_guarded() -> None:
    person = Person(id="x", name="=1+1", age=40, body_mass_kg=70)
    text = write_roster([(person, "+group")])
    assert "'=1+1" in text
    assert "'+group" in text
