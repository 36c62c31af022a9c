"""Words with numbers."""

from __future__ import annotations


def plural(number: float, one: str, many: str = "") -> str:
    """The word for so many of a thing: `set`, `sets`; `person`, `people` where the plural is its own word."""
    return one if number == 1 else many or f"{one}s"


def counted(number: int, one: str, many: str = "") -> str:
    """So many of a thing: `1 set`, `3 sets`, `2 people`."""
    return f"{number} {plural(number, one, many)}"


def clock(seconds: float) -> str:
    """Minutes and seconds, '22:15'."""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02d}"


def in_kg(kg: float) -> str:
    """A mass as it is told everywhere: `82.5 kg`, `60 kg`."""
    return f"{kg:g} kg"
