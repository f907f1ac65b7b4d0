"""The window's size and place, and how large everything is shown, remembered from one day to the next."""

from __future__ import annotations

import base64
import os
from contextlib import suppress

import msgspec
from PyQt6.QtCore import QByteArray
from PyQt6.QtWidgets import QWidget

from bright_tether.study.journal import state_folder
from bright_tether.tables.writing import put_whole

#: How large text and pictures can be, in per cent of the usual.
SIZES = (100, 115, 130, 150, 200)


def remember_layout(window: QWidget) -> None:
    """Write the window's geometry down."""
    _write(_read() | {"geometry": base64.b64encode(window.saveGeometry().data()).decode("ascii")})


def restore_layout(window: QWidget) -> None:
    """Put the window where it was last; a broken note changes nothing."""
    with suppress(KeyError, ValueError):
        window.restoreGeometry(QByteArray(base64.b64decode(_read()["geometry"])))


def shown_size() -> int:
    """How large everything is shown from the next start on, in per cent."""
    with suppress(ValueError):
        wanted = int(_read().get("size", "100"))
        return wanted if wanted in SIZES else 100
    return 100


def change_size(by: int) -> int:
    """One size larger (by 1) or smaller (by −1) from the next start on; the size then, in per cent."""
    at = min(max(SIZES.index(shown_size()) + by, 0), len(SIZES) - 1)
    _write(_read() | {"size": str(SIZES[at])})
    return SIZES[at]


def apply_size() -> None:
    """Have Qt show everything at the remembered size; before the application begins, and not over the desktop's."""
    if shown_size() != 100:
        os.environ.setdefault("QT_SCALE_FACTOR", str(shown_size() / 100))


def _read() -> dict[str, str]:
    with suppress(OSError, msgspec.MsgspecError):
        return msgspec.json.decode((state_folder() / "layout.json").read_bytes(), type=dict[str, str])
    return {}


def _write(layout: dict[str, str]) -> None:
    with suppress(OSError):
        state_folder().mkdir(parents=True, exist_ok=True)
        put_whole(state_folder() / "layout.json", msgspec.json.encode(layout))
