"""Keeping a piece of a step for the write-up."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from bright_tether.desktop.session import Session
from bright_tether.study.pin_changes import put_pin

if TYPE_CHECKING:
    from bright_tether.desktop.window import Window

_WITHOUT_PICTURE = frozenset({"Gather"})


def pinnable(step: QWidget, session: Session) -> frozenset[str]:
    """Which parts of a step can be pinned now."""
    findings, name = session.findings, session.step
    if not findings.tied:
        return frozenset()
    if findings.refusal is not None:
        return frozenset({"reading"})
    parts = {"reading", "figures", "table"}
    if name not in _WITHOUT_PICTURE:
        parts.add("picture")
    if step.workings is not None:
        parts.add("working")
    if name == "Doubts" and findings.tether.lineups:
        parts.add("lineup")
    return frozenset(parts)


def pin_part(window: Window, part: str) -> None:
    """Pin a part of the step on the stage, in the view that it shows."""
    session = window.session
    step = window.step(session.step)
    if part not in pinnable(step, session):
        return
    view = getattr(step, "view", "")
    edit = put_pin(session.history.study, part, tether=session.tether.id, step=session.step, view=view)  # type: ignore[arg-type]
    session.do(edit)
    session.told.emit(f"The {part} of {session.step} is pinned: it stands last in the write-up (Alt+9).")
