"""The figures of a reading, one below the other: name, value, and what stands beside it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QLabel

from bright_tether.desktop.parts.widgets import label
from bright_tether.words.reading import Figure

#: Pixels that a figure may take across in a narrow window, those of the words beside it, and between them.
_ROOM, _BESIDE, _SPACE = 290, 140, 10
_ANY_WIDTH = 16_777_215  # Qt's own
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


class FigureRow:
    """One figure, abreast or, for want of room, one piece above the other."""

    def __init__(self) -> None:
        self.name, self.value = label(kind="quiet", wrap=True), label(kind="value")
        self.beside = label(kind="quiet")
        self.value.setAlignment(_RIGHT)
        self._placed: tuple[bool, bool] | None = None

    def tell(self, figure: Figure) -> None:
        """Take the words of a figure."""
        self.name.setText(figure.name)
        self.value.setText(figure.value)
        self.beside.setText(figure.beside)
        self.value.setAccessibleName(figure.name)
        self.value.setAccessibleDescription(f"{figure.value} {figure.beside}")

    def show(self, there: bool) -> None:
        """Show it, or not."""
        for piece in (self.name, self.value, self.beside):
            piece.setVisible(there and (piece is not self.beside or bool(piece.text())))

    @property
    def widths(self) -> tuple[int, int, int]:
        """Pixels that it needs at least: its name's longest word, its value, the words beside it."""
        words = max((_wide(self.name, word) for word in self.name.text().split()), default=0)
        return words, _wide(self.value) + _SPACE, min(_wide(self.beside), _BESIDE) + _SPACE

    def place(self, grid: QGridLayout, row: int, *, above: bool) -> None:
        """Put it into three rows of a grid. Long words beside the value go on in the next line."""
        long = not above and _wide(self.beside) > _BESIDE
        if (above, long) == self._placed:
            return
        self._placed = above, long
        self.beside.setWordWrap(long or above)
        self.beside.setMinimumWidth(_BESIDE if long else 0)
        self.beside.setMaximumWidth(_BESIDE if long else _ANY_WIDTH)
        self.beside.setAlignment(_RIGHT if above else _LEFT)
        for at, piece in enumerate((self.name, self.value, self.beside)):
            if above:
                grid.addWidget(piece, row + at, 0, 1, 3)
            else:
                grid.addWidget(piece, row, at)


class FigureRows(QGridLayout):
    """As many figures as a reading has; names keep their longest word."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[FigureRow] = []
        self.setColumnStretch(0, 1)
        self.setHorizontalSpacing(_SPACE)
        self.setVerticalSpacing(4)

    def show_figures(self, figures: Sequence[Figure]) -> None:
        """Show these."""
        self.rows += [FigureRow() for _ in range(len(figures) - len(self.rows))]
        for row, figure in zip(self.rows, figures, strict=False):
            row.tell(figure)
        widths = [row.widths for row in self.rows[: len(figures)]]
        abreast = [one for one in widths if sum(one) <= _ROOM]
        value, beside = (max((one[at] for one in abreast), default=0) for at in (1, 2))
        for at, needed in enumerate(widths):
            above = sum(needed) > _ROOM or needed[0] + value + beside > _ROOM
            self.rows[at].place(self, 3 * at, above=above)
        for at, row in enumerate(self.rows):
            row.show(at < len(figures))


def _wide(piece: QLabel, words: str | None = None) -> int:
    return piece.fontMetrics().horizontalAdvance(piece.text() if words is None else words)
