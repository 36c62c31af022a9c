"""All that is worth a word about a class, in one ranked list: what to change, whom to tell what, what to watch.

The cautions of a forecast and the remarks of a review are put together; what is to be done alike for several people or
places is one line.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from hashlib import sha256
from typing import Literal

from pydantic import BaseModel

from oaken.basis.names import AdviceKey, first_name
from oaken.design.review.remarks import History, Mend, Remark, review
from oaken.forecast import forecast
from oaken.forecast.report import Caution, Forecast, Severity
from oaken.schedule.class_file import ClassFile

Kind = Literal["change", "tell", "watch"]

ABOUT_SOMEBODY = frozenset(("careful", "medication", "heart"))
"""What cautions are about that is said to those whom it concerns."""

OF_THE_QUEUE = frozenset(("waiting",))


class Advice(BaseModel):
    """One line: what is to be done with it, how grave it is, what is so, what is safer or why, on which ground, whom
    and what it concerns (names, numbers and parts), and the press that does it.

    `stays` marks what can hurt somebody: it is never put away. `key` is the same until what is said changes.
    """

    key: AdviceKey
    kind: Kind
    severity: Severity
    line: str
    then: str
    source: str
    who: str
    people: list[int]
    slots: list[str]
    block: int
    stays: bool
    health: bool
    mend: Mend | None


class AdviceList(BaseModel):
    """Every line, the weightiest first, and how many past classes they rest on."""

    advice: list[Advice]
    classes: int


def advise(file: ClassFile, history: History | None = None, predicted: Forecast | None = None) -> AdviceList:
    """Everything worth a word, once. The file must have been checked; `predicted` is its forecast where known."""
    known = predicted or forecast(file)
    found = review(file, history, known)
    crowd = len(known.people)
    cautions = [item for item in known.cautions if not _said_by(item, found.remarks)]
    lines = [*_of_cautions(cautions, known), *(_of_remark(remark, known, crowd) for remark in found.remarks)]
    names = {person.number: f"{person.number} {first_name(person.name)}" for person in known.people}
    named = [line.model_copy(update={"who": _named(line.people, names)}) for line in sorted(lines, key=_weight)]
    return AdviceList(advice=named, classes=found.classes)


MOST_FIXES = 13
"""So many safer choices are made by one press."""

NAMED = 4
"""So many people are named in a line; of more there are the numbers."""


def _named(people: Sequence[int], names: Mapping[int, str]) -> str:
    if len(people) > NAMED:
        return "nos. " + ", ".join(str(number) for number in people)
    return ", ".join(names[number] for number in people)


def _weight(one: Advice) -> tuple[int, bool, int, int]:
    """What can hurt comes first, of it what concerns everybody, then what is mended by a press and concerns many."""
    grave = 0 if one.severity == "clash" else 1 if one.stays else 2 if one.severity == "caution" else 3
    return grave, bool(one.people) and one.stays, {"change": 0, "tell": 1, "watch": 2}[one.kind], -len(one.people)


def _said_by(caution: Caution, remarks: Sequence[Remark]) -> bool:
    """Whether a remark says the same: of a queue at the same place, or what is mended in the same way."""
    if caution.fix is not None and any(
        remark.mend is not None and remark.mend.change == caution.fix.change for remark in remarks
    ):
        return True
    if caution.about not in OF_THE_QUEUE:
        return False
    return any(remark.about == "queue" and set(remark.slots) & set(caution.slots) for remark in remarks)


def _of_cautions(cautions: Sequence[Caution], predicted: Forecast) -> Iterator[Advice]:
    alike: dict[tuple[object, ...], list[Caution]] = {}
    for caution in cautions:
        if caution.about != "careful" or len(caution.people) != 1:
            # the same to be done for the same reason, whoever and wherever it is
            named = caution.fingerprint[1] if caution.about in ABOUT_SOMEBODY else caution.message
            same = alike.setdefault((caution.severity, caution.about, caution.condition, named, caution.safer), [])
            same.append(caution)
    for same in alike.values():
        lines = list(dict.fromkeys(item.message for item in same))
        line = lines[0] if len(lines) == 1 else f"{lines[0]} (and {len(lines) - 1} more of the kind)"
        yield _of_same(same, line, same[0].safer and f"safer: {same[0].safer}", predicted)
    yield from _of_care([item for item in cautions if item.about == "careful" and len(item.people) == 1], predicted)


def _of_care(cautions: Sequence[Caution], predicted: Forecast) -> Iterator[Advice]:
    """A line for each person with what asks for care with them; one for all with whom the same does."""
    of_person: dict[tuple[Severity, int], list[Caution]] = {}
    for caution in cautions:
        of_person.setdefault((caution.severity, caution.people[0]), []).append(caution)
    alike: dict[tuple[Severity, tuple[tuple[str, str], ...]], list[Caution]] = {}
    for (severity, _), own in of_person.items():
        said = tuple(dict.fromkeys((item.message, item.safer) for item in own))
        alike.setdefault((severity, said), []).extend(own)
    for (_, said), same in alike.items():
        if len(said) == 1:
            message, safer = said[0]
            yield _of_same(same, message, f"safer: {safer}", predicted)
            continue
        # "hack squat asks for care (knee): why": what, and for which care
        asked = [message.partition(" asks for care ") for message, _ in said]
        cares = list(dict.fromkeys(rest.partition(")")[0].lstrip("(") for _, _, rest in asked))
        line = (
            f"{', '.join(dict.fromkeys(what for what, _, _ in asked))} ask for care ({', '.join(filter(None, cares))})"
        )
        then = "; ".join(f"{what}: {safer}" for (what, _, _), (_, safer) in zip(asked, said, strict=True))
        yield _of_same(same, line, f"safer: {then}", predicted)


def _of_same(same: Sequence[Caution], line: str, then: str, predicted: Forecast) -> Advice:
    """One line of cautions for which the same is to be done."""
    first, crowd = same[0], len(predicted.people)
    people = sorted({number for item in same for number in item.people})
    fixes = list({item.fix.model_dump_json(): item.fix for item in same if item.fix is not None}.values())[:MOST_FIXES]
    mend = None
    if fixes:
        label = fixes[0].label if len(fixes) == 1 else f"All {len(fixes)} safer choices"
        mend = Mend(label=label[:120], change=fixes[0].change, more=tuple(fix.change for fix in fixes[1:]))
    somebody = bool(people) and len(people) < crowd and first.about in ABOUT_SOMEBODY
    return _advice(
        kind="change" if mend is not None else "tell" if somebody else "watch",
        severity=first.severity,
        line=line,
        then=then,
        source="",
        people=[] if len(people) == crowd else people,
        slots=list(dict.fromkeys(slot for item in same for slot in item.slots)),
        block=first.block if len({item.block for item in same}) == 1 else -1,
        stays=first.severity == "clash" or (first.severity == "caution" and first.about != "waiting"),
        health=any(item.health for item in same) or first.about in ABOUT_SOMEBODY,
        mend=mend,
    )


def _of_remark(remark: Remark, predicted: Forecast, crowd: int) -> Advice:
    places = {slot.id: slot.block for slot in predicted.slots}
    blocks = {places[slot] for slot in remark.slots if slot in places}
    grave = remark.about in ("note", "hard days", "warm-up")
    return _advice(
        kind="change" if remark.mend is not None else "tell" if remark.about == "note" else "watch",
        severity="caution" if grave or remark.about in ("slot", "queue", "apart") else "note",
        line=remark.line,
        then=remark.why,
        source=remark.source,
        people=[] if len(remark.people) == crowd else remark.people,
        slots=remark.slots,
        block=blocks.pop() if len(blocks) == 1 else -1,
        stays=grave,
        health=remark.about in ("note", "apart"),
        mend=remark.mend,
    )


def _advice(**fields: object) -> Advice:
    said = "|".join(str(fields[name]) for name in ("kind", "severity", "line", "then", "people", "slots"))
    return Advice.model_validate({"who": "", "key": sha256(said.encode()).hexdigest()[:16], **fields})
