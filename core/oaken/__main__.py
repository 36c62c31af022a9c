"""The command line: `python -m oaken COMMAND --help`. Every command ends with 0 when it worked, 2 when its input is
faulty; faults go to standard error, one a line, each with the file and the place in it."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Iterable
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from oaken.basis.faults import Fault, FaultyInput
from oaken.domain.catalogue import catalogue
from oaken.exports.activities import activities_of, write_fit, write_tcx
from oaken.exports.formats import TARGETS, check, convert, kind_of
from oaken.exports.paper import PAPERS, Printed, programme
from oaken.exports.paper.pdf import draw
from oaken.forecast import forecast
from oaken.forecast.table import as_table
from oaken.heart_data.calibration import judge_heart, recorded_path
from oaken.heart_data.calibration.reading import load_body, load_recording
from oaken.heart_data.calibration.table import as_table as heart_table
from oaken.plan.notation import FaultyText
from oaken.programme.course import read_course
from oaken.schedule.class_file import ClassFile, json_schema
from oaken.schedule.class_file.reading import is_text, load_class, load_text, read_json
from oaken.session import actual_class, log_of, people_now, replay_events, standing
from oaken.session.reading import load_run
from oaken.session.table import as_table as run_table

ENDS = "Ends with 0 when it worked, and with 2 when its input is faulty: then every fault is told with its place."


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 when it worked, 2 when its input is faulty."""
    options = _parser().parse_args(arguments)
    command: Callable[[argparse.Namespace], str] = options.command
    try:
        told = command(options)
    except FaultyText as error:
        for text_fault in error.faults:
            print(f"{options.file.name}: {text_fault}", file=sys.stderr)
        return 2
    except FaultyInput as error:
        for fault in error.faults:
            print(f"{options.file.name}: {fault}", file=sys.stderr)
        return 2
    if told:
        sys.stdout.write(told if told.endswith("\n") else f"{told}\n")
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="oaken", description="Group leg classes: forecast, runs, formats.", epilog=ENDS
    )
    commands = parser.add_subparsers(required=True)

    def command(name: str, work: Callable[[argparse.Namespace], str], told: str) -> argparse.ArgumentParser:
        one = commands.add_parser(name, help=told, description=f"{told[0].upper()}{told[1:]}.", epilog=ENDS)
        one.set_defaults(command=work)
        return one

    one = command("forecast", _forecast, "time, density, heart load and energy of a class")
    one.add_argument("file", type=Path, help="a class file, or a class as text (docs/formats.md)")
    _beside(one)
    one.add_argument("--table", action="store_true", help="a short readable table instead of JSON")
    one = command("run", _run, "clock, actual timeline and log of a run")
    one.add_argument("file", type=Path, help="a run log (docs/formats.md)")
    one.add_argument("--at", type=float, help="seconds since the class began; the last event, where it is not given")
    one = command("heart", _heart, "how well a heart fitted to a recording's first part forecasts the rest")
    one.add_argument("file", type=Path, help="FIT, TCX, GPX or CSV with heart rate, and power or speed")
    one.add_argument("--body", type=Path, help="a person as in a class file (JSON): age, body_mass_kg, sex, vo2max …")
    one.add_argument("--known-until", type=_share, default=0.5, help="the share that is seen, 0.1 to 0.9")
    one.add_argument("--json", action="store_true", help="JSON instead of text")
    one = command("check", _check, "what a file of any format is, and whether it is right")
    one.add_argument(
        "file",
        type=Path,
        help="a class, text, course, run log, roster, recording, calendar or studio",
    )
    _beside(one)
    one = command("convert", _convert, "a file in another format")
    one.add_argument("file", type=Path, help="a file of any format (docs/formats.md)")
    targets = "; ".join(f"{source} → {target}: {what}" for (source, target), (what, _) in TARGETS.items())
    one.add_argument("--to", required=True, choices=sorted({target for _, target in TARGETS}), help=targets)
    _beside(one)
    one.add_argument("--out", type=Path, help="the file to write; standard output, where it is not given")
    one = command("sheets", _sheets, "everything that is printed of a class or course, as PDF files in a folder")
    one.add_argument("file", type=Path, help="a class file, class as text, run log or course (docs/formats.md)")
    _beside(one)
    one.add_argument("--out", type=Path, required=True, help="the folder to write to; it is made where it is not there")
    one.add_argument("--paper", choices=("a4", "letter"), default="a4", help="the size of the paper")
    papers = "; ".join(f"{kind}: {what}" for kind, (what, _) in PAPERS.items())
    one.add_argument(
        "--only", choices=sorted(PAPERS), action="append", help=f"only this one (again for more); {papers}"
    )
    one = command("activities", _activities, "what everybody did in a run, as FIT or TCX files in a folder")
    one.add_argument("file", type=Path, help="a run log (docs/formats.md)")
    one.add_argument("--out", type=Path, required=True, help="the folder to write to; it is made where it is not there")
    one.add_argument("--as", dest="kind", choices=("fit", "tcx"), default="fit", help="the format")
    one.add_argument("--laps", choices=("blocks", "stations"), default="blocks", help="where laps begin")
    one.add_argument(
        "--heart", type=_heart_of, action="append", default=[], metavar="PERSON=FILE", help="somebody's recording"
    )
    command(
        "schema",
        lambda options: json.dumps(json_schema(), indent=2, ensure_ascii=False),
        "the JSON Schema of a class file",
    )
    return parser


def _beside(command: argparse.ArgumentParser) -> None:
    told = "the class file whose room, people and own entries a class as text means"
    command.add_argument("--with", dest="beside", type=Path, metavar="CLASS", help=told)


def _share(text: str) -> float:
    share = float(text)
    if not 0.1 <= share <= 0.9:
        raise argparse.ArgumentTypeError("a share of the recording, 0.1 to 0.9")
    return share


def _heart_of(text: str) -> tuple[str, Path]:
    person, sign, path = text.partition("=")
    if not (person and sign and path):
        raise argparse.ArgumentTypeError("a person's id and a recording: tobin=tobin.fit")
    return person, Path(path)


def _class_of(options: argparse.Namespace) -> ClassFile:
    """A class file, or a class as text with the class file that stands beside it."""
    if options.beside is not None:
        file = load_text(options.file, options.beside)
    elif is_text(options.file):
        message, right = "is a class as text", "the class file it belongs to, --with CLASS.json"
        raise FaultyInput([Fault(path="file", place=options.file.name, field="file", message=message, right=right)])
    else:
        file = load_class(options.file)
    return file


def _forecast(options: argparse.Namespace) -> str:
    file = _class_of(options)
    result = forecast(file)
    return as_table(file.plan, result) if options.table else result.model_dump_json(indent=1)


def _heart(options: argparse.Namespace) -> str:
    body = None if options.body is None else load_body(options.body)
    told = judge_heart(load_recording(options.file), body, options.known_until)
    return told.model_dump_json(indent=1) if options.json else heart_table(told)


def _run(options: argparse.Namespace) -> str:
    """A run log as a table. Raises FaultyInput with every fault at its line."""
    file, events = load_run(options.file)
    counting = standing(events)
    began = next((event.happened_at for event in counting if event.kind == "began"), None)
    now = max((event.happened_at for event in counting), default=datetime.now(UTC))
    if options.at is not None and began is not None:
        now = began + timedelta(seconds=options.at)
    run_state = replay_events(file, events, now)
    return run_table(
        run_state, actual_class(file, run_state), log_of(file, events, run_state), people_now(file, run_state)
    )


def _check(options: argparse.Namespace) -> str:
    found = check(options.file, options.beside)
    return f"{options.file.name}: a {found.format.name}, {found.words}"


def _convert(options: argparse.Namespace) -> str:
    text = convert(options.file, options.to, options.beside)
    if options.out is None:
        return text
    try:
        options.out.write_text(text, encoding="utf-8", newline="")
    except OSError as error:
        fault = Fault(
            path="out",
            place=options.out.name,
            field="out",
            message=f"cannot be written ({error.strerror})",
            right="the path of a file in a folder that is there",
        )
        raise FaultyInput([fault]) from error
    return ""


def _sheets(options: argparse.Namespace) -> str:
    kind = kind_of(options.file).id
    if kind == "course":
        course = read_course(read_json(options.file)).course
        return _written(options.out, [("programme.pdf", draw(programme(course, catalogue()), options.paper)[0])])
    printed = Printed(load_run(options.file)[0] if kind == "run" else _class_of(options))
    papers = ((f"{kind}.pdf", PAPERS[kind][1](printed, date.today())) for kind in options.only or PAPERS)
    return _written(options.out, ((name, draw(paper, options.paper)[0]) for name, paper in papers))


def _activities(options: argparse.Namespace) -> str:
    file, events = load_run(options.file)
    counting = standing(events)
    began = next((event.happened_at for event in counting if event.kind == "began"), None)
    if began is None:
        message, right = "is a run that never began", "a run that is over"
        raise FaultyInput([Fault(path="run", place=options.file.name, field="run", message=message, right=right)])
    run_state = replay_events(file, events, max(event.happened_at for event in counting))
    real = actual_class(file, run_state)
    hearts = {}
    for person, path in options.heart:
        series = load_recording(path)
        apart = None if series.start is None else (series.start - began).total_seconds()
        hearts[person] = (series, recorded_path(real.file, person, series, apart, real.timeline).offset_s)
    found = activities_of(file, events, run_state, began, hearts, options.laps)
    files = (
        (f"{key}.{options.kind}", write_fit(item) if options.kind == "fit" else write_tcx(item).encode())
        for key, item in found.items()
    )
    return _written(options.out, files)


def _written(folder: Path, files: Iterable[tuple[str, bytes]]) -> str:
    """Write files into a folder and tell of each. Raises FaultyInput where they cannot be written."""
    told = []
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, content in files:
            (folder / name).write_bytes(content)
            told.append(f"wrote {folder / name}")
    except OSError as error:
        message, right = f"cannot be written ({error.strerror})", "a folder that can be written to"
        raise FaultyInput([Fault(path="out", place=folder.name, field="out", message=message, right=right)]) from error
    return "\n".join(told)


if __name__ == "__main__":
    sys.exit(main())
