"""Open the demo as the launcher does, and leave once it is painted."""

import sys

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from bright_tether.launcher import open_window


def leave() -> None:
    app.processEvents()
    (window,) = (one for one in app.topLevelWidgets() if one.objectName() == "window")
    window.steps["line"].picture.repaint()
    window.close()


app = QApplication(sys.argv)
QTimer.singleShot(0, leave)
open_window(["--demo"])
