"""Finds the exercise that a line speaks of."""

from __future__ import annotations

from oaken.catalogue import Catalogue, Exercise, spoken_names
from oaken.notation.faults import Misread, nearest
from oaken.notation.scan import Token, Tokens
from oaken.notation.vocabulary import LINE_WORDS, SAID_ELSEWHERE, STANCES

_VOCABULARY = {word for phrase in (*LINE_WORDS, *STANCES, *SAID_ELSEWHERE, "able") for word in phrase.split()}
MOST_WORDS = 12
"""A name of an exercise has at most 60 characters, so never more words than this with a meaning of their own."""

_STOPS = {"max", "hold", "ramp", "rest", "if", "then"}


def take_exercise(tokens: Tokens, catalogue: Catalogue) -> Exercise:
    """The exercise whose name comes next, the longest that fits. Raises a Misread with names that look like it."""
    known = _names(catalogue)
    words: list[Token] = []
    while (token := tokens.peek(len(words))) is not None and token.kind in ("word", "other"):
        words.append(token)
    for count in range(min(len(words), MOST_WORDS), 0, -1):
        phrase = _phrase(tokens, words[:count])
        if phrase in known:
            behind = words[count].text.lower() if count < len(words) else ""
            if behind and behind not in _VOCABULARY and not nearest(behind, _VOCABULARY, 0.7):
                break  # “lunge jumps” is not a lunge
            tokens.at += count
            return catalogue.exercises[known[phrase]]
    if not words:
        raise tokens.fault("an exercise is missing here")
    meant = next((place for place, word in enumerate(words) if word.text.lower() in _STOPS and place), len(words))
    said = tokens.line[words[0].column : words[meant - 1].end]
    near = [catalogue.exercises[name].name.lower() for name in catalogue.closest_exercises(said)]
    tail = [word.text.lower() for word in words if word.text.lower() in LINE_WORDS]
    if not near and tail:
        near = [catalogue.exercises[name].name.lower() for name in catalogue.closest_exercises(words[0].text)]
    raise Misread(words[0].column, said, "is no exercise of the catalogue", near)


def _phrase(tokens: Tokens, words: list[Token]) -> str:
    return " ".join(tokens.line[words[0].column : words[-1].end].lower().split())


_known: dict[int, tuple[Catalogue, dict[str, str]]] = {}


def _names(catalogue: Catalogue) -> dict[str, str]:
    """Every spoken name of a catalogue, computed once for each catalogue at hand."""
    found = _known.get(id(catalogue))
    if found is None or found[0] is not catalogue:
        names = {name: one.id for one in catalogue.exercises.values() for name in spoken_names(one)}
        _known.clear()
        _known[id(catalogue)] = found = (catalogue, names)
    return found[1]
