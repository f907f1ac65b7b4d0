"""Open a bare window with the demo's points and leave once it is painted."""

import csv
import sys
from importlib.resources import files

import pyqtgraph as pg
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMainWindow

app = QApplication(sys.argv)
text = files("bright_tether.demo").joinpath("tarrow_visits.csv").read_text(encoding="utf-8")
rows = [row for row in csv.reader(text.splitlines()[1:]) if row[2] and row[3]]
plot = pg.PlotWidget()
plot.plot([float(r[2]) for r in rows], [float(r[3]) for r in rows], pen=None, symbol="o")
window = QMainWindow()
window.setCentralWidget(plot)
window.resize(1280, 800)
window.show()
app.processEvents()
plot.repaint()
QTimer.singleShot(0, window.close)
app.exec()
