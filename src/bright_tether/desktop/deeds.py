"""Everything that can be done in the window, with its words and keys."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget

from bright_tether.account.tables import SUFFIXES, export_table
from bright_tether.desktop import demos
from bright_tether.desktop.document import SUFFIX
from bright_tether.desktop.grid import Grid
from bright_tether.desktop.layout import change_size
from bright_tether.desktop.opening import PICTURES
from bright_tether.desktop.parts.pinning import pinnable
from bright_tether.desktop.parts.reading_panel import PARTS
from bright_tether.desktop.parts.table_deeds import TableDeeds
from bright_tether.desktop.recent import recent_studies
from bright_tether.desktop.window import Window
from bright_tether.steps.catalogue import STEPS, step_of
from bright_tether.study import axes, changes
from bright_tether.study.pins import Part
from bright_tether.tables.row_ids import NO_ROWS
from bright_tether.tables.writing import printable
from bright_tether.words.causes import said_of

_TABLES = "*.csv *.tsv *.txt *.tab *.gz *.xlsx *.xls *.ods *.parquet *.arrow *.feather *.json *.sqlite *.db *.duckdb"


def add_deeds(window: Window) -> None:
    """Give the window its list of actions."""
    _add_files(window)
    _add_changes(window)
    _add_columns_and_rows(window)
    _add_views(window)


def _add_files(window: Window) -> None:
    add, document, session = window.actions_list.add, window.document, window.session
    add("Open a study, a table or a picture of a plot…", "Ctrl+O", lambda: _open(window), study=True)
    add("Draw a share of a table that stays where it is…", "", lambda: _far(window), study=True)
    add("Draw a share of a folder of Parquet files…", "", lambda: _far(window, folder=True), study=True)
    recent = recent_studies()
    for path in recent:
        add(f"Open again: {path.stem}", "", partial(document.open, path), study=True)
    add("Start a new study", "Ctrl+N", document.new, study=True)
    add("Save the study", "Ctrl+S", lambda: None if document.save() else _save_as(window), study=True)
    add("Save the study under another name…", "Ctrl+Shift+S", lambda: _save_as(window), study=True)
    add("What differs from the study as it was saved", "",
        lambda: window.opening.hold_against(document.path), lambda: document.path is not None, study=True)  # fmt: skip
    add("What differs from another study…", "", window.opening.hold_against, study=True)
    add("Call the study something else", "", window.rename_study, study=True)
    add("Write this table to a file…", "Ctrl+Shift+E", lambda: _export(window), study=True)
    add("Walk the demo study", "", lambda: demos.walk_demo(window), study=True)
    add("Open the second demo: files that keep coming", "", lambda: demos.open_loggers(window), study=True)
    add(
        "Open the third demo: what else could explain it",
        "",
        lambda: demos.open_what_else(window),
        study=True,
    )
    add("Put the second demo’s files into a folder…", "", lambda: demos.write_loggers(window), study=True)
    add("Walk through the nine steps", "", window.tour.begin)
    add("State a truth and draw pairs from it…", "", lambda: _state_truth(window))

    def ways_in() -> dict[str, Callable[[], object]]:
        return {
            "Open a file…": lambda: _open(window),
            **{f"Open again: {path.stem}": partial(document.open, path) for path in recent[:2]},
            "Walk the demo study": lambda: demos.walk_demo(window),
            "Files that keep coming": lambda: demos.open_loggers(window),
            "State a truth and draw pairs from it…": lambda: _state_truth(window),
        }

    session.ways_in = ways_in
    window.show_findings()
    add("Read the table's file again", "F5", window.sources.read_again, window.sources.has_file)
    add("Read points off a picture on the clipboard", "", lambda: window.opening.read_picture(None))
    add("Take up unsaved work", "", window.offer_unfinished, lambda: bool(document.unfinished()))


def _add_changes(window: Window) -> None:
    add, session = window.actions_list.add, window.session
    add("Undo the last change", "Ctrl+Z", session.undo, lambda: bool(session.history.done), study=True)
    redo = lambda: bool(session.history.undone)  # noqa: E731
    add("Redo the change taken back", "Ctrl+Shift+Z", session.redo, redo, study=True)

    def list_changes() -> None:
        from bright_tether.desktop.parts.change_list import ChangeList

        ChangeList(session, window).show_by(window.head.path)

    add("List the changes", "Ctrl+H", list_changes)


def _add_columns_and_rows(window: Window) -> None:
    add, session = window.actions_list.add, window.session

    def in_gather() -> bool:
        return session.step == "gather"

    def at_hand() -> bool:
        return in_gather() and bool(window.stage_of("gather").grid.column_at_hand())

    add("Swap x and y", "Alt+S", lambda: session.tie(axes.swap_axes(session.history.study, session.tether)))

    def tie(axis: str) -> None:
        window.stage_of("gather").tie_at_hand(axis)

    for axis in ("x", "y"):
        words, keys = f"Tie the column at the cursor as {axis}", f"Alt+{axis.upper()}"
        add(words, keys, partial(tie, axis), at_hand)

    def work_out() -> None:
        from bright_tether.desktop.parts.work_out import WorkOut

        WorkOut(session, window).show_by(window.shelf.filter)

    def draw_one() -> None:
        from bright_tether.desktop.parts.draw_at_random import DrawAtRandom

        DrawAtRandom(session, window).show_by(window.shelf.filter)

    add("Work out a column from others…", "Alt+W", work_out)
    add("Make a column at random…", "Alt+R", draw_one)

    def grid_at_hand() -> Any:
        typed = QApplication.focusWidget()
        if isinstance(typed, Grid):
            return typed
        return window.stage_of("gather").grid if in_gather() else None

    deeds = TableDeeds(session, grid_at_hand)
    for one in (*deeds.of_rows(), *deeds.of_columns(), *deeds.of_table(window.shelf)):
        if not one.words.startswith("Go to the table"):
            add(one.words, one.shortcut, one.run, one.possible)
    add("Tie a new tether on this table", "Ctrl+T", session.add_tether)

    def drop_tether() -> None:
        session.do(changes.drop_tether(session.history.study, session.tether))

    add("Let this tether go", "", drop_tether, lambda: len(session.study.tethers) > 1)
    add("Call this tether something else…", "", window.shelf.rename_tether)
    add("Filter the rows…", "Ctrl+F", window.shelf.open_filter)
    marked = lambda: bool(session.mark)  # noqa: E731
    add("Set the marked rows aside…", "Ctrl+D", lambda: _ask_aside(window), marked)
    add("Bring the marked rows back", "Ctrl+Shift+D", window.drawer.bring_back, marked)
    add("Clear the mark", "Ctrl+Shift+A", lambda: session.mark_rows(NO_ROWS), marked)
    add("Mark every row", "", lambda: session.mark_rows(session.table.row_ids))


def _add_views(window: Window) -> None:
    add, session = window.actions_list.add, window.session

    def on(step: str) -> Callable[[], bool]:
        return lambda: session.step == step

    def add_on(
        step: str,
        words: str,
        keys: str,
        run: Callable[[], object],
        offered: Callable[[], bool] = lambda: True,
    ) -> None:
        """A deed of one step, which can be called from any: it leads there first."""
        there = on(step)

        def go() -> object:
            if session.step != step:
                session.show_step(step)
            return run()

        add(words, keys, go, lambda: there() and offered(), step=step)

    for place, step in enumerate(STEPS):
        add(f"Go to the step {step.title}", f"Alt+{place + 1}", partial(session.show_step, step.id))
    add("Show or hide the rows", "Ctrl+R", window.drawer.toggle, lambda: session.step != "gather")
    add_on("line", "Move points by dragging", "Ctrl+M", lambda: window.stage_of("line").move_points.toggle())
    add_on("line", "Copy the equation", "Ctrl+E", lambda: window.stage_of("line").copy_equation())
    add(
        "Show or hide the working",
        "Ctrl+W",
        window.panel.toggle_working,
        lambda: step_of(session.step).results,
    )
    pictured = lambda: hasattr(getattr(window.step(session.step), "picture", None), "home")  # noqa: E731
    add(
        "Show everything in the picture",
        "Ctrl+0",
        lambda: window.stage_of(session.step).picture.home(),
        pictured,
    )

    def look() -> Any:
        return window.stage_of("look")

    def switch(name: str) -> None:
        look().switches[name].click()

    for name, words in (
        ("trend", "Show or hide the local trend"),
        ("straight", "Show or hide the straight line"),
        ("margins", "Show or hide the margins"),
        ("names", "Show or hide the names of points"),
        ("zero", "Keep zero in the picture, or not"),
        ("log_x", "Log scale for x, on or off"),
        ("log_y", "Log scale for y, on or off"),
        ("mutual", "Neither column explains the other: both lines, on or off"),
    ):
        add_on("look", words, "", partial(switch, name))
    add_on("look", "Titles and limits of the picture…", "Ctrl+L", lambda: look().open_view())
    add("What goes with y? Look at every column", "Ctrl+Shift+Y", window.opening.look_at_columns)
    add_on("look", "Look at x and y together", "", lambda: look().look_at(None))
    add_on("look", "Look at x by itself", "", lambda: look().look_at(session.tether.x))
    add_on("look", "Look at y by itself", "", lambda: look().look_at(session.tether.y))

    def show(step: str, view: str) -> None:
        window.stage_of(step).show_view(view)

    for step in STEPS:
        for view in step.views if len(step.views) > 1 else ():
            shown = f"{view.title[0].lower()}{view.title[1:]}"
            words = f"{step.title}: {'' if shown.endswith('?') else 'show '}{shown}"
            offered = lambda view=view: view.offered(session.findings)  # noqa: E731
            add_on(step.id, words, "", partial(show, step.id, view.id), offered)
    add_on("line", "Settings of the line…", "Ctrl+J", lambda: window.stage_of("line").open_settings())
    _add_keeping(window)
    add_on("rehearse", "Draw again, from the next seed", "", lambda: window.stage_of("rehearse").draw_again())
    add_on("rehearse", "Keep the samples as a table", "", lambda: window.stage_of("rehearse").keep_samples())
    add_on("gather", "Sums of x and y", "", lambda: window.stage_of("gather").show_sums())
    add_on("rehearse", "Stop drawing samples", "", lambda: window.stage_of("rehearse").work.stop())
    add_on("doubts", "Try the lineup", "", lambda: window.stage_of("doubts").try_lineup())
    add_on("strength", "Shuffle y against x", "", lambda: window.stage_of("strength").extra.toggle())
    add_on("strength", "Copy the working row by row", "", lambda: window.stage_of("strength").listing.copy())
    add("Change the ground rules", "Ctrl+G", window.head.rules.open)
    add("Find an action", "Ctrl+K", window.find_action)
    add("Help: this step, and the terms on the screen", "F1", window.open_help)

    def resize(by: int) -> None:
        session.tell(f"Text and pictures are shown at {change_size(by)} % from the next start on.")

    add("Larger text and pictures", "Ctrl++", partial(resize, 1))
    add("Smaller text and pictures", "Ctrl+-", partial(resize, -1))

    def about() -> None:
        from bright_tether.desktop.parts.about import About

        About(window).show_by(window.head.name)

    add("About Bright Tether: version, licence, libraries", "", about, study=True)


def _add_keeping(window: Window) -> None:
    """Pins, copies, and what the write-up can do."""
    add, session = window.actions_list.add, window.session

    def can_pin(part: Part) -> bool:
        return session.step != "write-up" and part in pinnable(session)

    for part in PARTS:
        add(f"Pin the {part} for the write-up", "Ctrl+P" if part == "reading" else "",
            partial(window.pin, part), partial(can_pin, part))  # fmt: skip
    lined = lambda: session.step != "write-up" and session.findings.refusal is None  # noqa: E731
    pictured = lambda: isinstance(getattr(window.step(session.step), "picture", None), QWidget)  # noqa: E731
    add("Copy the figures", "", lambda: _copy(window, "figures"), lined)
    add("Copy the table", "", lambda: _copy(window, "table"), lined)
    add("Copy or write the table…", "", lambda: _table_out(window), lined)
    add("Copy the picture", "Ctrl+Shift+C", lambda: _copy_picture(window), pictured)
    add("A figure of the picture for a paper…", "", lambda: _write_picture(window), pictured)
    page = lambda: session.step == "write-up"  # noqa: E731

    def up() -> Any:
        return window.stage_of("write-up")

    add("Write the account to a file…", "", lambda: up().write(), page)
    add("Hand over study, data, account and evidence…", "", lambda: up().hand_over(), page)
    add("Print the account…", "", lambda: up().print(), page)
    add("Preview the print…", "", lambda: up().preview(), page)
    add("Add a heading to the account", "", lambda: up().pins.add("heading"), page)
    add("Add a table of lines to the account…", "", lambda: up().pins.table_of_lines(), page)
    add("Add a note to the account", "", lambda: up().pins.add("note"), page)


def _copy(window: Window, part: str) -> None:
    from bright_tether.desktop.parts.copying import copy_grids

    tables = _tables_of(window, part)
    if tables:
        copy_grids(tables)
    else:
        window.session.notice(f"There is no {part} to copy here.")


def _table_out(window: Window) -> None:
    from bright_tether.desktop.parts.table_out import TableOut

    tables = _tables_of(window, "table")
    if tables:
        TableOut(tables, window.session, window).show_by(window.head.name)
    else:
        window.session.notice("There is no table to copy or write here.")


def _tables_of(window: Window, part: str) -> tuple[Any, ...]:
    """The tables of the step on the stage, or its figures as one."""
    from bright_tether.account.pieces import blocks_of
    from bright_tether.account.press import NO_PRESS
    from bright_tether.study.pins import Figures, Grid, Pin

    session = window.session
    view = getattr(window.step(session.step), "view", "")
    pin = Pin(id="copy", part=part, tether=session.tether.id, step=session.step, view=view)  # type: ignore[arg-type]
    return tuple(b for b in blocks_of(pin, session.findings, NO_PRESS) if isinstance(b, Grid | Figures))


def _copy_picture(window: Window) -> None:
    from bright_tether.desktop.parts.copying import copy_picture
    from bright_tether.pictures.output import drawing_of
    from bright_tether.pictures.pixels import image_of

    drawing = drawing_of(window.step(window.session.step).picture)
    copy_picture(image_of(drawing, 2 * drawing.width), drawing.svg)


def _write_picture(window: Window) -> None:
    from bright_tether.desktop.parts.picture_out import PictureOut

    step = window.session.step
    view = getattr(window.step(step), "view", "")
    PictureOut(window.session, step, view, window).show_by(window.head.name)


def _state_truth(window: Window) -> None:
    from bright_tether.desktop.parts.stated_truth import StatedTruth

    StatedTruth(window.session, window).show_by(window.head.name)


def _open(window: Window) -> None:
    pictures = " ".join(f"*{suffix}" for suffix in PICTURES)
    kinds = f"Everything that opens (*{SUFFIX} *.zip {_TABLES} {pictures});;All files (*)"
    names, _ = QFileDialog.getOpenFileNames(window, "Open", "", kinds)
    if names:
        window.opening.open_paths([Path(name) for name in names])


def _far(window: Window, *, folder: bool = False) -> None:
    if folder:
        name = QFileDialog.getExistingDirectory(window, "The folder of the Parquet files")
    else:
        kinds = "Tables (*.parquet *.csv *.tsv *.txt *.duckdb *.db);;All files (*)"
        name, _ = QFileDialog.getOpenFileName(window, "The table that stays where it is", "", kinds)
    if name:
        window.opening.look_at_far(Path(name))


def _save_as(window: Window) -> None:
    start = str(window.document.path or f"{window.session.study.title}{SUFFIX}")
    name, _ = QFileDialog.getSaveFileName(window, "Save the study", start, f"Study (*{SUFFIX})")
    if name:
        window.document.save(Path(name))


def _export(window: Window) -> None:
    table = window.session.table
    kinds = ";;".join(f"{suffix[1:].upper()} (*{suffix})" for suffix in SUFFIXES)
    name, _ = QFileDialog.getSaveFileName(window, "Write the table", f"{table.name}.csv", kinds)
    if name:
        write_table(window, Path(name))


def write_table(window: Window, path: Path) -> None:
    """Write the table at hand to a file; trouble is said in place."""
    session, table = window.session, window.session.table

    def take(error: Exception | None) -> None:
        if error is None:
            session.tell(f"Written: {printable(str(path))}.")
        else:
            session.notice(f"“{printable(path.name)}” could not be written: {said_of(error)}")

    session.off(lambda: export_table(table, path), take, small=session.in_place)


def _ask_aside(window: Window) -> None:
    window.drawer.show()
    window.drawer.ask_reason()
