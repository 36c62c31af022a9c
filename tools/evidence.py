"""Writes docs/evidence.md: what each figure was tried against, computed afresh where there is something to compute.

`make evidence` writes it; `make lint` (with `--check`) says when it is stale, and tests/reference/test_evidence.py
compares its computed rows with what the code gives.
"""

from __future__ import annotations

import re
import sys
from importlib import import_module
from pathlib import Path
from statistics import fmean, median

ROOT = Path(__file__).resolve().parent.parent
sys.path[:0] = [
    str(ROOT / "core"),
    str(ROOT / "tests"),
    str(ROOT / "tests" / "core"),
    str(ROOT / "tests" / "reference"),
]

PAGE = ROOT / "docs" / "evidence.md"
RIDES = ("indoor-ride", "road-ride", "walk-and-run")
SHARES = (0.35, 0.5, 0.65)

TEMPLATE = ROOT / "tools" / "evidence.template.md"


def hearts() -> list[tuple[str, float, list[float]]]:
    """Recording, share that was seen; error, bias, held of the fitted heart, error of the usual one and a constant."""
    from oaken.heart_data.calibration import judge_heart
    from oaken.heart_data.recordings import read_recording

    rows = []
    for name in RIDES:
        series = read_recording((ROOT / "tests" / "recordings" / f"{name}.csv").read_bytes())
        for share in SHARES:
            if name == "walk-and-run" and share != 0.5:
                continue  # its parts are too short to fit or to judge
            fitted, usual, constant = judge_heart(series, None, share).judged
            held = fitted.held_percent or 0.0
            rows.append((name, share, [fitted.error_bpm, fitted.bias_bpm, held, usual.error_bpm, constant.error_bpm]))
    return rows


def bodies() -> list[tuple[str, list[float]]]:
    """The seven bodies in the classic circuit: percent of maximum, percent of maximal uptake, kcal/min."""
    protocols = import_module("test_study_protocols")
    found = []
    for name, body in protocols.SEVEN.items():
        told = protocols.outcome(body, protocols.classic())
        found.append((name, [100 * told.heart_share, 100 * told.uptake_share, told.kcal_per_min]))
    return found


def bests() -> list[tuple[str, str, list[float]]]:
    """Bests of invented lifters by how sets ended and what was lifted: bias, median error and half width in per cent,
    the largest bias of a movement, and how many of a hundred ranges hold the true best."""
    worlds = import_module("test_own_curves")
    lifted = (
        (1, worlds.ONE, "one day, 8–10"),
        (4, worlds.ONE, "four days, 8–10"),
        (4, worlds.TWO, "four, 10–12 and 4–6"),
    )
    rows = []
    for ending in worlds.ENDINGS:
        for days, windows, words in lifted:
            by_movement = worlds.judged(ending, days, windows)
            every = [one for own in by_movement.values() for one in own]
            off = [fmean(one.off for one in own) for own in by_movement.values()]
            told = [fmean(one.off for one in every), median(abs(one.off) for one in every), max(off, key=abs),
                    fmean(one.held for one in every), median(one.half for one in every)]  # fmt: skip
            rows.append((ending, words, [100 * value for value in told]))
    return rows


def page() -> str:
    """The whole page."""
    lines = []
    for name, share, (error, bias, held, usual, constant) in hearts():
        cells = [f"{error:.1f} bpm", f"{bias:+.1f} bpm", f"{held:.0f} %", f"{usual:.1f} bpm", f"{constant:.1f} bpm"]
        lines.append(f"| {name} | {100 * share:.0f} % | {' | '.join(cells)} |")
    rows = [f"| {name} | {heart:.0f} | {uptake:.0f} | {kcal:.1f} |" for name, (heart, uptake, kcal) in bodies()]
    lifts = [
        f"| {ending} | {words} | {bias:+.1f} % | {error:.1f} % | {worst:+.0f} % | {held:.0f} % | ± {half:.1f} % |"
        for ending, words, (bias, error, worst, held, half) in bests()
    ]
    text = TEMPLATE.read_text(encoding="utf-8")
    return (
        text.replace("{hearts}", "\n".join(lines))
        .replace("{bodies}", "\n".join(rows))
        .replace("{bests}", "\n".join(lifts))
    )


def same(said: str, now: str) -> bool:
    """Whether two pages say the same: the words alike, the numbers as near as another machine's least squares come."""
    number = re.compile(r"[-+]?\d+(?:\.\d+)?")
    if number.sub("#", said) != number.sub("#", now):
        return False
    pairs = zip(number.findall(said), number.findall(now), strict=True)
    return all(abs(float(pair) - float(other)) <= max(0.5, 0.02 * abs(float(other))) for pair, other in pairs)


if __name__ == "__main__":
    if "--check" in sys.argv:
        if not same(PAGE.read_text(encoding="utf-8"), page()):
            sys.exit(f"{PAGE.relative_to(ROOT)} is stale: make evidence")
        sys.exit()
    PAGE.write_text(page(), encoding="utf-8")
    print(f"wrote {PAGE.relative_to(ROOT)}")
