"""Draws every picture for the write-up with the code of the screen, and sets pages as PDF."""

from __future__ import annotations

from collections.abc import Callable, Set

import msgspec
from PyQt6.QtCore import QBuffer, QCoreApplication, QEvent, QIODevice, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QFont, QPainter
from PyQt6.QtSvg import QSvgGenerator
from PyQt6.QtWidgets import QApplication, QGraphicsView, QWidget

from bright_tether.account.svg import clean_svg
from bright_tether.live.all_rows import all_rows
from bright_tether.live.findings import Findings
from bright_tether.live.longer import doubted
from bright_tether.pictures.board import Board
from bright_tether.pictures.density import Density
from bright_tether.pictures.dressing import dress
from bright_tether.pictures.fonts import shipped_font
from bright_tether.pictures.frame import Axis
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.sure import sure
from bright_tether.steps.catalogue import step_of
from bright_tether.study.figures import Figure, FigureAxes
from bright_tether.study.pins import Drawing
from bright_tether.study.study import Study
from bright_tether.tables.table import Table
from bright_tether.tables.writing import xml_text
from bright_tether.theme.tokens import LIGHT, Tokens
from bright_tether.words.axes import sketch_axes
from bright_tether.words.readings.unanswered import QUESTIONS

#: Width and height of a picture on the page, in pixels.
WIDE, TALL = 720, 460
#: Pixels of a small plot from which on its verdict stands beside its question.
_ROOM_FOR_BOTH = 220
#: Pixels of a picture in a document, to one on the page.
_FINE = 3

Part = tuple[QWidget, QRect]


class Sheet(msgspec.Struct, frozen=True):
    """What a picture is laid out on. tall : None for as tall as it is on the page, with all that belongs to it.

    figure : how it is dressed for a paper, None for all that a page shows; axes : of this picture.
    """

    wide: int = WIDE
    tall: int | None = None
    figure: Figure | None = None
    axes: FigureAxes | None = None


class QtPress:
    """Keeps each drawing until what it shows is another."""

    def __init__(self, font: QFont, tokens: Tokens = LIGHT, *, app: QApplication | None = None) -> None:
        """app : kept for as long as there is something to draw, where nobody else keeps it."""
        self._app = app
        self._font, self._tokens = font, tokens
        self._kept: dict[tuple[str, str, str], tuple[tuple[object, ...], Drawing | None]] = {}

    def draw(self, findings: Findings, step: str, view: str) -> Drawing | None:
        """The picture of a step, or None where there is none."""
        key, shown = self._shown(findings, step, view)
        if not self.has(findings, step, view):
            self._kept[key] = (shown, self._drawn(findings, step, view))
        return self._kept[key][1]

    def has(self, findings: Findings, step: str, view: str) -> bool:
        """Whether this picture is drawn already."""
        key, shown = self._shown(findings, step, view)
        kept = self._kept.get(key)
        return kept is not None and all(map(_same, kept[0], shown))

    def _shown(
        self, findings: Findings, step: str, view: str
    ) -> tuple[tuple[str, str, str], tuple[object, ...]]:
        """Under which name a picture is kept, and what it is made from."""
        study = findings.study
        shown = (findings.tether, study.rules, findings.table, findings.tether.compare.other and study)
        return (findings.tether.id, step, view), shown

    def pixels(self, drawing: Drawing) -> bytes:
        """A picture as PNG, fine enough for paper."""
        from bright_tether.pictures.pixels import png_of

        return png_of(drawing, _FINE * drawing.width)

    def _drawn(self, findings: Findings, step: str, view: str) -> Drawing | None:
        return drawing_on(findings, step, view, Sheet(), self._tokens, self._font)


def drawing_on(
    findings: Findings, step: str, view: str, sheet: Sheet, tokens: Tokens, font: QFont
) -> Drawing | None:
    """A step's picture laid out on a sheet, None where there is none."""
    make = _MAKERS.get(step)
    if make is None or (findings.refusal is not None and step_of(step).lined):
        return None
    parts = make(findings, view, tokens, font, sheet)
    if not parts:
        return None
    size = QSize(sheet.wide, sheet.tall or max(area.bottom() + 1 for _, area in parts))
    svg = clean_svg(as_svg(parts, size))
    named = (f"{part.accessibleName()}: {part.accessibleDescription()}".strip(": ") for part, _ in parts)
    words = "; ".join(filter(None, named))
    for part, _ in parts:
        part.deleteLater()
    title = f"{step_of(step).title}: {_title(findings, step, view)}"
    return Drawing(title=title, words=f"{title}. {words}", svg=svg, width=size.width(), height=size.height())


def _same(before: object, now: object) -> bool:
    return before is now or (not isinstance(now, Study | Table) and before == now)


def press_alone() -> QtPress:
    """A press without a window."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(["bright-tether"])
    app.setStyle("Fusion")
    font = shipped_font()
    app.setFont(font)
    return QtPress(font, app=app)


def as_svg(parts: list[Part], size: QSize) -> str:
    """Widgets painted into one SVG, each in its area."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator(QSvgGenerator.SvgVersion.Svg11)
    generator.setOutputDevice(buffer)
    generator.setSize(size)
    # axes are kept as recorded pictures, which a page of another resolution would scale
    generator.setResolution(parts[0][0].logicalDpiX())
    generator.setViewBox(QRect(0, 0, size.width(), size.height()))
    painter = QPainter(generator)
    for part, area in parts:
        paint_into(painter, part, QRectF(area))
    painter.end()
    # a name with a control character in it would make it no XML at all
    return xml_text(buffer.data().data().decode("utf-8", "replace"))


def paint_into(painter: QPainter, widget: QWidget, area: QRectF) -> None:
    """Paint a picture into an area of any page, as vectors where the page takes them."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if isinstance(widget, QGraphicsView):
        items = [item for item in widget.items() if isinstance(item, Axis | Density)]
        for item in items:
            item.on_paper(True)
        widget.render(painter, area, sure(widget.viewport()).rect())
        for item in items:
            item.on_paper(False)
    else:
        painter.translate(area.topLeft())
        painter.setFont(widget.font())
        widget.paint(painter, QRectF(0, 0, area.width(), area.height()))  # type: ignore[attr-defined]
    painter.restore()


def settled(widget: QWidget, size: QSize, looks: int) -> QWidget:
    """A picture off the screen, laid out for its size. looks : how often it is painted to find its room."""
    widget.setWindowFlags(
        Qt.WindowType.ToolTip
    )  # what is a window closes every panel that is open over another
    widget.setAttribute(Qt.WidgetAttribute.WA_DontShowOnScreen)
    widget.resize(size)
    widget.show()
    for _ in range(looks):  # axes find their room when they are first painted
        widget.grab()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest.value)
    widget.hide()
    return widget


def _title(findings: Findings, step: str, view: str) -> str:
    title = step_of(step).title_of(view)
    more = f" ({title})" if title else ""
    return f"{findings.y_column.name} against {findings.x_column.name}{more}"


def _whole(
    findings: Findings,
    widget: QWidget,
    draw: Callable[[], object],
    sheet: Sheet,
    tall: int = TALL,
    top: int = 0,
) -> Part:
    size = QSize(sheet.wide, sheet.tall or tall)
    settled(widget, size, 0)
    draw()
    if hasattr(widget, "home"):
        widget.home()
    if sheet.figure is not None and isinstance(widget, ScatterPicture | Board):
        dress(widget, findings, sheet.figure, sheet.axes or FigureAxes())
    settled(widget, size, 2)
    return widget, QRect(0, top, size.width(), size.height())


_NONE: Set[int] = frozenset()


def _look(findings: Findings, view: str, t: Tokens, font: QFont, sheet: Sheet) -> list[Part]:
    from bright_tether.pictures.scatter_view import LookPicture

    picture = LookPicture(t, font, "Scatter")
    return (
        [_whole(findings, picture, lambda: picture.draw(findings, _NONE), sheet)]
        if findings.cloud is not None
        else []
    )


def _strength(findings: Findings, view: str, t: Tokens, font: QFont, sheet: Sheet) -> list[Part]:
    from bright_tether.pictures.bent import BentPicture
    from bright_tether.pictures.planes import ComparisonsPicture, DifferencesPicture, ProductsPicture
    from bright_tether.pictures.ruler import Ruler

    ruler = Ruler(t, font)
    ruler.draw(findings)
    if sheet.figure is not None:
        ruler.dress(sheet.figure, sheet.axes or FigureAxes())
    parts: list[Part] = [(ruler, QRect(0, 0, sheet.wide, sheet.tall or ruler.sizeHint().height()))]
    kinds = {"products": ProductsPicture, "comparisons": ComparisonsPicture, "agreement": DifferencesPicture,
             "far-bent": BentPicture}  # fmt: skip
    if view in kinds:
        picture = kinds[view](t, font, step_of("strength").view(view).title)
        draw = lambda: picture.draw(findings, _NONE)  # noqa: E731
        if sheet.tall is not None:
            return [_whole(findings, picture, draw, sheet)]
        parts.append(_whole(findings, picture, draw, sheet, top=parts[0][1].bottom() + 12))
    return parts


def _line(findings: Findings, view: str, t: Tokens, font: QFont, sheet: Sheet) -> list[Part]:
    from bright_tether.pictures.all_rows import AllRowsPicture
    from bright_tether.pictures.alternatives import AlternativesPicture, FittedPicture
    from bright_tether.pictures.held import HeldPicture
    from bright_tether.pictures.line import LinePicture

    if view == "other-choices":
        return [_other_choices(findings, t, font, sheet)]
    if view == "all-rows":
        whole = AllRowsPicture(t, font, "All rows with their line")
        found = all_rows(findings).outcome
        return [_whole(findings, whole, lambda: whole.show_all(findings, found), sheet, TALL + 60)]
    kinds = {"other-lines": AlternativesPicture, "fitted": FittedPicture, "held": HeldPicture}
    picture = kinds.get(view, LinePicture)(t, font, "Line with its interval, and the residuals")
    return [_whole(findings, picture, lambda: picture.draw(findings, _NONE), sheet, TALL + 60)]


def _other_choices(findings: Findings, t: Tokens, font: QFont, sheet: Sheet) -> Part:
    from bright_tether.pictures.other_choices import OtherChoicesPicture

    picture = OtherChoicesPicture(t, font, "Every other way to make the analysis")
    found = findings.other_choices.outcome
    return _whole(findings, picture, lambda: picture.draw(findings, found), sheet, TALL + 120)


def _doubts(findings: Findings, view: str, t: Tokens, font: QFont, sheet: Sheet) -> list[Part]:
    from bright_tether.live.sketches import MODES
    from bright_tether.pictures.small import SmallPlot, Titled

    findings = doubted(findings)
    if findings.fit.exact:
        return []
    if view in QUESTIONS and sheet.figure is not None:
        return [_one_doubt(findings, view, t, font, sheet)]
    names = (view,) if view in QUESTIONS else tuple(QUESTIONS)
    across = 1 if len(names) == 1 else 3
    parts: list[Part] = []
    wide, tall = sheet.wide // across, TALL if len(names) == 1 else 210
    if sheet.tall is not None:
        tall = sheet.tall if len(names) == 1 else (sheet.tall - 8) // 2
    for at, name in enumerate(names):
        plot = SmallPlot(t, font)
        mode = MODES[name][0]
        plot.draw(findings.sketch(mode), across=sketch_axes(findings, mode)[0])
        if sheet.figure is not None:
            plot.dress(sheet.figure)
        doubt = findings.doubt(name)
        said = doubt.verdict.value if wide >= _ROOM_FOR_BOTH else ""
        titled = Titled(plot, QUESTIONS[name], said, t, font)
        titled.setAccessibleName(f"{QUESTIONS[name]} {doubt.verdict.value}")
        parts.append((titled, QRect(at % across * wide, at // across * (tall + 8), wide - 8, tall)))
    return parts


def _one_doubt(findings: Findings, name: str, t: Tokens, font: QFont, sheet: Sheet) -> Part:
    """A doubt as the step shows it when it is open: points in a frame."""
    from bright_tether.live.sketches import MODES
    from bright_tether.pictures.doubt import DoubtPicture

    mode = MODES[name][0]
    picture = DoubtPicture(t, font, f"{QUESTIONS[name]} {findings.doubt(name).verdict.value}")
    axes = sketch_axes(findings, mode)
    draw = lambda: picture.show_sketch(findings, findings.sketch(mode), axes, _NONE, (name,))  # noqa: E731
    return _whole(findings, picture, draw, sheet)


def _compare(findings: Findings, view: str, t: Tokens, font: QFont, sheet: Sheet) -> list[Part]:
    from bright_tether.pictures.compare import ComparePicture, SlopesScale
    from bright_tether.words.readings.compare import comparison_of

    if comparison_of(findings) is None:
        return []
    picture = ComparePicture(t, font, "Lines compared")
    whole = _whole(findings, picture, lambda: picture.draw(findings, _NONE), sheet)
    if sheet.tall is not None:
        return [whole]
    scale = SlopesScale(t, font)
    scale.draw(findings)
    tall = scale.sizeHint().height()
    scale.resize(sheet.wide, tall)
    return [whole, (scale, QRect(0, TALL + 8, sheet.wide, tall))]


def _forecast(findings: Findings, view: str, t: Tokens, font: QFont, sheet: Sheet) -> list[Part]:
    from bright_tether.pictures.forecast import ForecastPicture
    from bright_tether.pictures.widths import WidthsPicture

    if view == "widths":
        if findings.plain.exact:
            return []
        shown = WidthsPicture(t, font, "Intervals for one case")
        found = findings.widths_now
        return [_whole(findings, shown, lambda: shown.show_widths(findings, _NONE, found), sheet)]
    picture = ForecastPicture(t, font, "Line with both intervals")
    return [_whole(findings, picture, lambda: picture.draw(findings, _NONE), sheet)]


def _rehearse(findings: Findings, view: str, t: Tokens, font: QFont, sheet: Sheet) -> list[Part]:
    from bright_tether.pictures.planning import BrokenPicture, PlanPicture
    from bright_tether.pictures.rehearse import LuckPicture, SamplesPicture
    from bright_tether.pictures.rehearse_held import HeldSamplesPicture

    if findings.plain.exact:
        return []
    shown = step_of("rehearse").view(view)
    run = None if shown.run is None else shown.run(findings).outcome
    kinds = {
        "held": HeldSamplesPicture,
        "luck": LuckPicture,
        "assumptions": BrokenPicture,
        "pairs": PlanPicture,
    }
    picture = kinds.get(view, SamplesPicture)(t, font, shown.title)
    more = (None,) if isinstance(picture, SamplesPicture) else ()
    return [_whole(findings, picture, lambda: picture.draw(findings, run, *more), sheet, TALL + 80)]


_MAKERS: dict[str, Callable[[Findings, str, Tokens, QFont, Sheet], list[Part]]] = {
    "look": _look, "strength": _strength, "line": _line, "doubts": _doubts, "compare": _compare,
    "forecast": _forecast, "rehearse": _rehearse,
}  # fmt: skip
