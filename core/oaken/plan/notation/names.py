"""Finds the exercise that a line speaks of."""

from __future__ import annotations

from oaken.domain.catalogue import Catalogue, Exercise
from oaken.plan.notation.faults import Misread, nearest
from oaken.plan.notation.scan import Token, Tokens
from oaken.plan.notation.vocabulary import BEHIND_NAMES, LINE_WORDS, SAID_ELSEWHERE

_VOCABULARY = BEHIND_NAMES | {*SAID_ELSEWHERE}
MOST_WORDS = 12
"""A name of an exercise has at most 60 characters, so never more words than this with a meaning of their own."""

_STOPS = {"max", "hold", "ramp", "rest", "if", "then"}


def take_exercise(tokens: Tokens, catalogue: Catalogue) -> Exercise:
    """The exercise whose name comes next, the longest that fits. Raises a Misread with names that look like it."""
    known = catalogue.spoken_of_all
    words: list[Token] = []
    while (token := tokens.peek(len(words))) is not None and token.kind in ("word", "other"):
        words.append(token)
    for count in range(min(len(words), MOST_WORDS), 0, -1):
        meant = known.known(_phrase(tokens, words[:count]))
        if meant is not None:
            behind = words[count].text.lower() if count < len(words) else ""
            if behind and behind not in _VOCABULARY and not nearest(behind, _VOCABULARY, 0.7):
                break  # “lunge leaps” is not a lunge
            if meant.exercise is None:
                raise _which(tokens, words[:count], meant.choices, catalogue)
            tokens.at += count
            return catalogue.exercises[meant.exercise]
    if not words:
        raise tokens.fault("an exercise is missing here")
    stop = next((place for place, word in enumerate(words) if word.text.lower() in _STOPS and place), len(words))
    said = tokens.line[words[0].column : words[stop - 1].end]
    near = [catalogue.exercises[name].name.lower() for name in catalogue.closest_exercises(said)]
    tail = [word.text.lower() for word in words if word.text.lower() in LINE_WORDS]
    if not near and tail:
        near = [catalogue.exercises[name].name.lower() for name in catalogue.closest_exercises(words[0].text)]
    raise Misread(words[0].column, said, "is no exercise of the catalogue", near)


def _phrase(tokens: Tokens, words: list[Token]) -> str:
    return " ".join(tokens.line[words[0].column : words[-1].end].lower().split())


def _which(tokens: Tokens, words: list[Token], choices: list[str], catalogue: Catalogue) -> Misread:
    said = tokens.line[words[0].column : words[-1].end]
    names = [catalogue.exercises[name].name.lower() for name in choices]
    return Misread(words[0].column, said, f"can be {in_words_or(names)}: say which", names)


def in_words_or(names: list[str]) -> str:
    """`a, b or c`."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"
