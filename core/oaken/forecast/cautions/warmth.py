"""A warm room: what the air asks of the class, and the milder version of it."""

from __future__ import annotations

from collections.abc import Iterator

from oaken.forecast.report import Caution, Fix
from oaken.physiology.heat import Heat
from oaken.plan.changes import MilderForHeat

SAFER = {
    "caution": "slow down, longer rests, water after every block, no drop sets on every exercise",
    "reconsider": "put it off or make it easy: longer rests, water, shade and air; watch everybody's face and speech",
}


def heat_cautions(heat: Heat | None) -> Iterator[Caution]:
    """What the air of the room asks for, with the milder class as what can be done about it."""
    if heat is None or (heat.advice == "usual" and not heat.band):
        return
    band = f" ({heat.band})" if heat.band else ""
    hard = heat.advice == "reconsider"
    yield Caution(
        severity="caution",
        block=-1,
        slots=[],
        people=[],
        message=f"warm room: heat index {heat.heat_index.value:.0f} °C{band}, simplified WBGT {heat.wbgt.value:.0f} °C"
        + (": reconsider a hard class" if hard else ""),
        safer=SAFER["reconsider" if hard else "caution"],
        fix=Fix(label="Make a milder class", change=MilderForHeat()),
        about="warmth",
    )
