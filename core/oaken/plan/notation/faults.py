"""What is wrong in a text: which line, which word, and what was probably meant."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from difflib import get_close_matches

from pydantic import BaseModel, ConfigDict, ValidationError


class TextFault(BaseModel):
    """One fault of one word. `line` and `column` count from 1; `length` is how many characters the word has.

    `proposals` are words that could stand in its place.
    """

    model_config = ConfigDict(frozen=True)

    line: int
    column: int
    length: int
    word: str
    message: str
    proposals: list[str] = []

    def __str__(self) -> str:
        meant = f" — perhaps {', '.join(self.proposals)}" if self.proposals else ""
        return f"line {self.line}, column {self.column}, “{self.word}”: {self.message}{meant}"


class FaultyText(ValueError):
    """Raised with every fault found, so that all can be mended at once."""

    def __init__(self, faults: Sequence[TextFault]) -> None:
        self.faults = list(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))


class Misread(Exception):
    """One fault inside a line, on its way to the line's reader: where it begins, how long it is."""

    def __init__(self, column: int, word: str, message: str, proposals: Iterable[str] = ()) -> None:
        super().__init__(message)
        self.column, self.word, self.message = column, word, message
        self.proposals = [proposal for proposal in proposals if proposal.lower() != word.lower()]

    def at(self, line: int) -> TextFault:
        """The same as a fault of a line."""
        return TextFault(
            line=line,
            column=self.column + 1,
            length=max(1, len(self.word)),
            word=self.word,
            message=self.message,
            proposals=self.proposals,
        )


def nearest(word: str, known: Iterable[str], alike: float = 0.5) -> list[str]:
    """Up to three known words that look like this one; `alike` 1 is the same word."""
    return get_close_matches(word.lower(), list(known), n=3, cutoff=alike)


class FaultsByLine:
    """Collects the faults of all lines and raises them together at the end."""

    def __init__(self) -> None:
        self.found: list[TextFault] = []
        self.number = 1

    def of(self, number: int) -> FaultsByLine._Line:
        """What goes wrong inside belongs to this line."""
        return FaultsByLine._Line(self, number)

    def __enter__(self) -> FaultsByLine:
        return self

    def __exit__(self, kind: object, error: BaseException | None, trace: object) -> None:
        if error is None and self.found:
            raise FaultyText(self.found)

    class _Line:
        def __init__(self, faults: FaultsByLine, number: int) -> None:
            self.faults, self.number = faults, number

        def __enter__(self) -> None:
            return None

        def __exit__(self, kind: object, error: BaseException | None, trace: object) -> bool:
            if isinstance(error, Misread):
                self.faults.found.append(error.at(self.number))
                return True
            if isinstance(error, ValidationError):
                message = str(error.errors(include_url=False)[0]["msg"]).removeprefix("Value error, ")
                self.faults.found.append(Misread(0, "", message).at(self.number))
                return True
            return False
