"""A table that was packed: .csv.gz, and a .zip of one file. A trap costs next to nothing."""

from __future__ import annotations

import gzip
import io
import zipfile
import zlib
from pathlib import PurePosixPath
from typing import IO

from bright_tether.tables.delimited import Trouble, UnreadableFile

_GZIP = b"\x1f\x8b"
#: Bytes that a file may unpack to, and how many times its own size beyond the first ten million.
_MOST_BYTES, _MOST_SWELL = 3_000_000_000, 300


def unpacked(content: bytes, name: str) -> tuple[bytes, str]:
    """What a packed file holds, and its name; any other file as it is. Raises UnreadableFile."""
    if content.startswith(_GZIP):
        return _within(gzip.GzipFile(fileobj=io.BytesIO(content)), len(content), name), name.removesuffix(
            ".gz"
        )
    if not name.lower().endswith(".zip"):
        return content, name
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as package:
            held = [one for one in package.infolist() if not one.is_dir() and not _beside(one.filename)]
            if len(held) != 1:
                raise UnreadableFile(Trouble.SEVERAL_FILES, name, found=len(held))
            with package.open(held[0]) as member:
                return _within(member, len(content), name), PurePosixPath(held[0].filename).name
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError):
        raise UnreadableFile(Trouble.DAMAGED, name) from None


def _within(file: IO[bytes] | gzip.GzipFile, packed: int, name: str) -> bytes:
    most = min(_MOST_BYTES, 10_000_000 + _MOST_SWELL * packed)
    try:
        held = file.read(most + 1)
    except (OSError, EOFError, zlib.error, zipfile.BadZipFile):
        raise UnreadableFile(Trouble.DAMAGED, name) from None
    if len(held) > most:
        raise UnreadableFile(Trouble.TOO_LARGE, name)
    return held


def _beside(name: str) -> bool:
    """What archives hold beside the files that were put in."""
    return name.startswith("__MACOSX/") or PurePosixPath(name).name.startswith(".")
