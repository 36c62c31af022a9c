"""The command line: `python -m oaken forecast class.json [--table]`."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from oaken.basis.faults import FaultyInput
from oaken.class_file import json_schema
from oaken.class_file.reading import load_class
from oaken.forecast import forecast
from oaken.forecast.table import as_table


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 when it worked, 2 when its input is faulty."""
    parser = argparse.ArgumentParser(prog="oaken", description="Forecast a group leg class.")
    commands = parser.add_subparsers(dest="command", required=True)
    run = commands.add_parser("forecast", help="time, density, heart load and energy of a class file")
    run.add_argument("file", type=Path, help="a class file (docs/formats.md)")
    run.add_argument("--table", action="store_true", help="a short readable table instead of JSON")
    commands.add_parser("schema", help="the JSON Schema of a class file")
    options = parser.parse_args(arguments)
    if options.command == "schema":
        print(json.dumps(json_schema(), indent=2, ensure_ascii=False))
        return 0
    try:
        file = load_class(options.file)
    except FaultyInput as error:
        for fault in error.faults:
            print(f"{options.file.name}: {fault}", file=sys.stderr)
        return 2
    result = forecast(file)
    print(as_table(file.plan, result) if options.table else result.model_dump_json(indent=1))
    return 0


if __name__ == "__main__":
    sys.exit(main())
