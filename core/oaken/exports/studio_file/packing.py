"""Writes the file of a studio: a zip, one file inside after the other, with a manifest of checksums at its end."""

from __future__ import annotations

import hashlib
import zipfile
from collections.abc import Iterable
from datetime import datetime
from types import TracebackType
from typing import IO

from oaken.exports.studio_file.document import FORMAT, Manifest, Packed

MANIFEST = "manifest.json"
_WRITTEN = (1980, 1, 1, 0, 0, 0)
"""Every file inside has the date that zips begin with: the same studio gives the same bytes."""


class StudioWriter:
    """Takes files in the order they come; nothing but the one that is being written is held in memory.

    Use it in a `with`: the manifest is written when it ends without an exception.
    """

    def __init__(self, target: IO[bytes], name: str, made_at: datetime) -> None:
        self._zip = zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, compresslevel=4)
        self._name, self._made_at = name, made_at
        self._files: list[Packed] = []

    def __enter__(self) -> StudioWriter:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if kind is None:
            manifest = Manifest(format=FORMAT, name=self._name, made_at=self._made_at, files=self._files)
            with self._open(MANIFEST) as out:
                out.write(manifest.model_dump_json(indent=1).encode())
        self._zip.close()

    def write(self, path: str, parts: Iterable[bytes]) -> None:
        """Write one file from its parts."""
        digest, size = hashlib.sha256(), 0
        with self._open(path) as out:
            for part in parts:
                out.write(part)
                digest.update(part)
                size += len(part)
        self._files.append(Packed(path=path, bytes=size, sha256=digest.hexdigest()))

    def _open(self, path: str) -> IO[bytes]:
        info = zipfile.ZipInfo(path, _WRITTEN)
        info.compress_type = zipfile.ZIP_DEFLATED
        info.external_attr = 0o600 << 16
        return self._zip.open(info, "w")
