"""The studies that ship along, and the files of the second."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog

from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.desktop.window import Window
from bright_tether.tables.writing import printable
from bright_tether.words.causes import said_of


def walk_demo(window: Window) -> None:
    """The demo study in place of a blank one, and the walk through its steps."""
    from bright_tether.demo.study import demo_study

    window.document.start(demo_study(), window.tour.begin)


def open_loggers(window: Window) -> None:
    """The second demo study: months stacked, stations joined, sites sampled again."""
    from bright_tether.demo.loggers import loggers_study

    window.document.start(loggers_study(), lambda: window.session.show_step("gather"))


def open_what_else(window: Window) -> None:
    """The third demo study, at what holding rain does to a slope."""
    from bright_tether.demo.what_else import what_else_study

    def show() -> None:
        window.session.show_step("line")
        stage = window.step("line")
        assert isinstance(stage, StageOfViews)
        stage.show_view("held")

    window.document.start(what_else_study(), show)


def write_loggers(window: Window) -> None:
    """Put the files of the second demo where they can be dropped from."""
    folder = QFileDialog.getExistingDirectory(window, "Put the files into")
    if not folder:
        return
    from bright_tether.demo.make_loggers import write_files

    try:
        names = write_files(Path(folder))
    except OSError as error:
        window.session.notice(f"The files could not be written: {said_of(error)}.")
        return
    window.session.tell(
        f"Written into {printable(folder)}: {len(names)} files, from {names[0]} to {names[-1]}."
    )
