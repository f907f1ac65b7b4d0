"""What this program is."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import label
from bright_tether.words.about import FONT, LICENCE, NAME, libraries, own_version


class About(Popup):
    """Version, licence, libraries."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(f"About {NAME}", parent, 420)
        self.box.addWidget(label(f"Version {own_version()}, {LICENCE}", name="version"))
        self.box.addWidget(label("It stands on these libraries:", "quiet"))
        lines = QGridLayout()
        for at, line in enumerate(libraries()):
            for place, text in enumerate(line):
                lines.addWidget(label(text, "" if place < 2 else "quiet"), at, place)
        self.box.addLayout(lines)
        self.box.addWidget(label(FONT, "quiet", wrap=True))
