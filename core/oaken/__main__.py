"""The command line: `python -m oaken forecast class.json [--table]`, the same for a class as text with
`--with class.json`, `python -m oaken run log.jsonl [--at SECONDS]`, `python -m oaken heart RECORDING [--body FILE]
[--known-until SHARE] [--json]`."""

from __future__ import annotations

import argparse
import json
import sys
from datetime import UTC, datetime, timedelta
from pathlib import Path

from oaken.basis.faults import FaultyInput
from oaken.calibration import judge_heart
from oaken.calibration.reading import load_body, load_recording
from oaken.calibration.table import as_table as heart_table
from oaken.class_file import json_schema
from oaken.class_file.reading import is_text, load_class, load_text
from oaken.forecast import forecast
from oaken.forecast.table import as_table
from oaken.notation import FaultyText
from oaken.run import course_of, lived, log_of, people_now, standing
from oaken.run.reading import load_run
from oaken.run.table import as_table as run_table


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 when it worked, 2 when its input is faulty."""
    parser = argparse.ArgumentParser(prog="oaken", description="Forecast a group leg class.")
    commands = parser.add_subparsers(dest="command", required=True)
    run = commands.add_parser("forecast", help="time, density, heart load and energy of a class file")
    run.add_argument("file", type=Path, help="a class file, or a class as text (docs/formats.md)")
    run.add_argument(
        "--with", dest="beside", type=Path, help="the class file whose room, people and own entries a text means"
    )
    run.add_argument("--table", action="store_true", help="a short readable table instead of JSON")
    ran = commands.add_parser("run", help="clock, lived timeline and log of a run")
    ran.add_argument("file", type=Path, help="a run log (docs/formats.md)")
    ran.add_argument("--at", type=float, help="seconds since the class began; the last event, where it is not given")
    heart = commands.add_parser("heart", help="how well a heart fitted to a recording's first part forecasts the rest")
    heart.add_argument("file", type=Path, help="FIT, TCX, GPX or CSV with heart rate, and power or speed")
    heart.add_argument("--body", type=Path, help="a person as in a class file (JSON): age, body_mass_kg, sex, vo2max …")
    heart.add_argument("--known-until", type=_share, default=0.5, help="the share that is seen, 0.1 to 0.9")
    heart.add_argument("--json", action="store_true", help="JSON instead of text")
    commands.add_parser("schema", help="the JSON Schema of a class file")
    options = parser.parse_args(arguments)
    if options.command == "schema":
        print(json.dumps(json_schema(), indent=2, ensure_ascii=False))
        return 0
    try:
        if options.command == "run":
            print(_run_told(options.file, options.at))
            return 0
        if options.command == "heart":
            body = None if options.body is None else load_body(options.body)
            told = judge_heart(load_recording(options.file), body, options.known_until)
            print(told.model_dump_json(indent=1) if options.json else heart_table(told))
            return 0
        if options.beside is not None:
            file = load_text(options.file, options.beside)
        elif is_text(options.file):
            print(f"{options.file.name}: is a class as text: name the class file it belongs to, --with CLASS.json",
                  file=sys.stderr)  # fmt: skip
            return 2
        else:
            file = load_class(options.file)
    except FaultyText as told:
        for text_fault in told.faults:
            print(f"{options.file.name}: {text_fault}", file=sys.stderr)
        return 2
    except FaultyInput as error:
        for fault in error.faults:
            print(f"{options.file.name}: {fault}", file=sys.stderr)
        return 2
    result = forecast(file)
    print(as_table(file.plan, result) if options.table else result.model_dump_json(indent=1))
    return 0


def _share(text: str) -> float:
    share = float(text)
    if not 0.1 <= share <= 0.9:
        raise argparse.ArgumentTypeError("a share of the recording, 0.1 to 0.9")
    return share


def _run_told(path: Path, at: float | None) -> str:
    """A run log as a table. Raises FaultyInput with every fault at its line."""
    file, events = load_run(path)
    counting = standing(events)
    began = next((event.happened_at for event in counting if event.kind == "began"), None)
    now = max((event.happened_at for event in counting), default=datetime.now(UTC))
    if at is not None and began is not None:
        now = began + timedelta(seconds=at)
    course = course_of(file, events, now)
    return run_table(course, lived(file, course), log_of(file, events, course), people_now(file, course))


if __name__ == "__main__":
    sys.exit(main())
