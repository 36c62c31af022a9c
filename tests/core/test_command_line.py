"""`python -m oaken forecast`: the same forecast as the application, and faults with exit code 2."""

import json
import shutil
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest
from oaken.__main__ import main
from oaken.forecast import forecast
from oaken.schedule.class_file.reading import load_class
from places import ROOT


def test_it_prints_the_forecast_as_json(example: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["forecast", str(example)]) == 0
    printed = json.loads(capsys.readouterr().out)
    assert printed == json.loads(forecast(load_class(example)).model_dump_json())


def test_it_prints_a_table_in_which_every_figure_has_its_unit(
    example: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["forecast", str(example), "--table"]) == 0
    table = capsys.readouterr().out
    result = forecast(load_class(example))
    for words in ("min:s", "kg/min", "sets/min", "bpm", "kcal", "AU", result.people[-1].name, result.blocks[1].name):
        assert words in table


def test_it_runs_as_a_program_without_the_server() -> None:
    command = [sys.executable, "-m", "oaken", "forecast", "examples/stretcher-legs.json", "--table"]
    done = subprocess.run(
        command, cwd=ROOT, env={"PYTHONPATH": "core", "PATH": ""}, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    assert "38:09 min:s" in done.stdout


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda text: text.replace('"work_s": 40', '"work_s": 2'), "block 2 “Stations”, work_s: is too small"),
        (lambda text: text.replace('"leg-extension"', '"leg-extention"'), "perhaps leg-extension"),
        (lambda text: text[:300], "is not JSON"),
        (lambda text: text.replace("alder-mill.json", "attic.json"), "attic.json, room: cannot be read"),
        (lambda text: text.replace("oaken-class/2", "oaken-class/9"), "bring this installation up to date"),
    ],
)
def test_a_faulty_file_gets_a_located_error_and_exit_code_2(
    spoil: Callable[[str], str], words: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    for name in ("alder-mill.json", "hill-team.json"):
        shutil.copy(ROOT / "examples" / name, tmp_path)
    text = (ROOT / "examples" / "stretcher-legs.json").read_text(encoding="utf-8")
    faulty = tmp_path / "class.json"
    faulty.write_text(spoil(text), encoding="utf-8")
    assert main(["forecast", str(faulty)]) == 2
    captured = capsys.readouterr()
    assert captured.out == ""
    assert words in captured.err


def test_a_file_that_is_missing_or_no_text_is_told_apart(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["forecast", str(tmp_path / "none.json")]) == 2
    assert "cannot be read" in capsys.readouterr().err
    (tmp_path / "bytes.json").write_bytes(b"\xff\xfe{}")
    assert main(["forecast", str(tmp_path / "bytes.json")]) == 2
    assert "not UTF-8" in capsys.readouterr().err


def test_a_class_as_text_is_forecast_with_a_class_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    beside = str(ROOT / "examples" / "stretcher-legs.json")
    text = tmp_path / "evening.txt"
    text.write_text("class Evening\nblock Legs: sets\nhacksquat 3x10 @60%, rest 60\n", encoding="utf-8")
    assert main(["forecast", str(text)]) == 2
    assert "--with CLASS.json" in capsys.readouterr().err
    assert main(["forecast", str(text), "--with", beside, "--table"]) == 0
    assert capsys.readouterr().out.startswith("Evening\n")
    text.write_text("class Evening\ntaken no-such-unit\nblock Legs: sets\nsquats 3x10\n", encoding="utf-8")
    assert main(["forecast", str(text), "--with", beside]) == 2
    told = capsys.readouterr().err.splitlines()
    assert [line.split(":")[1].strip() for line in told] == [
        "line 2, column 7, “no-such-unit”",
        "line 4, column 1, “squats”",
    ]


def test_the_published_schema_is_the_one_in_docs(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["schema"]) == 0
    published = json.loads((ROOT / "docs" / "class.schema.json").read_text(encoding="utf-8"))
    assert json.loads(capsys.readouterr().out) == published
