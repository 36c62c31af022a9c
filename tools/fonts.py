"""Makes the two static fonts of the printed papers from the variable ones of the interface, once; needs fontTools and
brotli, which are not among the requirements. What it wrote is committed (core/oaken/exports/paper/fonts)."""

from __future__ import annotations

import tempfile
from pathlib import Path

from fontTools.merge import Merger  # type: ignore[import-not-found]
from fontTools.ttLib import TTFont  # type: ignore[import-not-found]
from fontTools.varLib import instancer  # type: ignore[import-not-found]

ROOT = Path(__file__).resolve().parent.parent
FROM = ROOT / "web" / "node_modules" / "@fontsource-variable" / "source-sans-3" / "files"
TO = ROOT / "core" / "oaken" / "exports" / "paper" / "fonts"
SCRIPTS = ("latin", "latin-ext", "greek", "cyrillic", "vietnamese")
NAME = "Oaken Sans"
"""The licence reserves the name of the original for the original."""


def main() -> None:
    """Write both weights and the list of characters that both have."""
    known: set[int] | None = None
    for weight, style in ((400, "Regular"), (700, "Bold")):
        with tempfile.TemporaryDirectory() as folder:
            parts = []
            for script in SCRIPTS:
                variable = TTFont(FROM / f"source-sans-3-{script}-wght-normal.woff2")
                variable.flavor = None
                parts.append(str(Path(folder) / f"{script}.ttf"))
                instancer.instantiateVariableFont(variable, {"wght": weight}).save(parts[-1])
            font = Merger().merge(parts)
        names = {1: NAME, 16: NAME, 2: style, 17: style, 4: f"{NAME} {style}", 6: f"OakenSans-{style}"}
        for record in font["name"].names:
            record.string = names.get(record.nameID, record.string)
        font["OS/2"].usWeightClass = weight
        font["head"].macStyle, font["OS/2"].fsSelection = (1, 0x20) if weight == 700 else (0, 0x40)
        font.save(TO / f"oaken-sans-{style.lower()}.ttf")
        known = set(font.getBestCmap()) & (known if known is not None else set(font.getBestCmap()))
    characters = "".join(chr(item) for item in sorted(known or ()) if item > ord(" "))
    (TO / "characters.txt").write_text(f"{characters}\n", encoding="utf-8")


if __name__ == "__main__":
    main()
