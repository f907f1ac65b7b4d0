"""Figures for a paper: how large, in what text and colours, what stands in them, and where their ticks are."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from bright_tether.study.bounds import Positive

Colours = Literal["own", "safe", "grey"]
Placed = Literal["inside", "outside"]
#: What a step along a calendar is counted in; "" along any other axis.
StepUnit = Literal["", "seconds", "minutes", "hours", "days", "weeks", "months", "years"]
Millimetres = Annotated[float, Meta(ge=5, le=2000)]
#: What stands in a figure at first.
USUAL = ("points", "line", "band", "legend")
MM_PER_INCH = 25.4
#: Pixels of the smallest text that every picture has, the numbers of its axes; and what a point is in millimetres.
_TEXT, _POINT = 11, MM_PER_INCH / 72


class Figure(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What fits any picture.

    wide, tall : in millimetres; points : of the numbers at the axes, as printed; dpi : of pixels.
    font : a family, "" for the shipped one. line, dot : width of lines and size of points, in points, 0 as they come.
    drawn : what stands in it. minor : small ticks between two numbers. frame : whether a line goes all round.
    """

    wide: Millimetres = 85.0
    tall: Millimetres = 60.0
    points: Annotated[float, Meta(ge=2, le=72)] = 8.0
    dpi: Annotated[int, Meta(ge=10, le=4800)] = 600
    colours: Colours = "own"
    drawn: tuple[str, ...] = USUAL
    font: str = ""
    line: Annotated[float, Meta(ge=0, le=20)] = 0.0
    dot: Annotated[float, Meta(ge=0, le=40)] = 0.0
    minor: Annotated[int, Meta(ge=0, le=9)] = 0
    frame: bool = False
    legend: Placed = "inside"

    @property
    def pixel(self) -> float:
        """Millimetres of one pixel of the layout: what makes the text as large as it is wanted."""
        return self.points * _POINT / _TEXT

    def pixels(self, points: float) -> float:
        """So many points on paper, in pixels of the layout."""
        return points * _TEXT / self.points


class FigureAxis(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """One axis of one picture, in units of its column: of dates that is seconds since 1970-01-01.

    name : "" for its own; low, high : None where the picture chooses. step : between two numbers, of dates so many of
    a unit; at : the numbers by hand, which outranks the step.
    """

    name: str = ""
    low: float | None = None
    high: float | None = None
    step: Positive | None = None
    unit: StepUnit = ""
    at: tuple[float, ...] = ()


class FigureAxes(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What belongs to one picture alone. title : above it, "" for none."""

    title: str = ""
    x: FigureAxis = FigureAxis()
    y: FigureAxis = FigureAxis()


class FigureStyle(msgspec.Struct, frozen=True, kw_only=True):
    """A style under a name."""

    name: str
    figure: Figure


class FigureChoices(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What a study keeps of its figures. axes : by picture, as ``picture_key`` names it."""

    styles: tuple[FigureStyle, ...] = ()
    axes: dict[str, FigureAxes] = {}

    def with_style(self, style: FigureStyle) -> FigureChoices:
        """A style put in, in the place of one of its name."""
        names = [one.name for one in self.styles]
        if style.name in names:
            styles = tuple(style if one.name == style.name else one for one in self.styles)
        else:
            styles = (*self.styles, style)
        return msgspec.structs.replace(self, styles=styles)

    def without_style(self, name: str) -> FigureChoices:
        """A style taken out."""
        return msgspec.structs.replace(self, styles=tuple(one for one in self.styles if one.name != name))

    def with_axes(self, key: str, axes: FigureAxes) -> FigureChoices:
        """The axes of a picture; those that are as they come are not kept."""
        kept = {name: one for name, one in self.axes.items() if name != key}
        return msgspec.structs.replace(self, axes=kept if axes == FigureAxes() else kept | {key: axes})


def picture_key(tether: str, step: str, view: str) -> str:
    """What a picture is called among the axes that are kept."""
    return f"{tether}/{step}/{view}"
