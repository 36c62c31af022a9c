"""A first class that uses the room and the slot: something whole to begin with, and to be changed."""

from oaken.first.make import MANNERS, Manner, Wanted, empty_class, first_class

__all__ = ["MANNERS", "Manner", "Wanted", "empty_class", "first_class"]
