"""Open the demo and leave once it is painted."""

import sys

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

app = QApplication(sys.argv)

from bright_tether.desktop.start import build  # noqa: E402

window = build(app, ["--demo"])
window.show()
app.processEvents()
window.steps["line"].picture.repaint()
QTimer.singleShot(0, window.close)
app.exec()
