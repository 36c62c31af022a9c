"""Classes generated from what is wanted: chosen by an optimiser, arranged, fitted to the slot, with reasons."""

from oaken.design.generator.asked import Asked, read_request
from oaken.design.generator.generate import GeneratedClass, Generation, Hit, best_for, check_request, generate
from oaken.design.generator.request import ClassFormat, ClassRequest, Day, Lately, NotInClass

__all__ = [
    "Asked",
    "ClassFormat",
    "ClassRequest",
    "Day",
    "GeneratedClass",
    "Generation",
    "Hit",
    "Lately",
    "NotInClass",
    "best_for",
    "check_request",
    "generate",
    "read_request",
]
