"""The file of a studio: written and read back, and every way in which one can be broken told for what it is."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
import zlib
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator
from oaken.basis.faults import FaultyInput
from oaken.basis.limits import most
from oaken.exports.studio_file import House, KeptHeart, StudioReader, StudioWriter, json_schema
from oaken.heart_data.recordings import person_named

NOW = datetime(2026, 11, 27, 8, 0, tzinfo=UTC)
HOUSE = House(name="Alder Mill", time_zone="UTC", house_rules=[], load_rules={}, revision=1, works=[])


def studio(**more: bytes) -> bytes:
    """The smallest file of a studio, with more files in it (their names with __ for a slash)."""
    out = io.BytesIO()
    with StudioWriter(out, "Alder Mill", NOW) as file:
        file.write("studio.json", [HOUSE.model_dump_json().encode()])
        file.write("rooms.jsonl", [])
        file.write("people.jsonl", [])
        for name, content in more.items():
            file.write(name.replace("__", "/").replace("_dot_", "."), [content])
    return out.getvalue()


def repacked(content: bytes, change: Callable[[dict[str, bytes]], Any]) -> bytes:
    """The same file with its files changed; the manifest stays as it was unless it is changed too."""
    with zipfile.ZipFile(io.BytesIO(content)) as source:
        files = {name: source.read(name) for name in source.namelist()}
    change(files)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as target:
        for name, inside in files.items():
            target.writestr(name, inside)
    return out.getvalue()


def manifest_says(files: dict[str, bytes], **changes: Any) -> None:
    files["manifest.json"] = json.dumps({**json.loads(files["manifest.json"]), **changes}).encode()


def entered(files: dict[str, bytes], path: str, content: bytes, declared: int | None = None) -> None:
    """Put a file in, with its line in the manifest."""
    files[path] = content
    told = json.loads(files["manifest.json"])
    size = len(content) if declared is None else declared
    told["files"] = [item for item in told["files"] if item["path"] != path]
    told["files"].append({"path": path, "bytes": size, "sha256": hashlib.sha256(content).hexdigest()})
    files["manifest.json"] = json.dumps(told).encode()


def test_what_is_written_is_read_and_the_same_studio_gives_the_same_bytes() -> None:
    line = KeptHeart(person="tobin", kind="recording", source="CSV", seconds=[0, 1.5], bpm=[80, 81]).model_dump_json()
    content = studio(runs__1_dot_hearts_dot_jsonl=f"{line}\n{line}\n".encode())
    assert content == studio(runs__1_dot_hearts_dot_jsonl=f"{line}\n{line}\n".encode())
    reader = StudioReader(io.BytesIO(content))
    reader.check()
    assert reader.whole("studio.json", House) == HOUSE
    read = [record for _, record in reader.records("runs/1.hearts.jsonl", None, KeptHeart)]
    assert [item.seconds for item in read] == [[0, 1.5]] * 2
    assert reader.manifest.made_at == NOW


def test_the_files_of_a_folder_come_by_their_numbers() -> None:
    content = studio(runs__10_dot_json=b"{}", runs__2_dot_json=b"{}", runs__2_dot_log_dot_jsonl=b"{}")
    assert StudioReader(io.BytesIO(content)).paths("runs", ".json") == ["runs/2.json", "runs/10.json"]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (
            lambda files: files.update({"people.jsonl": b"{}"}),
            "not what its checksum says|larger than the manifest says",
        ),
        (lambda files: files.pop("rooms.jsonl"), "not in both zip and manifest"),
        (lambda files: files.update({"more.txt": b""}), "not in both zip and manifest"),
        (lambda files: entered(files, "../../etc/crontab", b"x"), "does not belong here"),
        (lambda files: entered(files, "/etc/passwd", b"x"), "does not belong here"),
        (lambda files: entered(files, "runs/1.py", b"x"), "does not belong here"),
        (lambda files: entered(files, "runs/1.json", bytes(10**7), 1000), "larger than the manifest says"),
        (lambda files: entered(files, "runs/1.json", b"x", 4 * 10**9), "MB unpacked"),
        (lambda files: files.pop("manifest.json"), "a zip without manifest.json"),
        (lambda files: files.update({"manifest.json": b"[]"}), "manifest.json"),
        (lambda files: files.update({"manifest.json": b"{"}), "is no JSON"),
        (lambda files: manifest_says(files, format="oaken-studio/9"), "newer version .*bring this installation up"),
        (lambda files: manifest_says(files, format="other/1"), "no format that can be read"),
        (lambda files: manifest_says(files, mood="good"), "not a field of this format"),
    ],
)
def test_a_file_that_was_changed_is_told_for_what_it_is(change: Callable[[dict[str, bytes]], Any], said: str) -> None:
    with pytest.raises(FaultyInput, match=said):
        StudioReader(io.BytesIO(repacked(studio(), change))).check()


@pytest.mark.parametrize("content", [b"", b"no zip", b"PK\x03\x04" + bytes(40), studio()[:-30], studio()[40:]])
def test_half_a_file_is_no_studio(content: bytes) -> None:
    with pytest.raises(FaultyInput):
        StudioReader(io.BytesIO(content)).check()


def test_a_bomb_is_not_unpacked() -> None:
    """A file that unpacks to a thousand times its size is read only as far as its manifest says."""
    packed = repacked(studio(), lambda files: entered(files, "runs/1.json", bytes(50 * 10**6), 10**6))
    assert len(packed) < 200_000
    parts = StudioReader(io.BytesIO(packed))._parts("runs/1.json")
    read: list[int] = []
    with pytest.raises(FaultyInput, match="larger than the manifest says"):
        read.extend(len(part) for part in parts)
    assert sum(read) <= 10**6


def test_a_line_without_an_end_is_refused() -> None:
    longest = most("studio_file.line")
    reader = StudioReader(io.BytesIO(studio(runs__1_dot_log_dot_jsonl=b"x" * (longest + 200_000))))
    with pytest.raises(FaultyInput, match="line 1 is too long"):
        list(reader.lines("runs/1.log.jsonl"))


def test_two_files_of_one_name_are_refused() -> None:
    out = io.BytesIO(studio())
    with zipfile.ZipFile(out, "a") as target, pytest.warns(UserWarning, match="Duplicate"):
        target.writestr("studio.json", b"{}")
    with pytest.raises(FaultyInput, match="two files of one name"):
        StudioReader(out)


def said_of(content: bytes) -> str:
    """The name of the studio, or what is wrong with the file."""
    try:
        reader = StudioReader(io.BytesIO(content))
        reader.check()
        return reader.whole("studio.json", House).name
    except FaultyInput as error:
        return str(error)


@given(st.binary(max_size=400), st.integers(0, 2000), st.booleans())
def test_no_damage_breaks_the_reader(noise: bytes, at: int, cut: bool) -> None:
    """Whatever happens to the bytes: a fault in words, or the studio whole."""
    whole = studio(runs__1_dot_sets_dot_csv=b"person,on\r\n")
    at %= len(whole)
    content = whole[:at] + noise + (b"" if cut else whole[at + len(noise) :])
    assert said_of(content)


def test_the_schema_is_one_and_holds_for_what_is_written() -> None:
    schema = json_schema()
    parts = [
        schema["manifest.json"],
        *(item for path in schema if path.endswith((".json", ".jsonl")) for item in schema[path]),
    ]
    for part in parts:
        if isinstance(part, dict):
            Draft202012Validator.check_schema(part)
    with zipfile.ZipFile(io.BytesIO(studio())) as source:
        Draft202012Validator(schema["manifest.json"]).validate(json.loads(source.read("manifest.json")))
        Draft202012Validator(schema["studio.json"][0]).validate(json.loads(source.read("studio.json")))
        assert zlib.crc32(source.read("rooms.jsonl")) == 0


PEOPLE = {"ines": "Ines Fallow", "tobin": "Tobin Askrigg", "una": "Úna Larch", "una-2": "Una Beck", "lee": "Lee"}


@pytest.mark.parametrize(
    ("file", "whose"),
    [
        ("2026-11-24_Ines-Fallow.fit", "ines"),
        ("ASKRIGG, tobin.tcx", "tobin"),
        ("belts/tuesday/tobin.csv", "tobin"),
        ("una larch 24.11.csv", "una"),
        ("Una.csv", None),  # two are called so
        ("una beck.gpx", "una-2"),
        ("Leeward.csv", None),  # not a word of its own
        ("lee.csv", "lee"),
        ("ines and tobin.csv", None),
        ("activity_7719.fit", None),
        ("", None),
    ],
)
def test_a_recording_finds_its_person_by_the_name_of_the_file(file: str, whose: str | None) -> None:
    assert person_named(file, PEOPLE) == whose
