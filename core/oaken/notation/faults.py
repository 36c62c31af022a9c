"""What is wrong in a text: which line, which word, and what was probably meant."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from difflib import get_close_matches

from pydantic import BaseModel, ConfigDict


class TextProblem(BaseModel):
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

    def __init__(self, problems: Sequence[TextProblem]) -> None:
        self.problems = list(problems)
        super().__init__("\n".join(str(problem) for problem in self.problems))


class Fault(Exception):
    """One fault inside a line, on its way to the line's reader: where it begins, how long it is."""

    def __init__(self, column: int, word: str, message: str, proposals: Iterable[str] = ()) -> None:
        super().__init__(message)
        self.column, self.word, self.message, self.proposals = column, word, message, list(proposals)

    def at(self, line: int) -> TextProblem:
        """The same as a problem of a line."""
        return TextProblem(
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
