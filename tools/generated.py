"""Writes what is generated from the code: the class file's JSON Schema, the OpenAPI schema, the typed client.

With --check it writes nothing and fails when one of them is stale.
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
WEB = ROOT / "web"


def _run(*command: str) -> str:
    return subprocess.run(command, cwd=ROOT, check=True, capture_output=True, text=True).stdout


def generate(folder: Path) -> dict[Path, str]:
    """Every generated file's path in the checkout and what should stand in it. `folder` is for scratch files."""
    openapi = _run(sys.executable, "server/manage.py", "export_schema")
    source, client = folder / "openapi.json", folder / "schema.d.ts"
    source.write_text(openapi, encoding="utf-8")
    program = WEB / "node_modules" / ".bin" / "openapi-typescript"
    subprocess.run([program, source, "-o", client], cwd=WEB, check=True, capture_output=True)
    sys.path.insert(0, str(ROOT / "core"))
    from oaken.catalogue import catalogue
    from oaken.class_file import json_schema
    from oaken.estimate import methods

    rows = [
        f"| `{one.id}` | {one.name} | {one.formula} | {one.source} | {one.range} |".replace("\n", " ")
        for one in methods().values()
    ]
    table = "\n".join(["| id | figure | formula | source | range |", "|---|---|---|---|---|", *rows])
    choices = ["| question | default | why | other schools | what it changes |", "|---|---|---|---|---|"]
    for question in catalogue().questions.values():
        chosen = next(school for school in question.schools if school.id == question.default)
        others = "; ".join(school.name for school in question.schools if school is not chosen)
        choices.append(f"| {question.name} | {chosen.name} | {question.why_default} | {others} | {question.effect} |")
    schema = json.dumps(json_schema(), indent=1, ensure_ascii=False) + "\n"
    return {
        ROOT / "docs" / "class.schema.json": schema,
        ROOT / "docs" / "methods.md": _with_tables(
            (ROOT / "docs" / "methods.md").read_text(encoding="utf-8"), "\n".join(choices), table
        ),
        ROOT / "docs" / "openapi.json": openapi,
        WEB / "src" / "api" / "schema.d.ts": client.read_text(encoding="utf-8"),
    }


def _with_tables(page: str, choices: str, methods: str) -> str:
    """The page with the tables of its last two sections, which are generated from the core's data files."""
    heading = "## Choices where practitioners disagree\n"
    return (
        f"{page[: page.index(heading)]}{heading}\nGenerated from `core/oaken/catalogue/data/choices.json`; schools and "
        f"reasons are common practice, no source.\n\n{choices}\n\n"
        f"## Every method\n\nGenerated from `core/oaken/methods.json`.\n\n{methods}\n"
    )


def main() -> int:
    """Write or check the generated files."""
    with tempfile.TemporaryDirectory() as folder:
        wanted = generate(Path(folder))
    stale = [path for path, text in wanted.items() if not path.exists() or path.read_text(encoding="utf-8") != text]
    if "--check" in sys.argv:
        for path in stale:
            print(f"{path.relative_to(ROOT)} is stale: run `make schema`", file=sys.stderr)
        return 1 if stale else 0
    for path in stale:
        path.write_text(wanted[path], encoding="utf-8")
        print(f"wrote {path.relative_to(ROOT)}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
