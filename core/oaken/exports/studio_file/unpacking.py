"""Reads the file of a studio: nothing is unpacked to disk, no more is read than was declared, every line is checked."""

from __future__ import annotations

import hashlib
import re
import zipfile
import zlib
from collections.abc import Iterator
from typing import IO, TypeVar

import orjson
from pydantic import BaseModel, ValidationError

from oaken.basis.faults import Fault, FaultyInput, faults_of, unknown_format
from oaken.basis.limits import in_words, most
from oaken.exports.studio_file.document import FORMAT, Manifest
from oaken.exports.studio_file.packing import MANIFEST

KNOWN = re.compile(
    r"(studio\.json|(rooms|own-exercises|own-equipment|people)\.jsonl"
    r"|(classes|courses)/[1-9]\d{0,8}\.jsonl|runs/[1-9]\d{0,8}(\.json|\.(log|hearts)\.jsonl|\.sets\.csv))",
    re.ASCII,
)
"""What stands in such a file; anything else does not belong there."""

NEEDED = ("studio.json", "rooms.jsonl", "people.jsonl")
CHUNK = 1 << 16
_BROKEN = (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError, RuntimeError, ValueError)
"""What the zip reader raises where bytes make no sense, are cut off, or ask for a password."""

Line = TypeVar("Line", bound=BaseModel)


def faulty_studio(message: str, right: str, place: str = "the file") -> FaultyInput:
    """What is wrong with the file of a studio, or with one file inside."""
    return FaultyInput([Fault(path="file", place=place, field="file", message=message, right=right)])


class StudioReader:
    """The file of a studio, its manifest known to be right. Raises FaultyInput for anything that is no such file."""

    def __init__(self, source: IO[bytes]) -> None:
        source.seek(0, 2)
        size = source.tell()
        if size > most("studio_file.bytes"):
            raise faulty_studio(f"is {size / 1e6:,.0f} MB large", in_words("studio_file.bytes"))
        try:
            self._zip = zipfile.ZipFile(source)
            entries = self._zip.infolist()
        except _BROKEN as error:
            raise faulty_studio("is no zip, or was cut off", "the file that “Take the studio out” gives") from error
        if len(entries) > most("studio_file.files"):
            raise faulty_studio(f"holds {len(entries):,} files", in_words("studio_file.files"))
        self._entries = {entry.filename: entry for entry in entries}
        if MANIFEST not in self._entries:
            raise faulty_studio(f"is a zip without {MANIFEST}", "the file that “Take the studio out” gives")
        if len(self._entries) < len(entries):
            raise faulty_studio("holds two files of one name", "each once")
        self.manifest = self._manifest()
        self._packed = {file.path: file for file in self.manifest.files}
        self._check_names()

    def paths(self, folder: str, ending: str) -> list[str]:
        """The files of a folder by their number: `runs/1.json`, `runs/2.json`."""
        numbers = [
            int(path[len(folder) + 1 : -len(ending)])
            for path in self._packed
            if path.startswith(f"{folder}/")
            and path.endswith(ending)
            and path[len(folder) + 1 : -len(ending)].isdigit()
        ]
        return [f"{folder}/{number}{ending}" for number in sorted(numbers)]

    def has(self, path: str) -> bool:
        """Whether there is such a file."""
        return path in self._packed

    def check(self) -> None:
        """Read every file once, and hold it to its checksum. Raises FaultyInput for the first that is not whole."""
        for path in self._packed:
            for _ in self._parts(path):
                pass

    def lines(self, path: str) -> Iterator[tuple[int, bytes]]:
        """The lines of a file with their numbers, without the sign that ends them."""
        longest = most("studio_file.line")
        number, length = 0, 0
        # pieces of a line that is not over: joined once, however many there are
        pieces: list[bytes] = []
        for part in self._parts(path):
            first, *others = part.split(b"\n")
            pieces.append(first)
            length += len(first)
            if length > longest:
                raise faulty_studio(f"line {number + 1} is too long", in_words("studio_file.line"), path)
            for begun in others:
                number += 1
                yield number, b"".join(pieces)
                pieces, length = [begun], len(begun)
        if length:
            yield number + 1, b"".join(pieces)

    def records(self, path: str, first: type[BaseModel] | None, others: type[Line]) -> Iterator[tuple[int, Line]]:
        """Every line behind the first, which is left to `head` where it is of another kind."""
        for number, line in self.lines(path):
            if number > 1 or first is None:
                yield number, read_line(path, number, line, others)

    def head(self, path: str, kind: type[Line]) -> Line:
        """The first line of a file."""
        for number, line in self.lines(path):
            return read_line(path, number, line, kind)
        raise faulty_studio("is empty", "a first line", path)

    def whole(self, path: str, kind: type[Line]) -> Line:
        """A file that is one document."""
        return read_line(path, 1, b"\n".join(line for _, line in self.lines(path)), kind)

    def _parts(self, path: str) -> Iterator[bytes]:
        packed = self._packed[path]
        digest, size = hashlib.sha256(), 0
        try:
            with self._zip.open(self._entries[path]) as source:
                while part := source.read(CHUNK):
                    size += len(part)
                    if size > packed.bytes:
                        raise faulty_studio("is larger than the manifest says", f"{packed.bytes:,} bytes", path)
                    digest.update(part)
                    yield part
        except FaultyInput:
            raise
        except _BROKEN as error:
            raise faulty_studio(
                "cannot be unpacked: it was cut off or changed", "the file as it was made", path
            ) from error
        if size != packed.bytes or digest.hexdigest() != packed.sha256:
            raise faulty_studio(
                "is not what its checksum says: it was cut off or changed", "the file as it was made", path
            )

    def _manifest(self) -> Manifest:
        entry = self._entries[MANIFEST]
        if entry.file_size > most("studio_file.line"):
            raise faulty_studio("is too large", in_words("studio_file.line"), MANIFEST)
        try:
            with self._zip.open(entry) as source:
                content = source.read(most("studio_file.line") + 1)
        except _BROKEN as error:
            raise faulty_studio(
                "cannot be unpacked: it was cut off or changed", "the file as it was made", MANIFEST
            ) from error
        try:
            document = orjson.loads(content)
        except orjson.JSONDecodeError as error:
            raise faulty_studio(f"is no JSON: {error.msg}", "the file as it was made", MANIFEST) from error
        written = document.get("format") if isinstance(document, dict) else None
        if isinstance(written, str) and written != FORMAT:
            raise FaultyInput([unknown_format(written, (FORMAT,)).model_copy(update={"place": MANIFEST})])
        return read_line(MANIFEST, 1, content, Manifest)

    def _check_names(self) -> None:
        there = set(self._entries) - {MANIFEST}
        if there != set(self._packed) or len(self._packed) != len(self.manifest.files):
            odd = sorted(there ^ set(self._packed))[:1] or ["a file twice"]
            raise faulty_studio(f"{odd[0][:80]!r} is not in both zip and manifest", "each file once", MANIFEST)
        for path in self._packed:
            if not KNOWN.fullmatch(path):
                raise faulty_studio(f"{path!r} does not belong here", "only what a studio's file holds", MANIFEST)
        for path in NEEDED:
            if path not in self._packed:
                raise faulty_studio(f"{path} is missing", "the file as it was made")
        total = sum(file.bytes for file in self.manifest.files)
        if total > most("studio_file.unpacked"):
            raise faulty_studio(f"would be {total / 1e6:,.0f} MB unpacked", in_words("studio_file.unpacked"))


def read_line(path: str, number: int, line: bytes, kind: type[Line]) -> Line:
    """One document of a line. Raises FaultyInput with every fault, at its file and line."""
    place = path if path.endswith(".json") else f"{path}, line {number}"
    try:
        document = orjson.loads(line)
    except orjson.JSONDecodeError as error:
        raise faulty_studio(f"is no JSON: {error.msg} (column {error.colno})", "JSON", place) from error
    try:
        return kind.model_validate_json(line)
    except ValidationError as error:
        found = faults_of(error, document)
        raise FaultyInput([item.model_copy(update={"place": f"{place}, {item.place}"}) for item in found]) from error
