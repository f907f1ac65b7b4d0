"""The window's size and place, remembered from one day to the next."""

from __future__ import annotations

import base64
from contextlib import suppress

import msgspec
from PyQt6.QtCore import QByteArray
from PyQt6.QtWidgets import QWidget

from bright_tether.study.journal import state_folder
from bright_tether.tables.writing import put_whole


def remember_layout(window: QWidget) -> None:
    """Write the window's geometry down."""
    told = {"geometry": base64.b64encode(window.saveGeometry().data()).decode("ascii")}
    with suppress(OSError):
        state_folder().mkdir(parents=True, exist_ok=True)
        put_whole(state_folder() / "layout.json", msgspec.json.encode(told))


def restore_layout(window: QWidget) -> None:
    """Put the window where it was last; a broken note changes nothing."""
    with suppress(OSError, msgspec.MsgspecError, KeyError, ValueError):
        told = msgspec.json.decode((state_folder() / "layout.json").read_bytes(), type=dict[str, str])
        window.restoreGeometry(QByteArray(base64.b64decode(told["geometry"])))
