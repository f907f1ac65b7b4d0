"""Files that are written: whole, or not there at all. And names and texts that any file can hold."""

from __future__ import annotations

import hashlib
import io
import os
import re
import stat
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import BinaryIO
from urllib.parse import unquote_to_bytes

#: Steps up from a study's folder that still are near.
_NEAR = 2
#: What XML 1.0 cannot hold, and halves of characters that no encoding can.
_NOT_XML = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff\ud800-\udfff]")


@contextmanager
def whole_file(
    path: Path, *, private: bool = False, before: Callable[[Path], object] = lambda target: None
) -> Iterator[BinaryIO]:
    """A file to write into; at the end it takes its place, whole. Where anything fails nothing is changed.

    A link stays a link; the file keeps its mode and, where that is allowed, its owner. What a killed
    program left of the same file is cleared. before : called with the place just before it is taken.
    A place that is no file (a device, a pipe) is written to as it is. Raises OSError.
    """
    target = Path(os.path.realpath(path))
    try:
        was = target.stat()
    except FileNotFoundError:
        was = None
    if was is not None and stat.S_ISDIR(was.st_mode):
        raise IsADirectoryError(21, "Is a directory")
    if was is not None and not stat.S_ISREG(was.st_mode):
        with target.open("wb") as file:
            yield file
        return
    _clear_leftovers(target)
    beside = target.with_name(f"{_mark(target)}{os.getpid()}.part")
    try:
        with open(
            os.open(beside, os.O_RDWR | os.O_CREAT | os.O_TRUNC, 0o600 if private else 0o666), "w+b"
        ) as file:
            yield file
            file.flush()
            if was is not None:
                with suppress(OSError):
                    os.fchown(file.fileno(), was.st_uid, was.st_gid)
                with suppress(OSError):
                    os.fchmod(file.fileno(), stat.S_IMODE(was.st_mode))
            os.fsync(file.fileno())
        before(target)
        os.replace(beside, target)
    finally:
        with suppress(OSError):
            beside.unlink(missing_ok=True)
    sync_folder(target.parent)


def put_whole(path: Path, content: bytes) -> None:
    """Write a file so that it is there whole or not at all. Raises OSError."""
    with whole_file(path) as file:
        file.write(content)


def put_made(path: Path, make: Callable[[io.BytesIO], object]) -> None:
    """Make a file's content in memory, for writers that swallow errors of the disk; then write it whole."""
    content = io.BytesIO()
    make(content)
    put_whole(path, content.getvalue())


def sync_folder(folder: Path) -> None:
    """Make the names in a folder last through a power loss, where the system can."""
    with suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def other_names(path: Path) -> int:
    """How many further names (hard links) a file has; they keep what it held when it is replaced."""
    try:
        return max(path.stat().st_nlink - 1, 0)
    except OSError:
        return 0


def digest_of(path: Path) -> str | None:
    """The SHA-256 of a file, None where it cannot be read."""
    try:
        with path.open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest()
    except OSError:
        return None


def path_text(path: Path) -> str:
    """A path as a text that any file can hold: as it is, or as a file: address where it is not UTF-8."""
    text = str(path.absolute())
    return text if printable(text) == text and not text.startswith("file:") else path.absolute().as_uri()


def text_path(text: str) -> Path:
    """The path behind ``path_text``."""
    return Path(os.fsdecode(unquote_to_bytes(text[7:]))) if text.startswith("file://") else Path(text)


def beside(text: str, folder: Path) -> str:
    """A path as a study in a folder keeps it: from there where that is near, so that both can be moved together."""
    if text.startswith("file:") or not os.path.isabs(text):
        return text
    near = os.path.relpath(text, folder)
    return near if near.split(os.sep).count(os.pardir) <= _NEAR else text


def from_folder(text: str, folder: Path) -> str:
    """The whole path behind ``beside``."""
    return (
        text
        if text.startswith("file:") or os.path.isabs(text)
        else os.path.normpath(folder.absolute() / text)
    )


def printable(text: str) -> str:
    """A text without halves of characters, which come from names that are not UTF-8."""
    return text if text.isascii() else text.encode("utf-8", "replace").decode()


def xml_text(text: str) -> str:
    """A text that XML can hold: control characters as the sign for what cannot be shown."""
    return _NOT_XML.sub("\ufffd", text)


def lives(process: str) -> bool:
    """Whether the process with this number runs; what is no number counts as living, and is left alone."""
    if not process.isdigit():
        return True
    try:
        os.kill(int(process), 0)
    except (ProcessLookupError, OverflowError):
        return False
    except OSError:
        return True
    return True


def _mark(target: Path) -> str:
    return f".{hashlib.sha256(os.fsencode(target.name)).hexdigest()[:12]}-"


def _clear_leftovers(target: Path) -> None:
    for left in target.parent.glob(f"{_mark(target)}*.part"):
        number = left.name[len(_mark(target)) : -len(".part")]
        if not lives(number):
            with suppress(OSError):
                left.unlink()
