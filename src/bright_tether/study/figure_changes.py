"""The edits of what a study keeps of its figures."""

from __future__ import annotations

from bright_tether.study.edits import ChangeFigures, Edit
from bright_tether.study.figures import FigureAxes, FigureChoices, FigureStyle
from bright_tether.study.study import Study


def keep_style(study: Study, style: FigureStyle) -> Edit | None:
    """Keep a style of figures under its name."""
    return _changed(study, study.figures.with_style(style), f"Keep the style of figures {style.name}")


def forget_style(study: Study, name: str) -> Edit | None:
    """Keep a style no longer."""
    return _changed(study, study.figures.without_style(name), f"Forget the style of figures {name}")


def keep_axes(study: Study, key: str, axes: FigureAxes) -> Edit | None:
    """Keep the axes of one picture."""
    return _changed(study, study.figures.with_axes(key, axes), "Axes of a figure")


def _changed(study: Study, after: FigureChoices, label: str) -> Edit | None:
    if after == study.figures:
        return None
    return ChangeFigures(label=label, before=study.figures, after=after)
