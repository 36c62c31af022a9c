"""Cuts a line into words and figures, each with its place."""

from __future__ import annotations

import re
from dataclasses import dataclass

from oaken.plan.notation.faults import Misread, nearest
from oaken.plan.notation.vocabulary import LINE_WORDS, SAID_ELSEWHERE, STANCES

_TOKEN = re.compile(
    # no figure of a class has ten digits: what is longer is read as a word that means nothing
    r'(?P<quote>"[^"]*"|“[^”]*”)'
    r"|(?P<huge>\d{10,}[\d.:-]*)"
    r"|(?P<tempo>\d{1,9}(?:\.\d{1,9})?(?:-\d{1,9}(?:\.\d{1,9})?){2,3}(?![\d-]))"
    r"|(?P<range>\d{1,9}-\d{1,9}(?!\d))"
    r"|(?P<clock>\d{1,9}:\d\d)"
    r"|(?P<number>\d{1,9}(?:\.\d{1,9})?)"
    r"|(?P<word>km/h|steps/min|[A-Za-z][A-Za-z'’]*)"
    r"|(?P<mark>[,+/@%~()×])"
    r"|(?P<other>[^\s,+/@%~()]+)"
)


_ALIKE = str.maketrans({"–": "-", "—": "-", "−": "-", "‐": "-", "\u00a0": " ", "\u202f": " "})
"""Marks that are written for one another, each as long as what it stands for."""


@dataclass(frozen=True, slots=True)
class Token:
    """A word, figure or mark of a line; `column` counts from 0."""

    kind: str
    text: str
    column: int

    @property
    def end(self) -> int:
        """The column behind it."""
        return self.column + len(self.text)


class Tokens:
    """The rest of a line, read from left to right."""

    def __init__(self, line: str, start: int = 0) -> None:
        self.line = line
        self.listed = [
            Token(match.lastgroup or "other", match.group(), match.start())
            for match in _TOKEN.finditer(line.translate(_ALIKE), start)
        ]
        self.at = 0
        self.notices: list[Misread] = []

    @property
    def now(self) -> Token | None:
        """The next token; None at the end of the line."""
        return self.listed[self.at] if self.at < len(self.listed) else None

    def peek(self, ahead: int = 1) -> Token | None:
        """A later token."""
        at = self.at + ahead
        return self.listed[at] if at < len(self.listed) else None

    def take(self, *texts: str) -> Token | None:
        """The next token if it is one of these words or marks (whatever its case); it is then behind us."""
        token = self.now
        if token is not None and token.kind in ("word", "mark") and token.text.lower() in texts:
            self.at += 1
            return token
        return None

    def take_words(self, phrase: str) -> Token | None:
        """Several words in a row, as one; nothing is taken unless all of them are there."""
        words = phrase.split()
        found = [self.peek(ahead) for ahead in range(len(words))]
        if any(item is None or item.text.lower() != word for item, word in zip(found, words, strict=True)):
            return None
        first = self.listed[self.at]
        self.at += len(words)
        return first

    def take_any(self, *phrases: str) -> Token | None:
        """The first of these phrases that comes next."""
        for phrase in phrases:
            if (token := self.take_words(phrase)) is not None:
                return token
        return None

    def says(self, *texts: str, ahead: int = 0) -> bool:
        """Whether a word or mark stands there."""
        token = self.peek(ahead)
        return token is not None and token.text.lower() in texts

    def notice(self, token: Token, message: str) -> None:
        """Say what a word was read as, where that is not to be seen at once."""
        self.notices.append(Misread(token.column, token.text, message))

    def take_kind(self, kind: str) -> Token | None:
        """The next token if it is of this kind."""
        token = self.now
        if token is None or token.kind != kind:
            return None
        self.at += 1
        return token

    def need_number(self, what: str, low: float, high: float, *, whole: bool = True) -> float:
        """A number within limits. Raises a Misread that says what is missing or what would be right."""
        token = self.now
        if token is not None and token.kind == "other" and token.text.startswith("-"):
            raise Misread(token.column, token.text, f"is below zero: {what} is {low:g} to {high:g}")
        if token is None or token.kind != "number":
            raise self.fault(f"{what} is missing here: a number from {low:g} to {high:g}")
        value = float(token.text)
        if not low <= value <= high:
            raise Misread(token.column, token.text, f"{what} is {low:g} to {high:g}")
        if whole and value != int(value):
            raise Misread(token.column, token.text, f"{what} is a whole number")
        self.at += 1
        return value

    def fault(self, message: str, proposals: list[str] | None = None) -> Misread:
        """A fault at the next token, or at the end of the line."""
        token = self.now
        if token is None:
            last = self.listed[-1] if self.listed else None
            word = last.text if last else self.line.strip()
            return Misread(last.column if last else 0, word, f"after this, {message}", proposals or [])
        return Misread(token.column, token.text, message, proposals or [])

    def unknown(self) -> Misread:
        """A fault for a word that means nothing where it stands, with what looks like it."""
        token = self.now
        word = token.text if token else ""
        meant = SAID_ELSEWHERE.get(word.lower())
        return self.fault("is not understood here", meant or nearest(word, [*LINE_WORDS, *STANCES]))
