"""What draws pictures and sets pages, as the account sees it; it draws nothing itself."""

from __future__ import annotations

from typing import Protocol

from bright_tether.live.findings import Findings
from bright_tether.study.pins import Drawing


class Press(Protocol):
    """Draws pictures and sets pages; made by whoever knows how to draw."""

    def draw(self, findings: Findings, step: str, view: str) -> Drawing | None:
        """The picture of a step, or None where there is none."""

    def pixels(self, drawing: Drawing) -> bytes:
        """A picture as PNG, for programs that show no vectors; nothing where nothing is drawn."""


class NoPress:
    """Draws nothing: for accounts in words and figures alone."""

    def draw(self, findings: Findings, step: str, view: str) -> Drawing | None:
        """Nothing."""
        return None

    def pixels(self, drawing: Drawing) -> bytes:
        """Nothing."""
        return b""


NO_PRESS = NoPress()
