"""The docs say what is so: every path and command they name exists, and the trees they draw are the real ones."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import pytest
from jsonschema import Draft202012Validator
from oaken.basis.faults import FaultyInput
from oaken.programme.course import read_course
from oaken.schedule.class_file import read_class
from oaken.session.log_file import EVENTS
from oaken.session.presses import read_presses

ROOT = Path(__file__).resolve().parents[2]
PAGES = sorted([ROOT / "README.md", *(ROOT / "docs").glob("*.md")])
FOLDERS = ("core", "server", "web", "tests", "tools", "docs", "examples", "requirements")
NOT_OURS = {"__pycache__", "__init__.py", "node_modules", "dist", "var", ".venv", "build"}
FIRST_PAGES = {"README.md": 90, "docs/architecture.md": 150, "docs/glossary.md": 90}
"""How many lines each may have."""

DRAWN = {
    "": {"Makefile", "pyproject.toml", "README.md"},
    "core/oaken": {"__main__.py"},
    "server": {"manage.py"},
    "web/src": {"main.tsx"},
}
"""The trees of the architecture page, and the files in them that have to be drawn beside every folder."""


def tree(root: str) -> set[str]:
    """What the architecture page draws of a folder: the names at the beginning of the lines of its block."""
    page = (ROOT / "docs" / "architecture.md").read_text(encoding="utf-8")
    for block in re.findall(r"```\n(.*?)```", page, re.S):
        lines = block.splitlines()
        if lines[0].rstrip("/") == root or (not root and lines[0].startswith("Makefile")):
            indent = "" if not root else "  "
            found = (re.match(rf"{indent}([\w.]+/?)  ", line) for line in lines)
            return {match[1] for match in found if match}
    raise AssertionError(f"no tree of {root or 'the checkout'} in docs/architecture.md")


@pytest.mark.parametrize("root", DRAWN)
def test_the_trees_of_the_architecture_page_are_the_real_ones(root: str) -> None:
    here = ROOT / root
    folders = {
        f"{item.name}/"
        for item in here.iterdir()
        if item.is_dir() and item.name not in NOT_OURS and item.name[0] not in "._"
    }
    files = {item.name for item in here.iterdir() if item.is_file()} & DRAWN[root] - {"README.md"}
    assert tree(root) == folders | files


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_every_path_that_a_page_names_exists(page: Path) -> None:
    text = page.read_text(encoding="utf-8")
    named = set(re.findall(rf"`((?:{'|'.join(FOLDERS)})/[\w./-]*)`", text))
    linked = set(re.findall(r"\]\((?!http)([\w./-]+)(?:#[\w-]*)?\)", text))
    missing = [path for path in named if not (ROOT / path).exists()]
    missing += [path for path in linked if not (page.parent / path).exists()]
    assert missing == []


def test_the_pages_together_name_many_paths() -> None:
    """So that the test above cannot pass by finding nothing."""
    everything = "".join(page.read_text(encoding="utf-8") for page in PAGES)
    assert len(set(re.findall(rf"`(?:{'|'.join(FOLDERS)})/[\w./-]*`", everything))) > 40


def test_every_make_target_that_a_page_names_exists() -> None:
    targets = set(re.findall(r"^([a-z-]+):", (ROOT / "Makefile").read_text(encoding="utf-8"), re.M))
    # `make` is a verb as well: only what is a command counts
    named = {
        word
        for page in PAGES
        for inline, block in re.findall(r"`([^`\n]+)`|```\n(.*?)```", page.read_text(encoding="utf-8"), re.S)
        for word in re.findall(r"(?:^|· )make ([a-z-]+)", f"{inline}{block}", re.M)
    }
    assert len(named) >= 5
    assert named <= targets


def test_every_command_of_the_server_and_the_core_that_a_page_names_exists() -> None:
    text = "".join(page.read_text(encoding="utf-8") for page in PAGES)
    commands = {item.stem for item in (ROOT / "server").glob("*/management/commands/[a-z]*.py")} | {"migrate"}
    named = set(re.findall(r"manage\.py ([a-z_]+)", text))
    assert named
    assert named <= commands
    core = (ROOT / "core" / "oaken" / "__main__.py").read_text(encoding="utf-8")
    for command in set(re.findall(r"python -m oaken ([a-z_]+)", text)):
        assert f'"{command}"' in core


def test_the_glossary_gives_each_term_once() -> None:
    text = (ROOT / "docs" / "glossary.md").read_text(encoding="utf-8")
    rows = [re.sub(r"^\| ([^|]+?) \|.*$", r"\1", line) for line in text.splitlines() if line.startswith("| ")]
    terms = [row for row in rows if row != "term"]
    assert len(terms) > 40
    assert len(set(terms)) == len(terms)


def test_the_sources_of_the_glossary_are_those_of_the_methods() -> None:
    methods = (ROOT / "docs" / "methods.md").read_text(encoding="utf-8")
    text = (ROOT / "docs" / "glossary.md").read_text(encoding="utf-8")
    named = set(re.findall(r"\b([A-Z][a-z]+|ACSM)(?: et al\.)? \d{4}|\b(ACSM)\b", text))
    authors = {name for pair in named for name in pair if name}
    assert len(authors) > 5
    assert [name for name in sorted(authors) if name not in methods] == []


def test_the_pages_that_are_read_first_are_short() -> None:
    lines = {name: len((ROOT / name).read_text(encoding="utf-8").splitlines()) for name in FIRST_PAGES}
    assert {name: count for name, count in lines.items() if count > FIRST_PAGES[name]} == {}


# ---- the examples of the formats -----------------------------------------------------------------------------------

FORMATS_PAGE = (ROOT / "docs" / "formats.md").read_text(encoding="utf-8")
JSON_BLOCKS = re.findall(r"```json\n(.*?)```", FORMATS_PAGE, re.DOTALL)


def schema(name: str) -> Draft202012Validator:
    told = json.loads((ROOT / "docs" / f"{name}.schema.json").read_text(encoding="utf-8"))
    Draft202012Validator.check_schema(told)
    return Draft202012Validator(told)


def test_every_example_of_the_formats_page_is_what_its_schema_and_its_reader_take() -> None:
    kinds = []
    for block in JSON_BLOCKS:
        if block.startswith('{"class"'):
            head, *lines = block.strip().split("\n")
            assert set(json.loads(head)) == {"class"}
            for line in lines:
                schema("run").validate(json.loads(line))
                EVENTS.validate_json(line)
            kinds.append("run")
            continue
        document = json.loads(block)
        kind = document["format"].split("/")[0].removeprefix("oaken-")
        schema(kind).validate(document)
        {"class": read_class, "course": read_course, "presses": read_presses}[kind](document)
        kinds.append(kind)
    assert kinds == ["class", "run", "presses", "course"]


@pytest.mark.parametrize("path", sorted((ROOT / "examples").glob("*.json")), ids=lambda path: path.stem)
def test_every_shipped_file_is_valid_by_a_published_schema(path: Path) -> None:
    document = json.loads(path.read_text(encoding="utf-8"))
    if isinstance(document, list):
        schema("people").validate(document)
    elif "plan" in document:
        schema("class").validate(document)
    else:
        schema("room").validate(document)


def test_the_people_and_the_forecast_of_the_command_line_have_schemas(capsys: pytest.CaptureFixture[str]) -> None:
    from oaken.__main__ import main

    assert main(["forecast", str(ROOT / "examples" / "long-carry.json")]) == 0
    schema("forecast").validate(json.loads(capsys.readouterr().out))


@pytest.mark.parametrize(
    ("document", "message", "right"),
    [
        (
            {"format": "oaken-class/3", "plan": {}},
            "a newer version (oaken-class/3)",
            "bring this installation up to date",
        ),
        ({"format": "oaken-course/9"}, "a newer version (oaken-course/9)", "bring this installation up to date"),
        ({"format": "oaken-class/0", "plan": {}}, "no format that can be read", "oaken-class/1 or oaken-class/2"),
        ({"format": "other/2", "plan": {}}, "no format that can be read", "oaken-class/1 or oaken-class/2"),
    ],
)
def test_a_file_of_a_newer_version_says_what_to_do(document: Any, message: str, right: str) -> None:
    read = read_course if "course" in document["format"] else read_class
    with pytest.raises(FaultyInput) as refused:
        read(document)
    assert message in refused.value.faults[0].message
    assert right in refused.value.faults[0].right
