"""`make bench`, how true: what docs/evidence.md says, computed here and now, beside the speeds."""

from __future__ import annotations

import sys

import numpy as np
from places import ROOT
from showing import show

sys.path.insert(0, str(ROOT / "tools"))


def test_hearts_on_recordings() -> None:
    from evidence import hearts

    held = []
    for name, share, (error, _, inside, usual, constant) in hearts():
        goal = 8.0 if name == "walk-and-run" else 3.5
        show(f"{name}, seen {100 * share:.0f} %: mean error on the rest", error, "bpm", goal)
        show(f"{name}, seen {100 * share:.0f} %: usual heart", usual, "bpm", 20)
        show(f"{name}, seen {100 * share:.0f} %: constant", constant, "bpm", 20)
        if name != "walk-and-run":
            held.append(inside)
    show("unseen readings of rides outside the range of the fit", 100 - float(np.mean(held)), "%", 15)


def test_seven_bodies_in_the_classic_circuit() -> None:
    from evidence import bodies

    outside = [name for name, (heart, _, _) in bodies() if not 70 <= heart <= 85]
    show("bodies of seven outside 70–85 % of maximum in the classic circuit", len(outside), "bodies", 1)
