"""What is printed: everybody and everything is on it, it fits its pages, and what hangs on a wall tells nobody's health."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from making import LIFTS, circuit, class_file, classes, group, person, room, sets
from oaken.__main__ import main
from oaken.domain.catalogue import catalogue
from oaken.exports.paper import (
    PAPERS,
    Format,
    Paper,
    PaperTable,
    Printed,
    log_sheet,
    person_cards,
    poster,
    pre_class_sheet,
    programme,
    run_sheet,
    set_up_cards,
    station_cards,
)
from oaken.exports.paper.pdf import draw
from oaken.programme.course import template
from oaken.schedule.class_file import ClassFile
from oaken.schedule.class_file.reading import load_class
from places import ROOT
from pypdf import PdfReader

EXAMPLES = [ROOT / "examples" / f"{name}.json" for name in ("long-carry", "machine-pairs", "scree-and-stairs")]
TODAY = date(2026, 11, 27)
SIZES = {"a4": (595, 842), "letter": (612, 792)}


def read(paper: Paper, page: Format = "a4") -> PdfReader:
    (content,) = draw(paper, page)
    return PdfReader(io.BytesIO(content))


def words_of(reader: PdfReader) -> str:
    return " ".join(" ".join(page.extract_text() for page in reader.pages).replace("\u200b", "").split())


def outside(reader: PdfReader) -> list[str]:
    """Text that begins outside its page."""
    found = []
    for page in reader.pages:
        width, height = float(page.mediabox.width), float(page.mediabox.height)

        def seen(
            text: str, cm: list[float], tm: list[float], *_: Any, to: tuple[float, float] = (width, height)
        ) -> None:
            across = tm[4] * cm[0] + tm[5] * cm[2] + cm[4]
            up = tm[4] * cm[1] + tm[5] * cm[3] + cm[5]
            if text.strip() and not (0 < across < to[0] and 0 < up < to[1]):
                found.append(text)

        page.extract_text(visitor_text=seen)
    return found


@pytest.mark.parametrize("page", ["a4", "letter"])
@pytest.mark.parametrize("kind", list(PAPERS))
@pytest.mark.parametrize("path", EXAMPLES, ids=lambda path: path.stem)
def test_every_paper_is_drawn_inside_its_pages_with_everything_on_it(path: Path, kind: Any, page: Format) -> None:
    printed = Printed(load_class(path))
    paper = PAPERS[kind][1](printed, TODAY)
    reader = read(paper, page)
    sides = {round(float(side)) for side in (reader.pages[0].mediabox.width, reader.pages[0].mediabox.height)}
    assert sides == set(SIZES[page])
    assert outside(reader) == []
    told = words_of(reader)
    for card in paper.cards:
        assert card.title in told
    assert f"1 of {len(reader.pages)}" in told
    fonts: Any = reader.pages[0]["/Resources"]["/Font"].get_object()  # type: ignore[index]
    assert {"OakenSans" in str(font.get_object()["/BaseFont"]) for font in fonts.values()} == {True}


def test_the_run_sheet_has_every_block_at_its_time_on_one_page() -> None:
    printed = Printed(load_class(EXAMPLES[0]))
    reader = read(run_sheet(replace(printed, opens="http://127.0.0.1:8000/runs/7")))
    assert len(reader.pages) == 1
    told = words_of(reader)
    for block in printed.plan.blocks:
        assert block.name in told
    assert "41:10 56:29 Calves and hamstrings" in told


def test_times_of_day_are_told_where_the_class_has_them() -> None:
    file = load_class(EXAMPLES[0])
    dated = file.model_copy(update={"plan": file.plan.model_copy(update={"starts": "2026-11-27 18:30"})})
    table = run_sheet(Printed(dated)).cards[0].parts[0]
    assert isinstance(table, PaperTable)
    assert table.rows[0][:2] == ["18:30:00", "18:34:38"]
    assert "Friday 27 November 2026, 18:30" in run_sheet(Printed(dated)).under


def test_everybody_has_a_card_with_their_own_loads_and_a_box_row_for_every_set() -> None:
    printed = Printed(load_class(EXAMPLES[1]))
    paper = person_cards(printed)
    assert [card.title for card in paper.cards] == [person.name for person in printed.people]
    assert [card.badge for card in paper.cards] == [str(number) for number in range(1, 13)]
    for number, card in enumerate(paper.cards, 1):
        table = next(part for part in card.parts if isinstance(part, PaperTable))
        boxed = [row for row in table.rows if None in row]
        sets_of = sum(
            step.opens_set for step in printed.timeline.paths[number - 1] if _in_the_main_part(printed, step.slot)
        )
        assert len(boxed) == sets_of == 24
        loads = [row for row in table.rows if row[3] and not str(row[3]).startswith("set ")]
        own = [row for (who, _), row in printed.loads.items() if who == number]
        assert len(loads) == len(own)
    reader = read(paper)
    assert len(reader.pages) == 12  # one each


def _in_the_main_part(printed: Printed, slot: int) -> bool:
    return slot >= 0 and printed.plan.main_part()[printed.slot(slot).block]


def test_what_hangs_on_a_wall_has_first_names_and_nothing_about_health() -> None:
    """Everybody in this class has something to be careful about; whoever reads the wall learns nothing of it."""
    people = [
        person(1, name="Ada Elmbrook", careful=["knee"], resting_bpm=77, bests_kg={"leg-press": 100}),
        person(2, name="Bo Firth", heart_medication=True, bests_kg={"leg-press": 80}),
    ]
    press = sets(group(2, 60, {"exercise": "leg-press", "reps": 10, "load": {"share_of_best": 0.5}}))
    printed = Printed(class_file(press, people=people))
    for make in (poster, station_cards):
        paper = make(printed)
        assert paper.wall
        told = words_of(read(paper))
        assert "1 Ada" in told
        assert "2 Bo" in told
        for secret in ("Elmbrook", "Firth", "careful", "77", "medic", "heart", "resting"):
            assert secret not in told
    assert "50 kg" in words_of(read(station_cards(printed)))
    assert not any(word in words_of(read(person_cards(printed))) for word in ("careful", "medication", "77"))


def tables(paper: Paper) -> list[tuple[str, PaperTable]]:
    return [(card.title, part) for card in paper.cards for part in card.parts if isinstance(part, PaperTable)]


def test_the_log_sheet_has_everybody_at_every_exercise_with_a_box_for_every_set() -> None:
    printed = Printed(load_class(EXAMPLES[1]))
    found = tables(log_sheet(printed))
    assert len(found) == 8  # four pairs
    for _, table in found:
        assert [row[0] for row in table.rows] == [printed.first_name(number) for number in range(1, 13)]
        assert all(row[2:] == [None] * 3 for row in table.rows)
    reader = read(log_sheet(printed))
    heads = [page.extract_text().count("who") for page in reader.pages]
    assert heads == [1] * 8  # no exercise is divided between two pages


def test_a_machines_card_has_its_queue_in_the_order_of_time() -> None:
    printed = Printed(load_class(EXAMPLES[1]))
    paper = set_up_cards(printed)
    sets = 0
    for _, table in tables(paper):
        times = [60 * int(str(row[0]).split(":")[0]) + int(str(row[0]).split(":")[1]) for row in table.rows]
        assert times == sorted(times)
        sets += len(times)
    on_units = [step for path in printed.timeline.paths for step in path if step.unit >= 0 and step.opens_set]
    assert sets == len(on_units)


def test_the_list_before_the_start_is_not_for_the_wall_and_has_all_of_it() -> None:
    printed = Printed(load_class(EXAMPLES[1]))
    paper = pre_class_sheet(printed, TODAY)
    assert not paper.wall
    assert "not for the wall" in paper.under
    told = words_of(read(paper))
    assert "Petra Oldershaw-Lund: heart medication" in told
    assert "chest discomfort" in told
    assert "not medical advice" in told


def test_letters_of_other_tongues_are_printed_and_unknown_ones_are_told() -> None:
    people = [person(1, name="Žofie Šťastná-Größe Ωλένα"), person(2, name="\u5f20\u4f1f"), person(3, name="A" * 60)]
    paper = person_cards(Printed(class_file(sets(group(1, 0, {"exercise": "leg-press", "reps": 5})), people=people)))
    reader = read(paper)
    told = words_of(reader)
    assert "Žofie Šťastná-Größe Ωλένα" in told
    assert "??" in told
    assert "A" * 60 in told.replace(" ", "")
    assert outside(reader) == []


@settings(max_examples=10, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(classes)
def test_any_class_can_be_printed(file: ClassFile) -> None:
    printed = Printed(file)
    for kind, (_, make) in PAPERS.items():
        paper = make(printed, TODAY)
        assert paper.kind == kind
        reader = read(paper, "letter")
        assert outside(reader) == []
        assert len(reader.pages) >= (len(paper.cards) if paper.whole else 1)


def test_the_same_class_gives_the_same_bytes() -> None:
    paper = station_cards(Printed(load_class(EXAMPLES[0])))
    assert draw(paper) == draw(paper)


def test_the_command_line_writes_them_to_a_folder(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["sheets", str(EXAMPLES[0]), "--out", str(tmp_path / "new" / "folder"), "--paper", "letter"]) == 0
    assert capsys.readouterr().out.count("wrote ") == len(PAPERS)
    assert {path.stem for path in (tmp_path / "new" / "folder").iterdir()} == set(PAPERS)
    assert main(["sheets", str(EXAMPLES[0]), "--out", str(tmp_path / "one"), "--only", "poster"]) == 0
    assert [path.name for path in (tmp_path / "one").iterdir()] == ["poster.pdf"]
    blocked = tmp_path / "file"
    blocked.write_text("")
    assert main(["sheets", str(EXAMPLES[0]), "--out", str(blocked)]) == 2
    assert "cannot be written" in capsys.readouterr().err


# ---- courses, last time, crowds ------------------------------------------------------------------------------------


def test_a_programme_has_every_week_and_goes_on_under_its_head() -> None:
    file = load_class(EXAMPLES[1])
    made = template(
        "waves", file.room, file.participants, catalogue(), name="Autumn", starts=date(2026, 9, 7), time="18:30"
    )
    course = made.course.model_copy(update={"weeks": 26, "dropped": [2]})
    paper = programme(course, catalogue())
    reader = read(paper)
    assert len(reader.pages) >= 2
    assert not outside(reader)
    for number in range(1, 27):
        assert str(number) in words_of(reader).split()
    assert all("what changes" in page.extract_text() for page in reader.pages)
    assert paper.wall


def test_last_time_stands_beside_what_is_planned() -> None:
    file = load_class(EXAMPLES[1])
    who = file.plan.people[0]
    printed = Printed(
        file, last={(who, "leg-press"): "60 kg × 10, 10, 9 (24 Nov)"}, settings={(who, "press-1"): "seat 4"}
    )
    card = person_cards(printed).cards[0]
    told = words_of(read(person_cards(printed)))
    assert "60 kg × 10, 10, 9 (24 Nov)" in told
    assert "last time" in told
    assert any(isinstance(part, PaperTable) and part.head[4] == "last time" for part in card.parts)


LONG = "Wolfeschlegelsteinhausenbergerdorff-Featherstonehaugh of the Upper Saw Mill"


@pytest.mark.parametrize("kind", list(PAPERS))
def test_forty_people_with_long_names_at_twenty_stations_flow_onto_further_pages(kind: Any) -> None:
    crowd = [person(at, name=f"{LONG} {at}") for at in range(1, 41)]
    known = catalogue().exercises
    lifts = [*LIFTS, *(name for name in sorted(known) if known[name].equipment == "none" and known[name].is_work)][:20]
    kinds = {known[name].equipment for name in LIFTS} - {"none"}
    file = class_file(circuit(lifts, turn_s=15), people=crowd, room=room(dict.fromkeys(sorted(kinds), 20)))
    paper = PAPERS[kind][1](Printed(file), TODAY)
    reader = read(paper)
    assert not outside(reader)
    told = words_of(reader)
    if kind in ("people", "poster"):
        assert all(str(at) in told for at in range(1, 41))
    heads = [part.head for card in paper.cards for part in card.parts if isinstance(part, PaperTable)]
    if kind == "poster":
        with_rows = [page for page in reader.pages if " Wolfe" in page.extract_text()]
        assert len(with_rows) > 1
        assert all("in this order" in page.extract_text() for page in with_rows)
    assert heads or kind == "before-start"


FIVE_METRES_PT = 32
"""A capital letter of 5 minutes of arc (what a usual eye reads, ISO 8596) is 7.3 mm high at five metres: two thirds of
type of 32 points."""


def sizes(reader: PdfReader) -> list[tuple[float, str]]:
    """The size of every piece of text, in points."""
    found: list[tuple[float, str]] = []
    for page in reader.pages:

        def seen(text: str, cm: list[float], tm: list[float], font: Any, size: float) -> None:
            if text.strip():
                found.append((abs(size * tm[3] * cm[3]), text.strip()))

        page.extract_text(visitor_text=seen)
    return found


@pytest.mark.parametrize("kind", list(PAPERS))
def test_text_is_large_enough_for_where_it_is_read(kind: Any) -> None:
    printed = Printed(load_class(EXAMPLES[1]))
    found = sizes(read(PAPERS[kind][1](printed, TODAY)))
    assert min(size for size, _ in found) >= 8.99
    if kind == "poster":
        told = " ".join(text for size, text in found if size >= FIVE_METRES_PT)
        for at in range(len(printed.people)):
            assert printed.first_name(at + 1) in told
        assert "Leg press" in told
