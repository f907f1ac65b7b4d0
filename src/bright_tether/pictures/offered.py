"""What can be chosen of each picture for a figure, beside its size, its text and its colours."""

from __future__ import annotations

import msgspec

from bright_tether.words.readings.unanswered import QUESTIONS

#: What may stand in a figure of points in a frame.
CHOICES = ("points", "line", "band", "residual threads", "residuals", "grid", "equation", "legend")
#: Views of Strength that draw points, rather than its ruler.
PLANES = ("products", "comparisons", "agreement", "far-bent")
#: Views whose points stand at other values than those of the tied columns.
_DERIVED = (*PLANES, "fitted", "held")
#: Of pictures that have no axes of their own to choose.
SIX = "Six pictures, each with axes of its own: open one doubt to choose its axes."


class Offered(msgspec.Struct, frozen=True, kw_only=True):
    """parts : of ``CHOICES``. line, dot : whether widths and sizes can be chosen; ticks : small ones, and a frame.

    axes : which of x and y can be chosen; why : why not all, in one sentence, "" where all can.
    of_columns : whether the axes measure the tied columns.
    """

    parts: tuple[str, ...] = CHOICES
    line: bool = True
    dot: bool = True
    ticks: bool = True
    axes: str = "xy"
    why: str = ""
    of_columns: bool = True


_WHOLE = Offered()
_OTHER_AXES = Offered(of_columns=False)
_DOUBT = Offered(parts=("points", "line", "residual threads", "grid", "legend"), of_columns=False)
_SIX = Offered(parts=("points", "line"), ticks=False, axes="", why=SIX, of_columns=False)
_RULER = Offered(parts=("band",), line=False, axes="x", of_columns=False,
                 why="A ruler has one axis, from −1 to +1 at most.")  # fmt: skip
_SAMPLES = Offered(parts=("points", "line", "band", "grid"), of_columns=False)


def offered(step: str, view: str) -> Offered:
    """What a step's picture has that can be chosen."""
    if step == "doubts":
        return _DOUBT if view in QUESTIONS else _SIX
    if step == "strength" and view not in PLANES:
        return _RULER
    if step == "rehearse" or view in ("other-choices", "all-rows"):
        return _SAMPLES
    return _OTHER_AXES if view in _DERIVED else _WHOLE
