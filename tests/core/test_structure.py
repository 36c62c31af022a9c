"""What keeps the code readable at sight: a public name means one thing, and what is declared once is spread nowhere."""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from pathlib import Path

from oaken.forecast.report import figures_of_people
from places import ROOT

AGREED = {
    "Course": "the document of weeks, and the row that keeps it",
    "DoneSet": "a set as it was done, in a plan's bouts and as the row that keeps it",
    "Person": "somebody who comes, and the row that keeps them",
    "Room": "what there is, and the row that keeps it",
    "RunEvent": "something that happened in a run, and the row that keeps it",
    "Activity": "a line of the activity table, and what somebody did for other programs",
}
"""Public classes of one name in several modules, and what they have in common; every other name is defined once."""

SOURCES = [path for part in ("core", "server") for path in sorted((ROOT / part).rglob("*.py"))]


def classes() -> dict[str, set[Path]]:
    found: dict[str, set[Path]] = defaultdict(set)
    for path in SOURCES:
        if {"migrations", "management", "__pycache__"} & set(path.parts):
            continue
        for node in ast.parse(path.read_text(encoding="utf-8")).body:
            if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
                found[node.name].add(path.relative_to(ROOT))
    return found


def test_a_public_class_has_a_name_of_its_own() -> None:
    found = classes()
    assert len(found) > 400
    several = {name: sorted(map(str, paths)) for name, paths in found.items() if len(paths) > 1}
    assert {name: paths for name, paths in several.items() if name not in AGREED} == {}
    assert set(AGREED) <= set(several)
    assert len(AGREED) <= 10


def test_a_figure_is_in_five_files_at_most() -> None:
    """The recipe for a figure in docs/architecture.md: declared, given a field, computed, and shown on two screens."""
    endings = {".py", ".json", ".ts", ".tsx"}
    paths = [path for part in ("core", "server", "web/src") for path in (ROOT / part).rglob("*")]
    texts = {
        path: path.read_text(encoding="utf-8")
        for path in paths
        if path.suffix in endings and path.name != "schema.d.ts" and "__pycache__" not in path.parts
    }
    declared = {figure.id for figure in figures_of_people()}
    for name in ("after_class", "energy_by_lifting", "warm_up_reached"):
        assert name in declared
        held = [path.relative_to(ROOT) for path, text in texts.items() if re.search(rf"\b{name}\b", text)]
        assert len(held) <= 5, held


def test_a_kind_of_block_is_named_where_the_recipe_says() -> None:
    """A kind of block is known by name in few places; everything else asks the kind."""
    page = (ROOT / "docs" / "architecture.md").read_text(encoding="utf-8")
    row = next(line for line in page.splitlines() if line.startswith("| a kind of block"))
    named = {ROOT / path for path in re.findall(r"`([\w./]+)`", row)}
    assert len(named) >= 5
    paths = [path for part in ("core", "server", "web/src") for path in (ROOT / part).rglob("*")]
    held = [
        path
        for path in paths
        if path.suffix in {".py", ".ts", ".tsx"}
        and path.name != "schema.d.ts"
        and re.search(r"[\"']relay[\"']", path.read_text(encoding="utf-8"))
    ]
    assert len(held) <= 12, held
    assert len(named & set(held)) >= 4
