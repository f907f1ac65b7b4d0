"""Both columns in their own units with what lies far out bent inward: each point is still its row."""

from __future__ import annotations

from PyQt6.QtGui import QFont

from bright_tether.live.cloud import Cloud
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens


class BentPicture(ScatterPicture):
    """Bent values stand at −1 and +1, where the middle of their column ends."""

    of_tether = False
    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.restyle(tokens)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """By the bent values; rows set aside are not there."""
        if points is None or self.findings.refusal is not None:
            return None
        return self.findings.bent_points

    def axis_name(self, axis: str) -> str:
        """Each column from its centre, ±1 where its middle ends."""
        if not self.findings.tied:
            return super().axis_name(axis)
        column = self.findings.x_column if axis == "x" else self.findings.y_column
        return f"{column.short}, bent: ±1 where its middle ends"
