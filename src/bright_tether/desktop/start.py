"""Start the window."""

from __future__ import annotations

import sys
import traceback
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from bright_tether.desktop.deeds import add_deeds
from bright_tether.desktop.document import SUFFIX
from bright_tether.desktop.layout import apply_size, restore_layout
from bright_tether.desktop.opening import PICTURES
from bright_tether.desktop.session import Session
from bright_tether.desktop.theming import Theme
from bright_tether.desktop.window import Window
from bright_tether.study.package import is_package


def start(arguments: list[str]) -> int:
    """Open the window on a blank study, on the demo study (``--demo``), or on files."""
    apply_size()
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(sys.argv[:1])
    app.setApplicationName("Bright Tether")
    app.setDesktopFileName("bright-tether")
    window = build(app, arguments)
    _catch_errors(window)
    restore_layout(window)
    window.show()
    QTimer.singleShot(0, window.offer_unfinished)
    return app.exec()


def build(app: QApplication, arguments: list[str]) -> Window:
    """The window, with what the arguments ask for."""
    demo = "--demo" in arguments
    files = [Path(name) for name in arguments if not name.startswith("-")]
    if demo:
        from bright_tether.demo.study import demo_study

        session = Session(demo_study(), step="line")
        session.walked |= {"gather"}
    else:
        session = Session()
    window = Window(session, Theme(app))
    add_deeds(window)
    for path in files:
        if path.suffix == SUFFIX or is_package(path):
            window.document.open(path)
        elif path.suffix.lower() in PICTURES:
            window.opening.read_picture(path)
        else:
            session.open_file(path)
    return window


def _catch_errors(window: Window) -> None:
    """An error in a slot is said in the window and told on standard error; it does not end the program."""

    def caught(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        traceback.print_exception(kind, error, trace)
        said = f"Something went wrong here ({kind.__name__}); the study is as it was. Please report it."
        QTimer.singleShot(0, lambda: window.notice.say(said))

    sys.excepthook = caught
