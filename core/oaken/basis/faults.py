"""What is wrong with an input, where, and what would be right."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from oaken.basis.limits import most


class Fault(BaseModel):
    """One fault of one field.

    `path` locates the field in the document ("plan.blocks.1.stations.3.exercise"), `place` says the same in words
    ("block 2 “Stations”, station 4"), `field` is the field's name, `message` what is wrong and `right` what would be.
    """

    model_config = ConfigDict(frozen=True)

    path: str
    place: str
    field: str
    message: str
    right: str = ""

    def __str__(self) -> str:
        right = f" — {self.right}" if self.right else ""
        return f"{self.place}, {self.field}: {self.message}{right}"


def faults_in(place: str, root: str = "") -> Callable[[str, str, str], Fault]:
    """What makes the faults of one place in words: from a path (behind `root`), a message and what would be right. The
    field is the last name of the path that is no number."""

    def fault(path: str, message: str, right: str) -> Fault:
        field = next((name for name in reversed(path.split(".")) if not name.isdigit()), path)
        return Fault(path=root + path, place=place, field=field, message=message, right=right)

    return fault


def unknown_format(written: str, known: Sequence[str]) -> Fault:
    """What is wrong with a document whose format is none of those that are known (the newest last): it was made by a
    newer version, or it is something else."""
    name, _, number = known[-1].partition("/")
    other, _, later = written.partition("/")
    newer = other == name and later.isdigit() and int(later) > int(number)
    message = f"was made by a newer version ({written})" if newer else f"{written[:60]!r} is no format that can be read"
    right = "bring this installation up to date first" if newer else " or ".join(known)
    return Fault(path="format", place="the file", field="format", message=message, right=right)


class Faults(BaseModel):
    """What is wrong with a request, every fault with its place."""

    faults: list[Fault]


class FaultyInput(ValueError):
    """Raised with every fault found, so that all can be mended at once."""

    def __init__(self, faults: Sequence[Fault]) -> None:
        self.faults = truncate_faults(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))


def truncate_faults(faults: Sequence[Fault]) -> list[Fault]:
    """The first of them, with a word about how many more there are."""
    most_told = most("text.faults")
    if len(faults) <= most_told:
        return list(faults)
    more = Fault(
        path=faults[0].path.split(".")[0],
        place="the document",
        field="document",
        message=f"has {len(faults) - most_told:,} more faults",
        right="mend these first",
    )
    return [*faults[:most_told], more]


LONGEST_GIVEN = 80
"""How many characters of a faulty value are shown."""

# the word an instructor uses for one entry of a list field
_ENTRY_NAMES = {
    "blocks": "block",
    "stations": "station",
    "groups": "group",
    "slots": "slot",
    "sets": "sets",
    "segments": "segment",
    "legs": "leg",
    "people": "person",
    "units": "unit",
}
# lists that mostly hold one thing, which then needs no number
_OFTEN_ONE = {"sets", "segments"}
_BLOCK_KINDS = {"circuit", "sets", "together", "relay"}


def place_in_words(document: Any, path: Sequence[int | str]) -> str:
    """Say where `path` points in `document`: 'block 2 “Stations”, station 4'."""
    words: list[str] = []
    here = document
    previous: int | str = ""
    for step in path:
        before = here
        try:
            here = here[step]
        except (KeyError, IndexError, TypeError):
            here = None
        if isinstance(step, int) and not (step == 0 and previous in _OFTEN_ONE and _only_one(before)):
            name = here.get("name") if isinstance(here, dict) else None
            label = f" “{name}”" if isinstance(name, str) and name else ""
            words.append(f"{_ENTRY_NAMES.get(str(previous), str(previous))} {step + 1}{label}")
        previous = step
    if words:
        return ", ".join(words)
    return str(path[0]) if len(path) > 1 else "the file"


def _only_one(entries: Any) -> bool:
    return isinstance(entries, list) and len(entries) == 1


def faults_of(error: ValidationError, document: Any) -> list[Fault]:
    """Turn a validation error of `document` into located faults."""
    return faults_from(error.errors(include_url=False), document)


def faults_from(details: Iterable[Mapping[str, Any]], document: Any) -> list[Fault]:
    """Turn pydantic's error details, whose locations start at `document`, into located faults."""
    found: list[Fault] = []
    for number, detail in enumerate(details):
        if number > most("text.faults"):
            # they are only counted from here on
            found.append(found[-1])
            continue
        # the discriminator of a block is part of pydantic's location but not of the document
        location = [
            step
            for index, step in enumerate(detail["loc"])
            if not (step in _BLOCK_KINDS and index > 1 and detail["loc"][index - 2] == "blocks")
        ]
        if str(detail["type"]).startswith("union_tag"):
            location.append(str((detail.get("ctx") or {}).get("discriminator", "kind")).strip("'"))
        field = next((step for step in reversed(location) if isinstance(step, str)), "document") or "(no name)"
        found.append(
            Fault(
                path=".".join(str(step) for step in location),
                place=place_in_words(document, location),
                field=field,
                message=_in_words(detail["type"], detail["msg"].removeprefix("Value error, "), field),
                right="; ".join(filter(None, [_what_would_be_right(detail), _given(document, location)])),
            )
        )
    return found


def _given(document: Any, path: Sequence[int | str]) -> str:
    """The faulty value itself, where it is short enough to show."""
    for step in path:
        try:
            document = document[step]
        except (KeyError, IndexError, TypeError):
            return ""
    if not isinstance(document, str | int | float | bool):
        return ""
    shown = repr(document) if not isinstance(document, int) or abs(document) < 10**20 else "a very large number"
    return f"given: {shown if len(shown) <= LONGEST_GIVEN else shown[:LONGEST_GIVEN] + '…'}"


def _in_words(kind: str, message: str, field: str) -> str:
    if kind == "union_tag_invalid" and field != "kind":
        return f"is nothing that {field!r} can be"
    known = {
        "greater_than_equal": "is too small",
        "greater_than": "is too small",
        "less_than_equal": "is too large",
        "less_than": "is too large",
        "missing": "is missing",
        "extra_forbidden": "is not a field of this format",
        "union_tag_invalid": "is no kind of block",
        "union_tag_not_found": "has no kind",
        "json_invalid": "is not valid JSON",
    }
    return known.get(kind, message[:1].lower() + message[1:])


def _what_would_be_right(detail: Any) -> str:
    context = detail.get("ctx") or {}
    limits = {
        "ge": "at least {}",
        "gt": "more than {}",
        "le": "at most {}",
        "lt": "less than {}",
        "expected": "one of {}",
        "expected_tags": "one of {}",
        "min_length": "at least {} of them",
        "max_length": "at most {} of them",
    }
    return "; ".join(text.format(context[key]) for key, text in limits.items() if key in context)
