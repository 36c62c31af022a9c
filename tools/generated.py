"""Writes what is generated from the code: JSON Schema, OpenAPI schema, and pages of the docs.

With --check it writes nothing and fails when one of them is stale. Schemas are for programs: they stand compact, on one
line. The typed client of the interface is made from the OpenAPI schema by the build and is not kept.
"""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent


def _run(*command: str) -> str:
    return subprocess.run(command, cwd=ROOT, check=True, capture_output=True, text=True).stdout


def _remark(method: Any) -> str:
    """Where the numbers of a source come from, in brackets."""
    return f" ({method.remark})" if method.remark else ""


def _compact(schema: Any) -> str:
    return json.dumps(schema, ensure_ascii=False, separators=(",", ":")) + "\n"


def generate() -> dict[Path, str]:
    """Every generated file's path in the checkout and what should stand in it."""
    openapi = _run(sys.executable, "server/manage.py", "export_schema")
    sys.path[:0] = [str(ROOT / "core"), str(ROOT / "tests")]
    from golden.floors import floor_cases
    from golden.making import cases
    from golden.running import run_cases
    from oaken.basis.estimate import methods
    from oaken.domain.catalogue import catalogue
    from oaken.exports.studio_file import json_schema as studio_schema
    from oaken.programme.course import json_schema as course_schema
    from oaken.schedule.class_file import json_schema
    from oaken.session import json_schema as run_schema

    rows = [
        f"| `{method.id}` | {method.name} | {method.formula} "
        f"| {method.source}{_remark(method)} | {method.range} |".replace("\n", " ")
        for method in methods().values()
    ]
    table = "\n".join(["| id | figure | formula | source | range |", "|---|---|---|---|---|", *rows])
    choices = ["| question | default | why | other schools | what it changes |", "|---|---|---|---|---|"]
    for question in catalogue().questions.values():
        chosen = next(school for school in question.schools if school.id == question.default)
        others = "; ".join(school.name for school in question.schools if school is not chosen)
        choices.append(f"| {question.name} | {chosen.name} | {question.why_default} | {others} | {question.effect} |")
    bodies = _three_bodies()
    return {
        ROOT / "docs" / "class.schema.json": _compact(json_schema()),
        ROOT / "docs" / "methods.md": _with_tables(
            (ROOT / "docs" / "methods.md").read_text(encoding="utf-8"), bodies, "\n".join(choices), table
        ),
        ROOT / "docs" / "course.schema.json": _compact(course_schema()),
        ROOT / "docs" / "run.schema.json": _compact(run_schema()),
        **{ROOT / "docs" / f"{name}.schema.json": told for name, told in _more_schemas().items()},
        ROOT / "docs" / "formats.md": _with_dictionary((ROOT / "docs" / "formats.md").read_text(encoding="utf-8")),
        ROOT / "docs" / "studio.schema.json": _compact(studio_schema()),
        ROOT / "docs" / "limits.md": _limits(),
        ROOT / "tests" / "golden" / "edits.json": json.dumps(cases(), indent=1, ensure_ascii=False) + "\n",
        ROOT / "tests" / "golden" / "floors.json": json.dumps(floor_cases(), ensure_ascii=False) + "\n",
        ROOT / "tests" / "golden" / "runs.json": json.dumps(run_cases(), ensure_ascii=False) + "\n",
        ROOT / "docs" / "openapi.json": openapi,
    }


def _more_schemas() -> dict[str, str]:
    """The schemas of what stands in files of its own: people, a room, presses of a device, a forecast."""
    from oaken.domain.people import Person
    from oaken.domain.room import Room
    from oaken.forecast.report import Forecast
    from oaken.session.presses import Presses
    from pydantic import TypeAdapter

    told = {
        "people": ("Oaken Circuit list of people", TypeAdapter(list[Person]).json_schema()),
        "room": ("Oaken Circuit room", Room.model_json_schema()),
        "presses": ("Oaken Circuit presses of a device", Presses.model_json_schema()),
        "forecast": ("Oaken Circuit forecast", Forecast.model_json_schema(mode="serialization")),
    }
    draft = "https://json-schema.org/draft/2020-12/schema"
    return {name: _compact({"$schema": draft, **schema, "title": title}) for name, (title, schema) in told.items()}


def _with_dictionary(page: str) -> str:
    """The page of formats with the columns of all tables at its end."""
    from oaken.exports.tables import tables

    heading = "## Every column of every table\n"
    parts = [page[: page.index(heading)] if heading in page else f"{page}\n", heading, DICTIONARY]
    for table in tables().values():
        rows = [
            f"| `{each.name}` | {each.kind.replace('_', ' or ')} | {each.unit} | {each.meaning} |"
            for each in table.columns
        ]
        head = ["| column | holds | unit | means |", "|---|---|---|---|"]
        parts.append(f"\n### {table.id}\n\nA row is {table.row}.\n\n" + "\n".join([*head, *rows]) + "\n")
    return "".join(parts)


DICTIONARY = """
Generated from `core/oaken/exports/tables/columns.json`. Text is UTF-8 with a byte order mark, parted by commas, with
decimal points and dates like 2026-11-27; moments are UTC. An empty cell says that nothing is known.
"""


def _limits() -> str:
    """Every bound as a page."""
    from oaken.basis.limits import limits

    rows = [
        f"| `{limit.id}` | {limit.most:,} {limit.unit} | {limit.of} | {limit.example} |" for limit in limits().values()
    ]
    head = ("| id | at most | of what | the usual, or why |", "|---|---|---|---|")
    return f"{LIMITS_ABOVE}\n" + "\n".join([*head, *rows]) + f"\n\n{LIMITS_BELOW}"


LIMITS_ABOVE = """\
# How large things may be

Generated from `core/oaken/basis/limits.json`. Every bound is checked before work is done, and whoever meets it is told
which it is and what would be right. Within them a request stays within 2 s of a processor and 150 MB above idle
(`tests/attack/test_largest.py`; `make bench` prints the figures); what takes longer, a search for a rotation, runs as a
job. Lengths of names and ranges of numbers stand in `docs/class.schema.json` and `docs/openapi.json`.
"""
LIMITS_BELOW = """\
Long computations (fit, replay, what if, rotation, calibration) take turns. Who waits longer than a turn comes gets 503
with the seconds after which another try is worth it; so does a write while the database is locked. A body is refused
with 413 while it arrives. JSON is read strictly: no NaN, no number beyond a double, no half characters.
"""


BODIES = ("ines", "tobin", "petra")
"""A young trained woman, a man of middle age, an older woman: of the demo's team."""


def _three_bodies() -> str:
    """Every formula and method for three bodies in one class, as one table."""
    from oaken.forecast import forecast
    from oaken.forecast.report.registry import figures_of_people
    from oaken.physiology.body import FORMULA_NAMES, MAXIMUM_FORMULAS
    from oaken.schedule.class_file.reading import load_class

    file = load_class(ROOT / "examples" / "scree-and-stairs.json")
    # heart medication is left out here: the table compares formulas
    everybody = [person.model_copy(update={"heart_medication": False}) for person in file.people]
    people = [next(person for person in everybody if person.id == name) for name in BODIES]
    told = {person.id: person for person in forecast(file.model_copy(update={"people": everybody})).people}
    sexes = {"female": "woman", "male": "man", None: "person"}
    heads = [f"{sexes[person.sex]}, {person.age} y, {person.body_mass_kg:g} kg" for person in people]
    rows = [
        (f"maximum by {FORMULA_NAMES[name]}", "bpm", [f"{formula(person.age):.0f}" for person in people])
        for name, formula in MAXIMUM_FORMULAS.items()
    ]
    measured = [f"{person.max_bpm}" if person.max_bpm else "–" for person in people]
    rows.append(("maximum, measured", "bpm", measured))
    uptakes = [told[person.id].vo2max for person in people]
    rows.append(("VO₂max", "mL/kg/min", [f"{uptake.value:.0f}" if uptake else "–" for uptake in uptakes]))
    for figure in (each for each in figures_of_people() if each.about_bodies):
        estimates = [getattr(told[person.id].figures, figure.id) for person in people]
        unit = next((estimate.unit for estimate in estimates if estimate), "")
        cells = [
            f"{estimate.value:.0f} ({estimate.low:.0f}–{estimate.high:.0f})" if estimate else "–"
            for estimate in estimates
        ]
        rows.append((figure.label, unit, cells))
    lines = [f"| figure | unit | {' | '.join(heads)} |", "|---|---|---|---|---|"]
    return "\n".join([*lines, *(f"| {words} | {unit} | {' | '.join(cells)} |" for words, unit, cells in rows)])


def _with_tables(page: str, bodies: str, choices: str, methods: str) -> str:
    """The page with the tables of its last three sections, which are generated from the core and its data files."""
    heading, first = "## Choices where practitioners disagree\n", "## One class, three bodies\n"
    page = page[: page.index(first)] if first in page else page[: page.index(heading)]
    return (
        f"{page}{first}\nGenerated: the demo's “Scree and stairs” by every formula and method, with its likely range. "
        f"Methods differ by this much; defaults and their reasons stand above.\n\n{bodies}\n\n"
        f"{heading}\nGenerated from `core/oaken/domain/catalogue/data/choices.json`; schools and "
        f"reasons are common practice, no source.\n\n{choices}\n\n"
        f"## Every method\n\nGenerated from `core/oaken/basis/methods.json`.\n\n{methods}\n"
    )


def main() -> int:
    """Write or check the generated files."""
    wanted = generate()
    stale = [path for path, text in wanted.items() if not path.exists() or path.read_text(encoding="utf-8") != text]
    if "--check" in sys.argv:
        for path in stale:
            print(f"{path.relative_to(ROOT)} is stale: run `make schema`", file=sys.stderr)
        return 1 if stale else 0
    for path in stale:
        path.write_text(wanted[path], encoding="utf-8")
        print(f"wrote {path.relative_to(ROOT)}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
