"""A figure of the picture on the stage: its exact size, text and colours, seen at true size, then written."""

from __future__ import annotations

from contextlib import suppress
from functools import partial
from pathlib import Path

import msgspec
from PyQt6 import sip
from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QMenu, QSpinBox, QVBoxLayout, QWidget

from bright_tether.account.pieces import AllFindings
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.figure_fields import AxesFields, FigureFields
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.live.findings import Findings
from bright_tether.pictures.figure import KINDS, Plate, Shown, plate_of, seen, write_figure
from bright_tether.pictures.offered import offered
from bright_tether.pictures.sure import sure
from bright_tether.steps.catalogue import step_of
from bright_tether.study.figure_changes import forget_style, keep_axes, keep_style
from bright_tether.study.figures import MM_PER_INCH, Figure, FigureAxes, FigureStyle, picture_key
from bright_tether.study.journal import state_folder
from bright_tether.study.names import tether_name
from bright_tether.study.pins import Pin
from bright_tether.tables.writing import printable, put_whole

_LAST, _STYLES = "figure.json", "figure-styles.json"
#: Milliseconds after the last change until the figure is drawn anew.
_REST = 200
#: The most that the preview takes of the screen, in pixels; a larger figure is shown smaller, and that is said.
_MOST = QSize(480, 400)


class PictureOut(Popup):
    """What is chosen is seen at true size before it is written; it is remembered for the next figure."""

    def __init__(self, session: Session, step: str, view: str, parent: QWidget) -> None:
        super().__init__("A figure for a paper", parent, 970)
        self._session, self._of = session, (session.findings, step, view)
        self._all = AllFindings(session.study, session.through)
        self._plate: Plate | None = None
        #: Of other pictures, those whose long tables are worked out.
        self._ready: list[Findings] = []
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.draw)
        self.fields = FigureFields(_kept())
        self._offered = offered(step, view)
        self.axes = self._axes_fields()
        self.fields.dress(self._offered)
        self.axes.offer(self._offered.axes)
        for fields in (self.fields, self.axes):
            fields.changed.connect(partial(self._later.start, _REST))
        self.beside = button("with no other picture", lambda: None, "small", "Pictures beside this one")
        self.beside.setMenu(QMenu(self.beside))
        self._offer_panels()
        self.across = QSpinBox()
        self.across.setAccessibleName("Panels side by side")
        self.across.setRange(1, 4)
        self.across.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.across.setFixedWidth(50)
        self.across.valueChanged.connect(partial(self._later.start, _REST))
        self.style_of = choice("Style of the figure", {}, self._take_style)
        self.style_name = QLineEdit()
        self.style_name.setAccessibleName("Name of the style")
        self.style_name.setPlaceholderText("name")
        self.style_name.setFixedWidth(90)
        self._offer_styles()
        left = QVBoxLayout()
        left.setSpacing(6)
        panels, styles = QHBoxLayout(), QHBoxLayout()
        row: tuple[QWidget, ...] = (self.beside, label("side by side", "quiet"), self.across)
        for one in row:
            panels.addWidget(one)
        panels.addStretch()
        row = (self.style_of, self.style_name, button("Keep", self.keep, "small", "Keep the style"),
               button("Forget", self.forget, "small", "Forget the style"))  # fmt: skip
        for one in row:
            styles.addWidget(one)
        styles.addStretch()
        left.addLayout(styles)
        left.addWidget(self.fields)
        left.addWidget(label("This picture", "section"))
        left.addWidget(self.axes)
        left.addLayout(panels)
        left.addStretch()
        self.preview = label("", name="figure preview")
        self.preview.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.preview.setFixedSize(_MOST)
        self._said = label("", "quiet", wrap=True, name="figure says")
        self.go = button("Write to a file…", self._ask, "main", "Write the figure to a file")
        right, deeds, both = QVBoxLayout(), QHBoxLayout(), QHBoxLayout()
        deeds.addWidget(self._said, 1)
        deeds.addWidget(self.go)
        right.addWidget(self.preview, 1)
        right.addLayout(deeds)
        both.setSpacing(14)
        both.addLayout(left)
        both.addLayout(right, 1)
        self.box.addLayout(both)
        self.draw()

    @property
    def figure(self) -> Figure:
        """What is chosen."""
        return self.fields.figure

    def draw(self) -> None:
        """Lay it out and show it; what long tables need is worked out off the interface thread first."""
        self._later.stop()
        shown = self._shown()
        for findings, step, view, _ in shown:
            run = step_of(step).view(view).run
            if run is not None and findings.refusal is None and run(findings).kept is None:
                self._show(
                    None, "Nothing is drawn before it is worked out: let the run of its view end first."
                )
                return
        waiting = [
            one for one in shown[1:] if one[0].table.rows > IN_PLACE_ROWS and one[0] not in self._ready
        ]
        if waiting:
            self._show(None, "working it out…")
            self._work_out(waiting)
            return
        plate = plate_of(shown, self.figure, self.across.value())
        self._show(plate, "" if plate is not None else "This step draws no picture of these pairs.")

    def _work_out(self, waiting: list[Shown]) -> None:
        def work() -> None:
            for findings, step, view, _ in waiting:
                findings.prepare(step_of(step).all_needs(view))

        def take(_: object) -> None:
            if not sip.isdeleted(self):
                self._ready += [one[0] for one in waiting]
                self._later.start(1)

        self._session.off(work, take)

    def _show(self, plate: Plate | None, why: str) -> None:
        self._plate, figure = plate, self.figure
        self.go.setEnabled(plate is not None)
        if plate is None:
            self.preview.clear()
            self._said.setText(why)
            return
        ratio = self.devicePixelRatioF()
        image = seen(plate, figure, self.logicalDpiX() * ratio)
        true = image.width() <= _MOST.width() * ratio and image.height() <= _MOST.height() * ratio
        if not true:
            image = image.scaled(_MOST * ratio, Qt.AspectRatioMode.KeepAspectRatio,
                                 Qt.TransformationMode.SmoothTransformation)  # fmt: skip
        image.setDevicePixelRatio(ratio)
        self.preview.setPixmap(QPixmap.fromImage(image))
        dots = " × ".join(str(round(one / MM_PER_INCH * figure.dpi)) for one in (figure.wide, figure.tall))
        size = "seen at true size" if true else "seen smaller than it is"
        own = f". {self._offered.why}" if self._offered.why else ""
        self._said.setText(self.axes.trouble or f"{size}; {dots} pixels as PNG or TIFF{own}")

    def _shown(self) -> list[Shown]:
        """This picture, then those that are ticked, each with the axes that are kept of it."""
        findings, step, view = self._of
        found: list[Shown] = [(findings, step, view, self.axes.axes)]
        for action in sure(self.beside.menu()).actions():
            pin = action.data()
            if action.isChecked() and isinstance(pin, Pin) and pin.tether is not None:
                axes = self._axes_of(pin.tether, pin.step, pin.view)
                found.append((self._all.of(pin.tether), pin.step, pin.view, axes))
        return found

    def _axes_of(self, tether: str, step: str, view: str) -> FigureAxes:
        return self._session.study.figures.axes.get(picture_key(tether, step, view), FigureAxes())

    def _axes_fields(self) -> AxesFields:
        findings, step, view = self._of
        if not findings.tied:
            return AxesFields(FigureAxes(), ("x", "y"), (False, False))
        kept = self._axes_of(findings.tether.id, step, view)
        if not self._offered.of_columns:
            return AxesFields(kept, ("own", "own"), (False, False))
        x, y = findings.x_column, findings.y_column
        return AxesFields(kept, (x.name, y.name), (x.clock is not None, y.clock is not None))

    def _offer_panels(self) -> None:
        """Every pinned picture but this one can stand beside it."""
        study, menu = self._session.study, sure(self.beside.menu())
        findings, step, view = self._of
        for pin in study.pins:
            own = (pin.tether, pin.step, pin.view) == (findings.tether.id, step, view)
            if pin.part != "picture" or pin.tether is None or own:
                continue
            title = step_of(pin.step).title
            words = f"{title}: {tether_name(study, study.tether(pin.tether))}"
            action = sure(menu.addAction(words.replace("&", "&&")))
            action.setCheckable(True)
            action.setData(pin)
            action.toggled.connect(self._panels_chosen)
        if menu.isEmpty():
            self.beside.setEnabled(False)
            self.beside.setToolTip("Pin another picture, and it can stand beside this one.")

    def _panels_chosen(self, _: bool) -> None:
        many = sum(one.isChecked() for one in sure(self.beside.menu()).actions())
        words = ("with no other picture", "with one other picture")
        self.beside.setText(words[many] if many < 2 else f"with {many} other pictures")
        self._later.start(_REST)

    def _styles(self) -> dict[str, Figure]:
        """Styles by name: those of the study, and those kept for every study."""
        own = {one.name: one.figure for one in self._session.study.figures.styles}
        return {one.name: one.figure for one in _kept_styles()} | own

    def _offer_styles(self) -> None:
        self.style_of.clear()
        self.style_of.addItem("no style" if not self._styles() else "take a style…", "")
        for name in self._styles():
            self.style_of.addItem(name, name)

    def _take_style(self, name: str) -> None:
        if name:
            self.style_name.setText(name)
            self.fields.show_figure(self._styles()[name])

    def keep(self) -> None:
        """Keep the style under its name, in the study and for every other."""
        name = " ".join(self.style_name.text().split())
        if not name:
            self._said.setText("Give the style a name, then keep it.")
            return
        style = FigureStyle(name=name, figure=self.figure)
        self._session.do(keep_style(self._session.history.study, style))
        _keep(_STYLES, [*(one for one in _kept_styles() if one.name != name), style])
        self._offer_styles()
        self.style_of.setCurrentIndex(self.style_of.findData(name))
        self._said.setText(f"The style “{name}” is kept, in this study and for others.")

    def forget(self) -> None:
        """Keep the chosen style no longer."""
        name = self.style_of.currentData()
        if not name:
            self._said.setText("Choose the style that is to be forgotten.")
            return
        self._session.do(forget_style(self._session.history.study, name))
        _keep(_STYLES, [one for one in _kept_styles() if one.name != name])
        self._offer_styles()
        self._said.setText(f"The style “{name}” is kept no longer.")

    def _ask(self) -> None:
        kinds = ";;".join(f"{kind[1:].upper()} (*{kind})" for kind in KINDS)
        name, kind = QFileDialog.getSaveFileName(self, "Write the figure", "figure.svg", kinds)
        if name:
            path = Path(name)
            self.write_to(path if path.suffix else path.with_suffix(kind.rpartition("*")[2].rstrip(")")))
        self.close()

    def write_to(self, path: Path) -> None:
        """Write it; trouble is said in place. Its axes are kept with the study, the rest for the next figure."""
        if self._later.isActive():
            self.draw()
        if self._plate is None:
            return
        findings, step, view = self._of
        key = picture_key(findings.tether.id, step, view)
        self._session.do(keep_axes(self._session.history.study, key, self.axes.axes))
        _keep(_LAST, self.figure)
        try:
            write_figure(self._plate, self.figure, path)
        except (ValueError, OSError) as error:
            said = error.strerror if isinstance(error, OSError) else str(error)
            self._session.notice(f"“{path.name}” could not be written: {said}")
            return
        self._session.tell(f"Written: {printable(str(path))}.")


def _keep(name: str, value: object) -> None:
    with suppress(OSError):
        state_folder().mkdir(parents=True, exist_ok=True)
        put_whole(state_folder() / name, msgspec.json.encode(value))


def _kept() -> Figure:
    with suppress(OSError, ValueError, msgspec.MsgspecError):
        return msgspec.json.decode((state_folder() / _LAST).read_bytes(), type=Figure)
    return Figure()


def _kept_styles() -> list[FigureStyle]:
    with suppress(OSError, ValueError, msgspec.MsgspecError):
        return msgspec.json.decode((state_folder() / _STYLES).read_bytes(), type=list[FigureStyle])
    return []
